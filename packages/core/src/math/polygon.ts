/**
 * A point of a disc of radius 1, or of the regular polygon in it with a corner at the top, evenly by area.
 * Disc: Shirley & Chiu 1997, "A low distortion map between disk and square". Polygon: one of its triangles, by the square root.
 * @param u, v in [0, 1)
 * @param corners 0 for the disc, or at least 3
 */
export function samplePolygon(out: Float64Array, u: number, v: number, corners: number): void {
  if (corners < 3) {
    const x = 2 * u - 1;
    const y = 2 * v - 1;
    if (x === 0 && y === 0) {
      out[0] = out[1] = 0;
      return;
    }
    const wide = Math.abs(x) > Math.abs(y);
    const r = wide ? x : y;
    const angle = wide ? ((Math.PI / 4) * y) / x : Math.PI / 2 - ((Math.PI / 4) * x) / y;
    out[0] = r * Math.cos(angle);
    out[1] = r * Math.sin(angle);
    return;
  }
  const slice = Math.min(corners - 1, Math.floor(u * corners));
  const root = Math.sqrt(u * corners - slice);
  const from = Math.PI / 2 + (2 * Math.PI * slice) / corners;
  const to = from + (2 * Math.PI) / corners;
  out[0] = root * ((1 - v) * Math.cos(from) + v * Math.cos(to));
  out[1] = root * ((1 - v) * Math.sin(from) + v * Math.sin(to));
}
