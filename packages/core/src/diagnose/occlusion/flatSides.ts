// Sides of one body that the light does not tell apart, and the sky or the turn of it that would.
import type { CompiledScene } from '../../render/index.ts';
import type { Patch, ShotDocument } from '../../scene/index.ts';
import type { DiagnosisContext } from '../contract.ts';
import { number, text, type Cell, type CurvesEvidence, type TableEvidence } from '../evidence.ts';
import type { Effect } from '../remedy.ts';
import type { Reference } from '../reference.ts';
import { compareSkies, OVERCAST, type SideApart, type Skies } from './skies.ts';
import { findSides, type Side, type SidePair } from './sides.ts';
import type { OcclusionCause } from './occlusionCauses.ts';
import type { LayerWish } from './occlusionSketch.ts';
import { words } from './words.ts';

/** Sides are flat below the first, L*, and a sky is worth a change from the second on. Common practice, no source. */
const FLAT = 4;
const WORTH = 3;
/** Of a predicted change of contrast, what bounces and the samples of the picture leave open. No source. */
const RANGE = { part: 0.4, least: 1 };

export interface FlatSides {
  evidence: (CurvesEvidence | TableEvidence)[];
  /** The sides are flat, and a sky is known that tells them apart. */
  cause: OcclusionCause | null;
}

/** Null where no sides meet in the picture, or no sky is open for them. */
export function flatSides(
  scene: CompiledScene,
  document: ShotDocument,
  { picture, region, settings }: Pick<DiagnosisContext, 'picture' | 'region' | 'settings'>,
  layer: { wish: LayerWish; samples: number },
): FlatSides | null {
  const pairs = findSides(picture, region).filter(({ sides }) => sides.some(({ luminance: y }) => y > 0));
  const { environment } = document;
  if (pairs.length === 0 || !scene.environment) return null;
  const turnable = environment.picture !== null;
  const skies = compareSkies(scene, settings, region, pairs, {
    rotation: turnable ? environment.rotation : 0,
    turnable,
  });
  if (!skies) return null;
  const evidence: FlatSides['evidence'] = [sideTable(pairs, skies, document, scene.objectIds)];
  if (turnable) evidence.push(turnCurve(skies, environment.rotation));
  const first = nameOf(pairs[0].sides[0], document, scene.objectIds);
  const about: Reference[] = [{ type: 'object', ...first }];
  const causeOf = (after: SideApart, title: string, patch: Patch, sideEffect: string, sentence: string): OcclusionCause | null =>
    skies.now.contrast >= FLAT || after.contrast < skies.now.contrast + WORTH
      ? null
      : { fault: 'flat', title: words.causeFlat(first.name), text: words.flat(skies.now.contrast, first.name) + sentence, about, remedy: { id: 'sky', title, patch, sideEffect, effects: [effectOf(skies.now.contrast, after.contrast)], ...layer } }; // prettier-ignore
  if (skies.turned) {
    const { degrees, contrast } = skies.turned;
    return { evidence, cause: causeOf(skies.turned, words.turnSky(environment.rotation, degrees), [{ op: 'replace', path: '/environment/rotation', value: degrees }], words.otherLight, words.turned(degrees, contrast)) }; // prettier-ignore
  }
  if (environment.gradient) return { evidence, cause: null };
  const color = (by: number) => environment.color.map((c) => Number((c * by * skies.zenith).toPrecision(3)));
  const gradient = { zenith: color(OVERCAST.zenith), horizon: color(OVERCAST.horizon), ground: color(OVERCAST.ground) };
  return { evidence, cause: causeOf(skies.clouded, words.cloudSky, [{ op: 'replace', path: '/environment/gradient', value: gradient }], words.otherLight, words.clouded(skies.clouded.contrast)) }; // prettier-ignore
}

function effectOf(now: number, value: number): Effect {
  const margin = Math.max(RANGE.least, RANGE.part * Math.abs(value - now));
  return { measure: 'sideContrast', now, target: null, value, low: Math.max(0, value - margin), high: value + margin };
}

/** Objects of a picture are numbered from 1. */
function nameOf({ object }: Side, document: ShotDocument, ids: string[]) {
  const id = ids[object - 1];
  return { id, name: document.objects[id].name };
}

/** Which way it faces: up, down, or a heading as placements have it (degrees about Y, 0 along +Z). */
function facing([x, y, z]: number[]): string {
  if (Math.abs(y) > 0.9) return y > 0 ? words.up : words.down;
  return words.heading(Math.round((Math.atan2(x, z) * 180) / Math.PI));
}

function sideTable(pairs: SidePair[], skies: Skies, document: ShotDocument, ids: string[]): TableEvidence {
  const columns: SideApart[] = [skies.now, skies.plain, skies.overcast, ...(skies.turned ? [skies.turned] : [])];
  const rows = pairs.map(({ sides: [a, b] }, i): Cell[] => {
    const { id, name } = nameOf(a, document, ids);
    return [
      { type: 'link', text: name, to: { type: 'object', id, name } },
      text(words.between(facing(a.normal), facing(b.normal))),
      ...columns.map((column) => number(column.pairs[i], 'L*')),
    ];
  });
  return { type: 'table', id: 'sides', title: words.sides, source: words.sidesSource, columns: words.sideColumns(skies.turned !== null), rows }; // prettier-ignore
}

function turnCurve({ now, turned, turns }: Skies, rotation: number): CurvesEvidence {
  return {
    type: 'curves',
    id: 'turns',
    title: words.turns,
    source: words.turnsSource,
    x: { label: words.rotation, unit: 'count', scale: 'linear' },
    y: { label: words.contrast, unit: 'L*', scale: 'linear' },
    curves: [{ label: words.contrast, points: turns.map(({ contrast, degrees }): [number, number] => [degrees, contrast]) }], // prettier-ignore
    markers: [
      { axis: 'x', value: rotation, label: words.nowAt(now.contrast) },
      { axis: 'x', value: turned!.degrees, label: words.bestTurn(turned!.degrees) },
    ],
  };
}
