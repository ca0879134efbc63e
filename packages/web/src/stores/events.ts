/**
 * Calls back for changes that the server announces; the browser connects again by itself. Returns a function that ends it.
 * @param onFull the database has no room for what was rendered; it comes again while that is so
 */
export function followEvents(
  onNotice: (notice: { type: 'proof' | 'shot' | 'diagnosis'; shot: number; proof?: number }) => void,
  onState: (connected: boolean) => void,
  onFull: () => void = () => {},
) {
  const source = new EventSource('/api/events');
  const take = (event: MessageEvent) => onNotice(JSON.parse(event.data));
  source.addEventListener('proof', take);
  source.addEventListener('shot', take);
  source.addEventListener('diagnosis', take);
  source.addEventListener('full', onFull);
  source.onopen = () => onState(true);
  source.onerror = () => onState(false);
  return () => source.close();
}
