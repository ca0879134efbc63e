// Height maps for tests: heights of places in space, painted under the UVs of a mesh.
import { encode } from 'fast-png';
import type { MeshData } from '@dusting/core/formats';
import { coveredTexels, growPadding } from '@dusting/core/shade';

/**
 * @param height of a place of the mesh, 0..1
 * @param padding texels that the paint reaches beyond the UVs; what is left is 0
 * @returns a PNG of 8 or 16 bits
 */
export function paintMap(
  { indices, positions, uvs }: MeshData,
  size: number,
  height: (x: number, y: number, z: number) => number,
  { bits = 16, padding = 16 }: { bits?: 8 | 16; padding?: number } = {},
): Uint8Array {
  const texels = new Float32Array(size * size * 4);
  const corners = Float64Array.from([...indices].flatMap((v) => [uvs![v * 2], uvs![v * 2 + 1]]));
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => {
      const v = indices[t + k];
      return { x: uvs![v * 2] * size - 0.5, y: uvs![v * 2 + 1] * size - 0.5, p: positions.subarray(v * 3, v * 3 + 3) };
    });
    const area = (b.x - a.x) * (c.y - a.y) - (c.x - a.x) * (b.y - a.y);
    if (area === 0) continue;
    for (let y = Math.ceil(Math.min(a.y, b.y, c.y)); y <= Math.max(a.y, b.y, c.y); y++)
      for (let x = Math.ceil(Math.min(a.x, b.x, c.x)); x <= Math.max(a.x, b.x, c.x); x++) {
        if (x < 0 || y < 0 || x >= size || y >= size) continue;
        const wb = ((x - a.x) * (c.y - a.y) - (c.x - a.x) * (y - a.y)) / area;
        const wc = ((b.x - a.x) * (y - a.y) - (x - a.x) * (b.y - a.y)) / area;
        if (wb < 0 || wc < 0 || wb + wc > 1) continue;
        const [px, py, pz] = [0, 1, 2].map((k) => (1 - wb - wc) * a.p[k] + wb * b.p[k] + wc * c.p[k]);
        texels.fill(height(px, py, pz), (y * size + x) * 4, (y * size + x) * 4 + 4);
      }
  }
  const grown = growPadding({ width: size, height: size, texels }, coveredTexels(corners, size, size), padding).texels;
  const most = 2 ** bits - 1;
  const values = Array.from({ length: size * size }, (_, i) => Math.round(Math.min(1, Math.max(0, grown[i * 4])) * most)); // prettier-ignore
  const data = bits === 16 ? Uint16Array.from(values) : Uint8Array.from(values);
  return encode({ width: size, height: size, data, depth: bits, channels: 1 });
}

/** A closed ring of quads, cut open in UV along two circles; the layout takes the middle of the map. @param jagged teeth of one of its borders */
export function ring(around = 24, across = 12, jagged = 0): MeshData {
  const positions: number[] = [];
  const uvs: number[] = [];
  const indices: number[] = [];
  for (let j = 0; j <= across; j++)
    for (let i = 0; i <= around; i++) {
      const [a, b] = [((i % around) / around) * 2 * Math.PI, ((j % across) / across) * 2 * Math.PI];
      const r = 0.3 + 0.12 * Math.cos(b);
      positions.push(r * Math.cos(a), r * Math.sin(a), 0.12 * Math.sin(b));
      // the border at the end of U goes in teeth; the one at its beginning is straight
      const tooth = i === around && j % 2 === 1 ? jagged : 0;
      // no border lies like the other between its texels
      uvs.push(0.1 + (0.79 * i) / around + tooth, 0.1 + (0.797 * j) / across);
    }
  for (let j = 0; j < across; j++)
    for (let i = 0; i < around; i++) {
      const a = j * (around + 1) + i;
      indices.push(a, a + 1, a + around + 2, a, a + around + 2, a + around + 1);
    }
  return { positions: Float32Array.from(positions), normals: null, uvs: Float32Array.from(uvs), indices: Uint32Array.from(indices) }; // prettier-ignore
}
