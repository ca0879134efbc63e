// What the shadow diagnosis shows.
import { luminance } from '../../color/index.ts';
import { findChannel, planeSum, type Picture, type Region } from '../../image/index.ts';
import { penumbra, type ShotDocument } from '../../scene/index.ts';
import {
  number,
  text,
  type BarsEvidence,
  type Cell,
  type ChecklistEvidence,
  type MapEvidence,
  type PixelsEvidence,
  type TableEvidence,
} from '../evidence.ts';
import { COMPONENTS, type Component } from '../../render/index.ts';
import { groupWords } from '../noise/noiseBy.ts';
import { COMPONENT_NAMES } from '../noise/words.ts';
import { REASONS } from './blockers.ts';
import { ENDS, type ChainEnd, type LightAnswer, type LightChain } from './lightChain.ts';
import type { Facing } from './facing.ts';
import type { PlaceAndScale } from './placeAndScale.ts';
import { lightReference, SHADOW_FAULTS, stoppedBy, type ShadowCause } from './shadowCauses.ts';
import type { ShadowFall } from './shadowFalls.ts';
import type { SidesAndSurfaces } from './sidesAndSurfaces.ts';
import { lookColumns } from './looksOver.ts';
import { words } from './words.ts';

const MOST_ROWS = 24;
const MOST_LIGHTS = 10;
const MOST_FALLS = 12;
/** Answers of places that the light is kept from. */
const BLOCKED = new Set<ChainEnd>(['shadow', 'tinted']);
/** Answers that explain themselves. */
export const PLAIN_ENDS = new Set<ChainEnd>(['off', 'open', 'facesAway', 'outsideCone']);
const GROUP = 'group.';

/** Of a region, by light group, the largest first; empty where the picture keeps no groups. */
export function fillOf(picture: Picture, region: Region): { name: string; share: number }[] {
  const groups = [...new Set(picture.channels.flatMap(({ name }) => (name.startsWith(GROUP) ? [name.slice(0, name.lastIndexOf('.'))] : [])))]; // prettier-ignore
  const light = groups.map((layer) => {
    const [r, g, b] = [...'RGB'].map((c) => planeSum(picture, findChannel(picture, layer, c)?.data, region));
    return { name: groupWords(layer.slice(GROUP.length)), value: luminance(r, g, b) };
  });
  const all = light.reduce((sum, { value }) => sum + value, 0);
  return light.filter(({ value }) => value > 0).map(({ name, value }) => ({ name, share: value / all })).sort((a, b) => b.share - a.share); // prettier-ignore
}

export function fillBars(fill: { name: string; share: number }[]): BarsEvidence {
  const bars = fill.map(({ name, share }) => ({ label: name, value: share }));
  return { type: 'bars', id: 'fill', title: words.fill, source: words.fillSource, unit: 'share', bars };
}

/** A row for each answer that a light gives in the region, for the lights that matter most; what the others bring is one row. */
export function lightTable({ answers, places }: LightChain, document: ShotDocument, ids: string[]): TableEvidence {
  const all = answers.reduce((sum, { arrives }) => sum + arrives, 0);
  const share = ({ arrives }: LightAnswer) => (all > 0 ? arrives / all : 0);
  // a light that is kept away here matters as well
  const weight = (answer: LightAnswer) => share(answer) + answer.wouldShade / Math.max(1, places);
  const sorted = answers.toSorted((a, b) => weight(b) - weight(a));
  const rows = sorted.slice(0, MOST_LIGHTS).flatMap((answer) =>
    ENDS.filter((end) => answer.ends[end] > 0)
      .sort((a, b) => answer.ends[b] - answer.ends[a])
      .map((end, i): Cell[] => {
        const shaded = end === 'shadow' || end === 'tinted';
        const [blocker] = shaded ? stoppedBy(answer) : [];
        const width = penumbra(answer.light, Math.max(answer.toLight, 1e-6), answer.toBlocker);
        return [
          { type: 'link', text: answer.light.name, to: lightReference(answer) },
          i === 0 ? number(share(answer), 'share') : text(''),
          text(shaded ? words.stopped(words.ends[end], answer.depth) : words.ends[end]),
          number(answer.ends[end] / places, 'share'),
          blocker === undefined ? text('') : objectLink(document, ids[blocker]),
          shaded && Number.isFinite(width) ? number(width, 'm') : text(''),
        ];
      }),
  );
  const rest = sorted.slice(MOST_LIGHTS);
  if (rest.length > 0) rows.push([text(words.others(rest.length)), number(rest.reduce((sum, answer) => sum + share(answer), 0), 'share'), ...['', '', '', ''].map(text)]); // prettier-ignore
  return { type: 'table', id: 'lights', title: words.lights, source: `${words.chainSource(places)}; ${words.arrivalSource}`, columns: words.lightColumns, rows }; // prettier-ignore
}

/** Of a region, the light by how it came to the camera, the largest first; empty where the picture keeps no parts. */
export function waysOf(picture: Picture, region: Region): { component: Component; share: number }[] {
  const light = COMPONENTS.map((component) => {
    const [r, g, b] = [...'RGB'].map((c) => planeSum(picture, findChannel(picture, component, c)?.data, region));
    return { component, value: luminance(r, g, b) };
  });
  const all = light.reduce((sum, { value }) => sum + value, 0);
  return light.filter(({ value }) => value > 0).map(({ component, value }) => ({ component, share: value / all })).sort((a, b) => b.share - a.share); // prettier-ignore
}

export function wayBars(ways: { component: Component; share: number }[]): BarsEvidence {
  const bars = ways.map(({ component, share }) => ({ label: COMPONENT_NAMES[component], value: share, colour: component })); // prettier-ignore
  return { type: 'bars', id: 'ways', title: words.ways, source: words.waysSource, unit: 'share', bars };
}

export function fallsList(
  falls: ShadowFall[],
  { id, light }: LightAnswer,
  document: ShotDocument,
  ids: string[],
): PixelsEvidence {
  const pixels = falls.slice(0, MOST_FALLS).map(({ apart, length, object, x, y }) => ({ x, y, value: Math.round(apart), text: words.fall(document.objects[ids[object]].name, length) })); // prettier-ignore
  return { type: 'pixels', id: `falls-${id}`, title: words.falls(light.name), source: words.fallsSource, value: { label: words.apart, unit: 'px' }, pixels }; // prettier-ignore
}

export function betweenTable({ answers, places }: LightChain, document: ShotDocument, ids: string[]): TableEvidence {
  const rows = answers.flatMap(({ between, id, light }) =>
    [...between].map(([object, { passes, stops }]) => {
      const all = REASONS.reduce((sum, reason) => sum + passes[reason], 0);
      const why = REASONS.filter((reason) => passes[reason] > 0).map((reason) => words.why[reason]);
      return { rays: stops + all, cells: [objectLink(document, ids[object]), { type: 'link', text: light.name, to: { type: 'light', id, name: light.name } }, number(stops, 'count'), number(all, 'count'), text(why.join(', '))] as Cell[] }; // prettier-ignore
    }),
  );
  const shown = rows.sort((a, b) => b.rays - a.rays).slice(0, MOST_ROWS).map(({ cells }) => cells); // prettier-ignore
  return { type: 'table', id: 'between', title: words.between, source: words.chainSource(places), columns: words.betweenColumns, rows: shown }; // prettier-ignore
}

export function scaleTable(found: PlaceAndScale & Facing & SidesAndSurfaces, document: ShotDocument): TableEvidence {
  const { scaleRows } = words;
  const row = (what: keyof typeof scaleRows, value: Cell, pixels: Cell, which: Cell): Cell[] => [text(scaleRows[what]), value, pixels, which]; // prettier-ignore
  const sized = (what: 'smallest' | 'largest') => row(what, number(found[what].size, 'm'), number(found[what].pixels, 'px'), objectLink(document, found[what].id)); // prettier-ignore
  const counted = (what: 'mirrored' | 'sheared' | 'farPivots' | 'inward' | 'mixed' | 'oneSided' | 'defaultSurface') => (found[what].length === 0 ? [] : [row(what, number(found[what].length, 'count'), text(''), objectLink(document, found[what][0]))]); // prettier-ignore
  const rows = [
    row('away', number(found.away, 'm'), text(''), text('')),
    row('spacing', number(found.spacing, 'm'), number(found.spacingPixels, 'px'), text('')),
    row('median', number(found.median, 'm'), text(''), text('')),
    sized('smallest'),
    sized('largest'),
    ...counted('mirrored'),
    ...counted('sheared'),
    ...counted('farPivots'),
    ...counted('inward'),
    ...counted('mixed'),
    ...counted('oneSided'),
    ...counted('defaultSurface'),
  ];
  return {
    type: 'table',
    id: 'scale',
    title: words.scale,
    source: words.scaleSource,
    columns: words.scaleColumns,
    rows,
  };
}

/** What becomes of one light at each look: categories on the picture. */
export function lightMap({ region, step }: LightChain, { id, light, map }: LightAnswer): MapEvidence {
  const columns = lookColumns(region, step);
  const seen = ENDS.filter((_, i) => map.includes(i));
  const categories = seen.map((end, i) => ({
    label: words.ends[end],
    colour: `series${i}`,
    hatched: BLOCKED.has(end),
  }));
  return {
    type: 'map',
    id: `map-${id}`,
    title: words.map(light.name),
    source: words.chainSource(map.filter((end) => end >= 0).length),
    unit: '',
    region,
    tile: step,
    columns,
    rows: map.length / columns,
    // what needs no explanation lies lightly over the picture
    values: map.map((end) => (end < 0 ? 0 : PLAIN_ENDS.has(ENDS[end]) ? 0.2 : 0.8)),
    leading: map.map((end) => (end < 0 ? -1 : seen.indexOf(ENDS[end]))),
    categories,
  };
}

const objectLink = (document: ShotDocument, id: string): Cell => ({ type: 'link', text: document.objects[id].name, to: { type: 'object', id, name: document.objects[id].name } }); // prettier-ignore

const PASSED: Record<(typeof SHADOW_FAULTS)[number], string> = {
  flag: 'What stands between casts shadows',
  clear: 'Nothing clear lets shadow rays through',
  hole: 'Nothing between is cut out by its opacity',
  back: 'No single-sided object turns its back to this place',
  range: 'What stands between lies within the range of shadows',
  clipped: 'The camera cuts nothing off here',
  rayEnds: 'The ray distance reaches what surrounds this place',
  coplanar: 'No faces of two objects are coplanar',
  coarse: 'Flat faces face the lights where smooth normals do',
  normals: 'Normals follow the faces',
  doubled: 'No two lights stand in one place',
  lightWithout: 'The lights cast shadows',
  placeWithout: 'What is seen here receives shadows',
  mirrored: 'No light is turned away by a transform that mirrors it',
  tinted: 'Shadow colors are black',
  glow: 'Nothing glows in the darkest part',
  notLinked: 'The lights are linked to what is seen here',
  beyondReach: 'The lights reach this far',
  enclosed: 'No light stands inside of an object, or under what is seen here',
  floats: 'What throws shadows here stands on something',
  soft: 'Lights are small enough for a core of their shadows',
};

export function checksOf(chain: LightChain, causes: ShadowCause[]): ChecklistEvidence {
  return {
    type: 'checklist',
    id: 'checks',
    title: words.checks,
    source: words.chainSource(chain.places),
    checks: SHADOW_FAULTS.flatMap((fault): ChecklistEvidence['checks'] => {
      const found = causes.filter((cause) => cause.fault === fault);
      if (found.length === 0) return [{ text: PASSED[fault], state: 'passed', about: [] }];
      return found.map(({ about, text: why }) => ({ text: why, state: 'failed', about }));
    }),
  };
}
