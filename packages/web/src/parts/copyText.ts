/** Puts text into the clipboard. Pages that came over plain http from another machine have the old way only. */
export async function copyText(text: string): Promise<void> {
  if (navigator.clipboard) return navigator.clipboard.writeText(text);
  const area = document.createElement('textarea');
  area.value = text;
  document.body.append(area);
  area.select();
  const done = document.execCommand('copy');
  area.remove();
  if (!done) throw new Error('The browser does not let this page write into the clipboard.');
}
