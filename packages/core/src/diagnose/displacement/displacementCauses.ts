// What is wrong with a displaced object, each with the change that would put it right.
import type { MapReader } from '../../geometry/index.ts';
import type { CompiledScene } from '../../render/index.ts';
import type { ShotDocument } from '../../scene/index.ts';
import type { Region } from '../../image/index.ts';
import { placementOf } from '../../shade/index.ts';
import type { Reference } from '../reference.ts';
import type { Remedy } from '../remedy.ts';
import { ownReader, type DisplacedObject } from './displacedObject.ts';
import { levelDetails, movementOf, sparse, type LevelDetail, type Movement } from './mapDetail.ts';
import { asStored, mapHeights, volumeOf, type MapHeights } from './mapHeights.ts';
import { junctionGaps } from './junctionGaps.ts';
import { missedHeights, type MissedHeights } from './missedHeights.ts';
import { mapSteps, type MapSteps } from './mapSteps.ts';
import { mapTiles } from './mapTiles.ts';
import { BLEND, PADDING, SEEN, seamCauses, type SeamCauses } from './seamCures.ts';
import { quantile } from '../../math/index.ts';
import { uvReading, type UvReading } from './uvReading.ts';
import { words } from './words.ts';

export const DISPLACEMENT_FAULTS = ['elsewhere', 'off', 'noUvs', 'missingTile', 'encoding', 'neutral', 'strong', 'coarse', 'steps', 'splitNormals', 'tJunction', 'tiles', 'rule', 'padding', 'filter', 'painted'] as const; // prettier-ignore
export type DisplacementFault = (typeof DISPLACEMENT_FAULTS)[number];

export interface DisplacementCause {
  id: string;
  fault: DisplacementFault;
  title: string;
  text: string;
  about: Reference[];
  /** Ids of the evidence that it rests on. */
  shownBy: string[];
  /** Null: nothing in the document puts it right. */
  cure: Pick<Remedy, 'title' | 'patch' | 'sideEffect'> | null;
  /** Of a cause along seams: gap in the widest tenth before and after, pixels. */
  gap?: { before: number; after: number; afterWorst: number };
}

/** All that was found out about one object. */
export interface ObjectReading {
  of: DisplacedObject;
  heights: MapHeights;
  levels: LevelDetail[];
  missed: MissedHeights;
  movement: Movement;
  steps: MapSteps | null;
  seams: SeamCauses;
  uvs: UvReading;
  causes: DisplacementCause[];
}

/** Detail of the map that a mesh should show, and below which it is too coarse. No source. */
const ENOUGH = 0.95;
const TOO_LITTLE = 0.85;
/** Vertices closer than this, pixels, show no more: finer levels cost and change nothing. No source. */
const FINE = 0.5;
/** Triangles of one object that a remedy asks for at most. */
const MOST_ASKED = 4_000_000;
/** Movement against the size of the object: a few hundredths are usual. Common practice, no source. */
const USUAL = 0.05;
const STRONG = 0.1;
/** Share of triangles turned over, and the tangent of slopes that 95 % of the area stays below (80 degrees). No source. */
const FOLDED = 0.01;
const STEEP = 5.7;
/** And of those that a weaker scale aims at: 60 degrees. */
const STEEP_ENOUGH = 1.7;
/** The neutral value is off by so much of the range of the map. No source. */
const OFF = 0.15;
/** Terraces are seen from this height on, pixels, where so much of the gentle slopes lies in them. No source. */
const STEP_SEEN = 0.5;
const TERRACED = 0.4;
/** Sides of a seam that are painted alike still part by what lies within a texel; this share of the movement is more. No source. */
const DIFFERENT = 0.25;
/** Blending is offered where it closes at least this share of what is open. No source. */
const BLENDS = 0.3;

export function readObject(
  of: DisplacedObject,
  scene: CompiledScene,
  document: ShotDocument,
  region: Region | null,
): ObjectReading {
  const { id, moved, object } = of;
  const { texture } = moved;
  const surface = object.surface;
  const asRead = ownReader(scene, document, moved);
  // numbers that are decoded as colours are judged as they are meant
  const isEncoded = texture.encoding === 'srgb' && !/\.(exr|hdr)$/i.test(texture.name);
  const read: MapReader = isEncoded ? asStored(asRead) : asRead;
  const heights = mapHeights(of, read);
  const levels = levelDetails(of);
  const movement = movementOf(of, read, moved.scale);
  const steps = mapSteps(of.map);
  const seams = seamCauses(of, scene, document, region);
  const about: Reference[] = [
    { type: 'object', id, name: object.name },
    { type: 'surface', id: surface, name: document.surfaces[surface].name },
    { type: 'texture', id: moved.id, name: texture.name },
  ];
  const causes: DisplacementCause[] = [];
  const add = (fault: DisplacementFault, text: string, shownBy: string[], cure: DisplacementCause['cure'], gap?: DisplacementCause['gap']) => causes.push({ id: `${fault}:${id}`, fault, title: words.cause[fault](object.name), text, about, shownBy, cure, ...(gap && { gap }) }); // prettier-ignore
  const set = (path: string, value: string | number) => [{ op: 'replace' as const, path, value }];

  const missing = missingTiles(of);
  if (missing.length > 0) add('missingTile', words.missingTile(object.name, texture.name, missing), ['checks'], null);
  if (isEncoded) add('encoding', words.encoding(texture.name), [`heights:${id}`], { title: words.remedy.linear(texture.name), patch: set(`/textures/${moved.id}/encoding`, 'linear'), sideEffect: words.side.everywhere }); // prettier-ignore

  const range = heights.high - heights.low;
  if (moved.kind === 'height' && range > 0 && Math.abs(heights.rest - moved.neutral) > OFF * range) {
    const swell = of.stretch * moved.scale * (heights.rest - moved.neutral);
    const volumes = [moved.neutral, heights.rest].map((neutral) => volumeOf(of, read, neutral));
    add('neutral', words.neutral(object.name, swell, heights, moved.neutral), [`heights:${id}`], { title: words.remedy.neutral(object.name, heights.rest), patch: set(`/surfaces/${surface}/displacement_neutral`, heights.rest), sideEffect: words.side.volume(volumes[0], volumes[1]) }); // prettier-ignore
  }
  if (movement.range > STRONG * movement.size || movement.folded > FOLDED || movement.slope > STEEP) {
    const scale = gentleScale(of, read, movement);
    const height = movement.range * Math.abs(scale / moved.scale) || 0;
    add('strong', words.strong(object.name, movement), [`scales:${id}`], { title: words.remedy.scale(object.name, scale, height), patch: set(`/surfaces/${surface}/displacement_scale`, scale), sideEffect: words.side.flatter }); // prettier-ignore
  }
  const now = levels[object.subdivisionLevels];
  const better = levels.find(({ detail, level, spacing, triangles }) => level > now.level && triangles <= MOST_ASKED && (detail >= ENOUGH || spacing <= FINE)) ?? levels.findLast(({ level, triangles }) => level > now.level && triangles <= MOST_ASKED); // prettier-ignore
  const isCoarse = now.detail < TOO_LITTLE && now.spacing > FINE && better !== undefined && better.detail - now.detail > 0.05; // prettier-ignore
  const fixed = object.edgeLength > 0 ? set(`/objects/${id}/edgeLength`, 0) : [];
  const finer = better && { title: words.remedy.level(object.name, better), patch: [...set(`/objects/${id}/subdivisionLevels`, better.level), ...fixed], sideEffect: words.side.finer(better.triangles - now.triangles) }; // prettier-ignore
  if (isCoarse) add('coarse', words.coarse(object.name, now, better), [`levels:${id}`, `coarse:${id}`], finer!);
  if (steps && moved.kind === 'height') {
    const high = (Math.abs(moved.scale) * steps.step) / quantile(sparse(of.pixels), 0.5);
    if (high > STEP_SEEN && steps.terraced > TERRACED) add('steps', words.steps(texture.name, steps, of.stretch * Math.abs(moved.scale) * steps.step, high), [`heights:${id}`], null); // prettier-ignore
  }
  const junctions = junctionGaps(of, read);
  if (junctions.gap > SEEN) add('tJunction', words.tJunction(object.name, junctions), ['checks'], null);
  seamFaults();
  const missed = missedHeights(of, read);
  return { of, heights, levels, missed, movement, steps, seams, uvs: uvReading(of), causes };

  function seamFaults(): void {
    const { byRule, cures, left, now: gaps } = seams;
    const shownBy = [`uv:${id}`, `rules:${id}`];
    if (gaps.wide <= SEEN) return;
    const tiles = mapTiles(moved, asRead);
    if (tiles && (tiles.sizes.length > 1 || tiles.recoded)) add('tiles', words.tiles(texture.name, tiles), ['checks'], null); // prettier-ignore
    // at level 0 normals that differ part what the map holds together
    const together = object.subdivisionLevels === 0 && of.base.points > new Set(of.places).size;
    if (together) {
      add('splitNormals', words.splitNormals(object.name, gaps), [`uv:${id}`], { title: words.remedy.joined(object.name), patch: set(`/objects/${id}/subdivisionLevels`, Math.max(1, isCoarse ? better.level : 1)), sideEffect: words.side.rounder }); // prettier-ignore
      return;
    }
    for (const { after, afterWorst, before, cure, state } of cures) {
      const gap = { before, after, afterWorst };
      const share = (before - after) / gaps.wide;
      if (cure === 'rule') add('rule', words.rule(object.name, object.uvRule, gaps, state.rule, byRule.find(({ rule }) => rule === state.rule)!.gaps, share), shownBy, { title: words.remedy.rule(object.name, state.rule), patch: set(`/objects/${id}/uvRule`, state.rule), sideEffect: words.side.rule }, gap); // prettier-ignore
      else if (cure === 'padding') add('padding', words.padding(texture.name, gaps, after, share), shownBy, { title: words.remedy.padding(texture.name, PADDING), patch: set(`/textures/${moved.id}/padding`, PADDING), sideEffect: words.side.padding }, gap); // prettier-ignore
      else add('filter', words.filter(texture.name, gaps, after, share), shownBy, { title: words.remedy.filter(texture.name), patch: set(`/textures/${moved.id}/filter`, 'bilinear'), sideEffect: words.side.filter }, gap); // prettier-ignore
    }
    if (left.wide > SEEN && left.worstLength > DIFFERENT * movement.range) {
      const { blended } = seams;
      const closes = blended !== null && blended.wide < (1 - BLENDS) * left.wide;
      const cure = closes ? { title: words.remedy.blend(texture.name, BLEND), patch: set(`/textures/${moved.id}/blend`, BLEND), sideEffect: words.side.blend } : null; // prettier-ignore
      add('painted', words.painted(texture.name, left), shownBy, cure, closes ? { before: left.wide, after: blended.wide, afterWorst: blended.worst } : undefined); // prettier-ignore
    }
  }
}

/** The largest scale at which an object neither folds, nor is steep, nor moves by more than is usual; two digits. */
function gentleScale(of: DisplacedObject, read: MapReader, { range, size, slope }: Movement): number {
  const { scale } = of.moved;
  let share = Math.min(1, (USUAL * size) / (range || 1));
  if (slope > STEEP) share = Math.min(share, STEEP_ENOUGH / Math.min(slope, 1e3));
  for (let i = 0; i < 12; i++) {
    const tried = movementOf(of, read, scale * share);
    if (tried.folded <= FOLDED / 4 && tried.slope <= STEEP / 2) break;
    share *= 0.75;
  }
  return Number((scale * share).toPrecision(2));
}

/** UDIM tiles that the UVs lie on and the texture lacks. */
function missingTiles({ moved: { texture }, uvs }: DisplacedObject): number[] {
  const p = placementOf(texture);
  if (texture.tiles.length === 0) return [];
  const there = new Set(texture.tiles.map(({ number }) => number));
  const missing = new Map<number, number>();
  for (let v = 0; v < uvs.length; v += 2) {
    const column = Math.max(0, Math.ceil(p[0] * uvs[v] + p[1] * uvs[v + 1] + p[2]) - 1);
    const row = Math.max(0, Math.ceil(1 - (p[3] * uvs[v] + p[4] * uvs[v + 1] + p[5])) - 1);
    const tile = 1001 + column + 10 * row;
    if (!there.has(tile)) missing.set(tile, (missing.get(tile) ?? 0) + 1);
  }
  // single vertices on a border are none
  return [...missing].filter(([, count]) => count > uvs.length / 2000).map(([tile]) => tile).sort((a, b) => a - b); // prettier-ignore
}
