/** Hands a file to the browser to be saved. */
export function saveFile(content: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(content);
  link.download = name.replace(/[^\w.+-]+/g, '_');
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}

/** Has a canvas saved as a PNG file. */
export async function saveCanvas(canvas: HTMLCanvasElement, name: string): Promise<void> {
  const blob = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
  if (!blob) throw new Error('The picture is too large to be saved as PNG: choose fewer columns.');
  saveFile(blob, name);
}
