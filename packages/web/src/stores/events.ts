/** Calls back for changes that the server announces; the browser connects again by itself. Returns a function that ends it. */
export function followEvents(
  onNotice: (notice: { type: 'proof' | 'shot' | 'diagnosis'; shot: number; proof?: number }) => void,
  onState: (connected: boolean) => void,
) {
  const source = new EventSource('/api/events');
  const take = (event: MessageEvent) => onNotice(JSON.parse(event.data));
  source.addEventListener('proof', take);
  source.addEventListener('shot', take);
  source.addEventListener('diagnosis', take);
  source.onopen = () => onState(true);
  source.onerror = () => onState(false);
  return () => source.close();
}
