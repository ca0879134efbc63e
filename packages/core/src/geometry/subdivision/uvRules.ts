import type { UvRule } from '../../scene/index.ts';
import type { ControlMesh } from './controlMesh.ts';

/** A value follows its vertex, runs along a border, or stays where it is. */
export const VALUE = { follows: 0, border: 1, stays: 2 } as const;

/**
 * What each value does in subdivision, by its rule.
 * @param cut whether the values of both sides differ along an edge, or it has one side // 1 an edge
 * @param cornerEdges edge from each corner to the next of its face
 * @param stiff vertices that stay where they are // 1 a vertex
 * @param rim vertices on the rim of the mesh // 1 a vertex
 */
export function valueTags(
  { corners, faceStart, valueCorners, valueVertex }: ControlMesh,
  rule: UvRule,
  cut: Uint8Array,
  cornerEdges: Uint32Array,
  stiff: Uint8Array,
  rim: Uint8Array,
): Uint8Array {
  const count = valueVertex.length;
  const faces = new Uint16Array(count);
  const cuts = new Uint16Array(count);
  for (let f = 0; f + 1 < faceStart.length; f++)
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const before = c === faceStart[f] ? faceStart[f + 1] - 1 : c - 1;
      faces[valueCorners[c]]++;
      cuts[valueCorners[c]] += cut[cornerEdges[c]] + cut[cornerEdges[before]];
    }
  const vertices = corners.reduce((most, v) => Math.max(most, v + 1), 0);
  const valuesOf = new Uint16Array(vertices);
  for (const v of valueVertex) valuesOf[v]++;
  const tags = new Uint8Array(count);
  const linear = rule === 'boundaries' || rule === 'all';
  const junctions = rule === 'cornersPlus1' || rule === 'cornersPlus2';
  const darts = rule === 'cornersPlus2' || linear;
  for (let w = 0; w < count; w++) {
    const v = valueVertex[w];
    if (cuts[w] === 0) continue;
    const stays =
      linear ||
      stiff[v] === 1 ||
      cuts[w] > 2 ||
      (junctions && valuesOf[v] > 2) ||
      (darts && valuesOf[v] === 1 && rim[v] === 0) ||
      (rule !== 'none' && faces[w] === 1);
    tags[w] = stays ? VALUE.stays : VALUE.border;
  }
  if (rule === 'cornersPlus2') {
    // of two regions that meet, a corner of one is a concave corner of the other
    const stays = new Uint8Array(vertices);
    for (let w = 0; w < count; w++) if (valuesOf[valueVertex[w]] === 2 && tags[w] === VALUE.stays) stays[valueVertex[w]] = 1; // prettier-ignore
    for (let w = 0; w < count; w++) if (stays[valueVertex[w]] === 1 && cuts[w] > 0) tags[w] = VALUE.stays;
  }
  return tags;
}
