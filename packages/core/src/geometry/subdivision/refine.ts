import type { ControlMesh } from './controlMesh.ts';
import { VALUE } from './uvRules.ts';

/** A mesh at one level of subdivision, with what the next needs. From the first level on, all faces have four corners. */
export interface Level extends Omit<ControlMesh, 'joined' | 'restPositions'> {
  cornerEdges: Uint32Array; // edge from each corner to the next of its face
  edgeEnds: Uint32Array; // 2 vertices an edge
  /** A corner whose edge it is. */
  edgeCorner: Uint32Array;
  /** Infinity: never smooth. */
  edgeSharpness: Float32Array;
  vertexSharpness: Float32Array;
  cut: Uint8Array; // 1 an edge: values of both sides differ, or there is one side
  tags: Uint8Array; // VALUE of each value
  /** Values do not bend along borders, or not at all. */
  straightBorders: boolean;
  linear: boolean;
  /** Some edge gets smooth at a later level. */
  fades: boolean;
}

/**
 * One step of Catmull-Clark subdivision (Catmull & Clark 1978), with creases that lose a level of sharpness at each step
 * (DeRose, Kass & Truong 1998) and face-varying values along their borders. Everything is gathered over edges and faces,
 * without lists of neighbours.
 *
 * Vertices follow in the order: one a face, one an edge, one a vertex. Values: one a face, one or two an edge, one a value.
 */
export function refine(level: Level): Level {
  const { faceStart, corners, cornerEdges, edgeEnds, edgeSharpness, positions } = level;
  const faces = faceStart.length - 1;
  const edges = edgeSharpness.length;
  const vertices = positions.length / 3;
  const childCorners = new Uint32Array(corners.length * 4);
  const childCornerEdges = new Uint32Array(corners.length * 4);
  const childEdgeEnds = new Uint32Array((edges * 2 + corners.length) * 2);
  const childEdgeCorner = new Uint32Array(edges * 2 + corners.length);
  const childSharpness = new Float32Array(edges * 2 + corners.length);
  const childCut = new Uint8Array(edges * 2 + corners.length);
  let fades = false;
  for (let e = 0; e < edges; e++) {
    const sharp = edgeSharpness[e];
    const later = sharp === Infinity ? Infinity : Math.max(0, sharp - 1);
    if (later > 0 && later < Infinity) fades = true;
    for (let half = 0; half < 2; half++) {
      childEdgeEnds[(e * 2 + half) * 2] = faces + e;
      childEdgeEnds[(e * 2 + half) * 2 + 1] = faces + edges + edgeEnds[e * 2 + half];
      childSharpness[e * 2 + half] = later;
      childCut[e * 2 + half] = level.cut[e];
    }
  }
  for (let f = 0; f < faces; f++)
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const before = c === faceStart[f] ? faceStart[f + 1] - 1 : c - 1;
      const out = cornerEdges[c];
      const back = cornerEdges[before];
      const at = c * 4;
      childCorners[at] = faces + edges + corners[c];
      childCorners[at + 1] = faces + out;
      childCorners[at + 2] = f;
      childCorners[at + 3] = faces + back;
      childCornerEdges[at] = out * 2 + (edgeEnds[out * 2] === corners[c] ? 0 : 1);
      childCornerEdges[at + 1] = edges * 2 + c;
      childCornerEdges[at + 2] = edges * 2 + before;
      childCornerEdges[at + 3] = back * 2 + (edgeEnds[back * 2] === corners[c] ? 0 : 1);
      childEdgeEnds[(edges * 2 + c) * 2] = f;
      childEdgeEnds[(edges * 2 + c) * 2 + 1] = faces + out;
      for (let k = 0; k < 4; k++) childEdgeCorner[childCornerEdges[at + k]] = at + k;
    }
  const rings = ringsOf(level);
  const vertexSharpness = new Float32Array(faces + edges + vertices);
  vertexSharpness.set(level.vertexSharpness, faces + edges);
  const childFaceStart = new Uint32Array(corners.length + 1);
  for (let i = 0; i <= corners.length; i++) childFaceStart[i] = i * 4;
  return {
    positions: refinePositions(level, rings),
    faceStart: childFaceStart,
    corners: childCorners,
    cornerEdges: childCornerEdges,
    edgeEnds: childEdgeEnds,
    edgeCorner: childEdgeCorner,
    edgeSharpness: childSharpness,
    vertexSharpness,
    cut: childCut,
    straightBorders: level.straightBorders,
    linear: level.linear,
    fades,
    ...refineValues(level, rings),
  };
}

/** Means of the corners of each face. // `width` numbers a face */
function facePoints({ faceStart }: Level, corners: Uint32Array, values: Float64Array, width: number): Float64Array {
  const faces = faceStart.length - 1;
  const points = new Float64Array(faces * width);
  for (let f = 0; f < faces; f++) {
    const size = faceStart[f + 1] - faceStart[f];
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++)
      for (let k = 0; k < width; k++) points[f * width + k] += values[corners[c] * width + k] / size;
  }
  return points;
}

/** What lies around each vertex. Sums over edges, so that no list of neighbours is needed. */
export interface Rings {
  /** Edges, those that are sharp now, and at the next level. */
  edges: Uint16Array;
  sharp: Uint16Array;
  sharpLater: Uint16Array;
  /** Sums of sharpness of edges that get smooth at the next level, and their number. */
  fading: Float32Array;
  fadingEdges: Uint16Array;
}

function ringsOf({ edgeEnds, edgeSharpness, positions }: Level): Rings {
  const vertices = positions.length / 3;
  const edges = new Uint16Array(vertices);
  const sharp = new Uint16Array(vertices);
  const sharpLater = new Uint16Array(vertices);
  const fading = new Float32Array(vertices);
  const fadingEdges = new Uint16Array(vertices);
  for (let e = 0; e < edgeSharpness.length; e++)
    for (let half = 0; half < 2; half++) {
      const v = edgeEnds[e * 2 + half];
      edges[v]++;
      const s = edgeSharpness[e];
      if (s <= 0) continue;
      sharp[v]++;
      if (s > 1) sharpLater[v]++;
      else {
        fading[v] += s;
        fadingEdges[v]++;
      }
    }
  return { edges, sharp, sharpLater, fading, fadingEdges };
}

const SMOOTH = 0;
const CREASE = 1;
const CORNER = 2;
function ruleOf(sharpEdges: number, vertexSharpness: number): number {
  if (vertexSharpness > 0 || sharpEdges > 2) return CORNER;
  return sharpEdges === 2 ? CREASE : SMOOTH;
}

/** How much of the present rule is left where edges get smooth at the next level: the mean of their sharpness. */
function shareOf(fading: number, edges: number): number {
  return edges === 0 ? 1 : Math.min(1, fading / edges);
}

/** Where a vertex goes by a rule. @param along sum of the two ends of its crease @param smooth where a smooth one would go */
function placeBy(rule: number, p: number, along: number, smooth: number): number {
  return rule === CORNER ? p : rule === CREASE ? 0.75 * p + along / 8 : smooth;
}

function refinePositions(level: Level, rings: Rings): Float64Array {
  const { faceStart, corners, cornerEdges, edgeEnds, edgeSharpness, positions, vertexSharpness } = level;
  const faces = faceStart.length - 1;
  const edges = edgeSharpness.length;
  const vertices = positions.length / 3;
  const out = new Float64Array((faces + edges + vertices) * 3);
  const points = facePoints(level, corners, positions, 3);
  out.set(points);
  const edgeAt = faces * 3;
  const vertexAt = (faces + edges) * 3;
  // edges: sums of face points first
  const aside = new Float64Array(edges * 3);
  const around = new Float64Array(vertices * 3);
  const creased = new Float64Array(vertices * 3);
  const creasedLater = level.fades ? new Float64Array(vertices * 3) : creased;
  for (let f = 0; f < faces; f++)
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++)
      for (let k = 0; k < 3; k++) {
        aside[cornerEdges[c] * 3 + k] += points[f * 3 + k];
        around[corners[c] * 3 + k] += points[f * 3 + k];
      }
  for (let e = 0; e < edges; e++) {
    const a = edgeEnds[e * 2];
    const b = edgeEnds[e * 2 + 1];
    const sharp = Math.min(1, edgeSharpness[e]);
    for (let k = 0; k < 3; k++) {
      const pa = positions[a * 3 + k];
      const pb = positions[b * 3 + k];
      const straight = (pa + pb) / 2;
      out[edgeAt + e * 3 + k] = sharp === 1 ? straight : sharp * straight + (1 - sharp) * ((pa + pb + aside[e * 3 + k]) / 4); // prettier-ignore
      around[a * 3 + k] += pb;
      around[b * 3 + k] += pa;
      if (edgeSharpness[e] <= 0) continue;
      creased[a * 3 + k] += pb;
      creased[b * 3 + k] += pa;
      if (!level.fades || edgeSharpness[e] <= 1) continue;
      creasedLater[a * 3 + k] += pb;
      creasedLater[b * 3 + k] += pa;
    }
  }
  for (let v = 0; v < vertices; v++) {
    const n = rings.edges[v];
    const now = ruleOf(rings.sharp[v], vertexSharpness[v]);
    const later = ruleOf(rings.sharpLater[v], vertexSharpness[v]);
    const share = now === later ? 1 : shareOf(rings.fading[v], rings.fadingEdges[v]);
    for (let k = 0; k < 3; k++) {
      const i = v * 3 + k;
      const p = positions[i];
      const smooth = n === 0 ? p : ((n - 2) / n) * p + around[i] / (n * n);
      const placed = placeBy(now, p, creased[i], smooth);
      // a smooth vertex has no share of what its edges fade to
      out[vertexAt + i] = now === SMOOTH || share === 1 ? placed : share * placed + (1 - share) * placeBy(later, p, creasedLater[i], smooth); // prettier-ignore
    }
  }
  return out;
}

function refineValues(
  level: Level,
  rings: Rings,
): Pick<Level, 'values' | 'width' | 'valueCorners' | 'valueVertex' | 'tags'> {
  const { corners, cornerEdges, cut, edgeCorner, edgeSharpness, faceStart, linear, tags, values, valueCorners, valueVertex, vertexSharpness, width } = level; // prettier-ignore
  const faces = faceStart.length - 1;
  const edges = edgeSharpness.length;
  // one value for an edge both sides of which agree, one for each side of the others
  const edgeValue = new Uint32Array(corners.length);
  let count = faces;
  const valueOfEdge = new Int32Array(edges).fill(-1);
  for (let c = 0; c < corners.length; c++) {
    const e = cornerEdges[c];
    if (cut[e] === 1) edgeValue[c] = count++;
    else if (valueOfEdge[e] < 0) edgeValue[c] = valueOfEdge[e] = count++;
    else edgeValue[c] = valueOfEdge[e];
  }
  const firstKept = count;
  count += valueVertex.length;
  const childCorners = new Uint32Array(corners.length * 4);
  const childVertex = new Uint32Array(count);
  const childTags = new Uint8Array(count);
  for (let f = 0; f < faces; f++) {
    childVertex[f] = f;
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const before = c === faceStart[f] ? faceStart[f + 1] - 1 : c - 1;
      childCorners[c * 4] = firstKept + valueCorners[c];
      childCorners[c * 4 + 1] = edgeValue[c];
      childCorners[c * 4 + 2] = f;
      childCorners[c * 4 + 3] = edgeValue[before];
      childVertex[edgeValue[c]] = faces + cornerEdges[c];
      if (cut[cornerEdges[c]] === 1) childTags[edgeValue[c]] = level.straightBorders ? VALUE.stays : VALUE.border;
    }
  }
  for (let w = 0; w < valueVertex.length; w++) {
    childVertex[firstKept + w] = faces + edges + valueVertex[w];
    childTags[firstKept + w] = tags[w];
  }
  const out = new Float64Array(count * width);
  const kept = { values: out, width, valueCorners: childCorners, valueVertex: childVertex, tags: childTags };
  if (width === 0) return kept;
  const points = facePoints(level, valueCorners, values, width);
  out.set(points);
  const around = new Float64Array(values.length);
  const border = new Float64Array(values.length);
  const creased = new Float64Array(values.length);
  const creasedLater = level.fades ? new Float64Array(values.length) : creased;
  // sharp edges inside of the region of a value, which hold a border in place
  const held = new Float32Array(valueVertex.length);
  const heldLater = new Uint8Array(valueVertex.length);
  const heldEdges = new Uint8Array(valueVertex.length);
  for (let f = 0; f < faces; f++)
    for (let c = faceStart[f]; c < faceStart[f + 1]; c++) {
      const next = c + 1 < faceStart[f + 1] ? c + 1 : faceStart[f];
      const e = cornerEdges[c];
      const a = valueCorners[c] * width;
      const b = valueCorners[next] * width;
      const into = edgeValue[c] * width;
      const isCut = cut[e] === 1;
      const isFirst = edgeCorner[e] === c;
      const sharp = linear || isCut ? 1 : Math.min(1, edgeSharpness[e]);
      for (let k = 0; k < width; k++) {
        around[a + k] += points[f * width + k];
        // of an edge with two sides, each brings its face point, and the first one the rest
        if (isCut) {
          out[into + k] = (values[a + k] + values[b + k]) / 2;
          border[a + k] += values[b + k];
          border[b + k] += values[a + k];
          continue;
        }
        out[into + k] += ((1 - sharp) * points[f * width + k]) / 4;
        if (!isFirst) continue;
        out[into + k] += (values[a + k] + values[b + k]) * (sharp / 2 + (1 - sharp) / 4);
        around[a + k] += values[b + k];
        around[b + k] += values[a + k];
        if (edgeSharpness[e] <= 0) continue;
        creased[a + k] += values[b + k];
        creased[b + k] += values[a + k];
        if (!level.fades || edgeSharpness[e] <= 1) continue;
        creasedLater[a + k] += values[b + k];
        creasedLater[b + k] += values[a + k];
      }
      if (isCut || !isFirst || edgeSharpness[e] <= 0) continue;
      for (const w of [valueCorners[c], valueCorners[next]]) {
        heldEdges[w]++;
        if (edgeSharpness[e] > 1) heldLater[w] = 1;
        else held[w] += edgeSharpness[e];
      }
    }
  for (let w = 0; w < valueVertex.length; w++) {
    const v = valueVertex[w];
    const n = rings.edges[v];
    const isBorder = tags[w] === VALUE.border;
    const stays = linear || tags[w] === VALUE.stays;
    const now = stays ? CORNER : isBorder ? (heldEdges[w] > 0 ? CORNER : CREASE) : ruleOf(rings.sharp[v], vertexSharpness[v]); // prettier-ignore
    const later = stays ? CORNER : isBorder ? (heldLater[w] > 0 ? CORNER : CREASE) : ruleOf(rings.sharpLater[v], vertexSharpness[v]); // prettier-ignore
    const share = now === later || now === SMOOTH ? 1 : isBorder ? shareOf(held[w], heldEdges[w]) : shareOf(rings.fading[v], rings.fadingEdges[v]); // prettier-ignore
    for (let k = 0; k < width; k++) {
      const i = w * width + k;
      const p = values[i];
      const smooth = ((n - 2) / n) * p + around[i] / (n * n);
      const placed = placeBy(now, p, isBorder ? border[i] : creased[i], smooth);
      out[firstKept * width + i] = share === 1 ? placed : share * placed + (1 - share) * placeBy(later, p, isBorder ? border[i] : creasedLater[i], smooth); // prettier-ignore
    }
  }
  return kept;
}
