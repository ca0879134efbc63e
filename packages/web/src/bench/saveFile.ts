/** Hands a file to the browser to be saved. */
export function saveFile(content: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(content);
  link.download = name.replace(/[^\w.+-]+/g, '_');
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
