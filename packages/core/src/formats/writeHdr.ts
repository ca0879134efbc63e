// Writes Radiance HDR pictures, packed in runs: see hdr.ts for the source.

/** @param pixels linear RGB, three floats a pixel, from the top left corner; what is below 0 or not a number becomes 0 */
export function writeHdr(width: number, height: number, pixels: Float32Array): Uint8Array {
  const header = new TextEncoder().encode(`#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y ${height} +X ${width}\n`);
  const packs = width >= 8 && width < 32768;
  // a packed row is at most its four bytes a pixel and a count for every 128
  const out = new Uint8Array(header.length + height * (4 + 4 * (width + Math.ceil(width / 128))));
  out.set(header);
  let at = header.length;
  const planes = new Uint8Array(width * 4);
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = (y * width + x) * 3;
      const rgb = [0, 1, 2].map((k) => (pixels[i + k] > 0 ? Math.min(pixels[i + k], 1e38) : 0));
      const most = Math.max(...rgb);
      // mantissas of 8 bits: the largest one lies in 128..255
      const exponent = most < 1e-38 ? -128 : Math.floor(Math.log2(most)) + 1;
      const scale = exponent === -128 ? 0 : 256 / 2 ** exponent;
      rgb.forEach((v, k) => (planes[k * width + x] = Math.min(255, v * scale)));
      planes[3 * width + x] = exponent + 128;
    }
    if (!packs) {
      for (let x = 0; x < width; x++) for (let k = 0; k < 4; k++) out[at++] = planes[k * width + x];
      continue;
    }
    out.set([2, 2, width >> 8, width & 255], at);
    at += 4;
    for (let k = 0; k < 4; k++) at = packRow(planes.subarray(k * width, (k + 1) * width), out, at);
  }
  return out.slice(0, at);
}

/** Runs of three and more as 128 + count, what lies between as count and bytes. */
function packRow(row: Uint8Array, out: Uint8Array, start: number): number {
  let at = start;
  const runAt = (i: number) => {
    let n = 1;
    while (n < 127 && i + n < row.length && row[i + n] === row[i]) n++;
    return n;
  };
  for (let i = 0; i < row.length;) {
    const run = runAt(i);
    if (run >= 3) {
      out[at++] = 128 + run;
      out[at++] = row[i];
      i += run;
      continue;
    }
    let n = 0;
    while (n < 128 && i + n < row.length && runAt(i + n) < 3) n++;
    out[at++] = n;
    out.set(row.subarray(i, i + n), at);
    at += n;
    i += n;
  }
  return at;
}
