/** UTF-16 by its mark, or by the zeros that it leaves beside Latin letters. */
function encodingOf(bytes: Uint8Array): 'utf-8' | 'utf-16le' | 'utf-16be' {
  const [a, b] = bytes;
  if (a === 0xff && b === 0xfe) return 'utf-16le';
  if (a === 0xfe && b === 0xff) return 'utf-16be';
  const start = bytes.subarray(0, 64);
  const zeros = (parity: number) => start.filter((byte, i) => byte === 0 && i % 2 === parity).length;
  if (zeros(1) > start.length / 4) return 'utf-16le';
  if (zeros(0) > start.length / 4) return 'utf-16be';
  return 'utf-8';
}

/** The text of a file, in UTF-8 or UTF-16, its lines ended by \n. NUL characters, which no text needs, are left out. */
export function textOf(bytes: Uint8Array): string {
  const text = new TextDecoder(encodingOf(bytes)).decode(bytes);
  return text.replaceAll('\r\n', '\n').replaceAll('\r', '\n').replaceAll('\0', '');
}
