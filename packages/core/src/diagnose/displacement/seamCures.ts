// What closes the gaps along seams, tried on the mesh and the map themselves, before any render.
import type { TexturePicture } from '../../formats/index.ts';
import { uvSeamSides, type MapReader, type ShapedMesh } from '../../geometry/index.ts';
import type { Region } from '../../image/index.ts';
import { UV_RULES, type ShotDocument, type UvRule } from '../../scene/index.ts';
import { blendSeams, buildTextures, growPadding } from '../../shade/index.ts';
import { placedSides, type CompiledScene } from '../../render/index.ts';
import { plainBuffer } from '../../trace/index.ts';
import { ownReader, readerOf, withRule, type DisplacedObject } from './displacedObject.ts';
import { seamGaps, type SeamGaps } from './seamGaps.ts';

export type SeamCure = 'rule' | 'filter' | 'padding';

export interface SeamState {
  rule: UvRule;
  /** Look-ups stand for single places: no smaller level is read. */
  isNarrow: boolean;
  isPadded: boolean;
  /** Both sides are drawn towards their mean. */
  isBlended: boolean;
}
export interface SeamCauses {
  now: SeamGaps;
  byRule: { rule: UvRule; gaps: SeamGaps }[];
  /** In the order of what they close, each on top of those before it. */
  cures: { cure: SeamCure; state: SeamState; before: number; after: number; afterWorst: number }[];
  /** What is left with all of them. */
  left: SeamGaps;
  /** And with both sides of seams blended on top; null where that is not asked, or cannot be done. */
  blended: SeamGaps | null;
}

/** Texels that padding is grown by. Common practice, no source. */
export const PADDING = 16;
/** Texels from a seam within which its sides are blended. Common practice, no source. */
export const BLEND = 8;
/** A gap is seen from here on, pixels of the shot in the widest tenth of the seams. No source. */
export const SEEN = 0.5;
/** A cure counts where it closes at least this share of what is open. No source. */
const CLOSES = 0.3;

/** What parts the seams of an object: the cure that closes most is taken first, then what closes most of the rest. */
export function seamCauses(
  of: DisplacedObject,
  scene: CompiledScene,
  document: ShotDocument,
  region: Region | null,
): SeamCauses {
  const shapes = new Map<UvRule, { base: ShapedMesh; uvs: Float32Array }>([[of.object.uvRule, of]]);
  const shapeOf = (rule: UvRule) => {
    let shape = shapes.get(rule);
    if (!shape) shapes.set(rule, (shape = withRule(of, rule)));
    return shape;
  };
  const painted = of.moved.texture.tiles.length === 0 ? paddedReader(of) : null;
  const span = of.map.values.reduce((most, value) => Math.max(most, value), -Infinity) - of.map.values.reduce((least, value) => Math.min(least, value), Infinity); // prettier-ignore
  const narrow =
    (read: MapReader): MapReader =>
    (u, v, _, out) =>
      read(u, v, 0, out);
  const gapsOf = ({ isBlended, isNarrow, isPadded, rule }: SeamState) => {
    const { base, uvs } = shapeOf(rule);
    const read = isBlended ? blendedReader(of) : isPadded && painted ? painted : ownReader(scene, document, of.moved); // prettier-ignore
    // what is blended on purpose is no groove
    return seamGaps(of, base, uvs, isNarrow ? narrow(read) : read, region, isBlended ? read : painted, span);
  };
  let state: SeamState = { rule: of.object.uvRule, isNarrow: false, isPadded: false, isBlended: false };
  const now = gapsOf(state);
  const subdivided = of.object.subdivisionLevels > 0;
  const rules = subdivided ? UV_RULES : [of.object.uvRule];
  const byRule = now.places > 0 ? rules.map((rule) => ({ rule, gaps: gapsOf({ ...state, rule }) })) : [];
  const cures: SeamCauses['cures'] = [];
  let left = now;
  const { texture } = of.moved;
  while (left.wide > SEEN) {
    const open: [SeamCure, SeamState][] = [];
    // rules that close as much: the smoothest of them
    if (subdivided && !cures.some(({ cure }) => cure === 'rule')) for (const rule of UV_RULES) if (rule !== state.rule) open.push(['rule', { ...state, rule }]); // prettier-ignore
    if (!state.isPadded && texture.padding === 0 && painted) open.push(['padding', { ...state, isPadded: true }]); // prettier-ignore
    if (!state.isNarrow && texture.filter === 'mip') open.push(['filter', { ...state, isNarrow: true }]);
    let best: { cure: SeamCure; state: SeamState; gaps: SeamGaps } | null = null;
    for (const [cure, next] of open) {
      const gaps = gapsOf(next);
      if (!best || gaps.wide < 0.95 * best.gaps.wide - 1e-6) best = { cure, state: next, gaps };
    }
    if (!best || left.wide - best.gaps.wide < CLOSES * left.wide) break;
    cures.push({ cure: best.cure, state: best.state, before: left.wide, after: best.gaps.wide, afterWorst: best.gaps.worst }); // prettier-ignore
    [state, left] = [best.state, best.gaps];
  }
  const blends = left.wide > SEEN && painted !== null && texture.blend === 0;
  return { now, byRule, cures, left, blended: blends ? gapsOf({ ...state, isBlended: true }) : null };
}

/** The map with its padding grown, as the setting of the texture would make it. */
function paddedReader(of: DisplacedObject): MapReader {
  return readerOf(buildTextures([{ ref: of.moved.texture, pictures: [paddedMap(of)] }], plainBuffer), 0);
}

/** The same with both sides of its seams drawn together. */
function blendedReader(of: DisplacedObject): MapReader {
  const { mesh, moved } = of;
  const uvs = (moved.texture.uvSet === 1 ? mesh.laterUvs : mesh.uvs)!;
  const picture = blendSeams(paddedMap(of), placedSides(uvSeamSides(mesh, uvs), moved.texture), BLEND);
  return readerOf(buildTextures([{ ref: moved.texture, pictures: [picture] }], plainBuffer), 0);
}

function paddedMap({ covered, map: { height, values, width } }: DisplacedObject): TexturePicture {
  const texels = new Float32Array(values.length * 4);
  values.forEach((value, i) => texels.fill(value, i * 4, i * 4 + 4));
  return growPadding({ width, height, texels }, covered, PADDING);
}
