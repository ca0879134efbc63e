// The evidence of the firefly diagnosis.
import { findChannel, cropPlane, type Picture, type Region } from '../../image/index.ts';
import { SPLIT_LOBES } from '../../render/index.ts';
import { NO_CLAMP, type ShotDocument } from '../../scene/index.ts';
import type { RenderedRegion } from '../contract.ts';
import {
  CLAMP_KINDS,
  clampableLight,
  clampedLight,
  isOfKind,
  sum,
  type Clamp,
  type ClampKind,
} from '../limits/clampLimits.ts';
import { number, text, type Evidence, type PathsEvidence } from '../evidence.ts';
import { tileMap } from '../tileMap.ts';
import { leftWith } from './clampCurve.ts';
import type { Cluster, Explained } from './clusters.ts';
import type { Firefly } from './findFireflies.ts';
import { FIREFLY_CAUSES } from './fireflyCauses.ts';
import { GROWN, growthOf, isByChance } from './guiltyPath.ts';
import { words } from './words.ts';

const MOST_PIXELS = 100;
const MOST_CLUSTERS = 10;
const MOST_PATHS = 6;

export const clusterTable = (clusters: Cluster[], explained: Explained[]): Evidence => ({
  type: 'table',
  id: 'clusters',
  title: words.clustersTitle,
  source: words.clustersSource(explained.length),
  columns: words.clusterColumns,
  rows: clusters
    .slice(0, MOST_CLUSTERS)
    .map(({ count, energy, notation, story }) => [
      story.about.length > 0
        ? { type: 'link', text: words.story(story), to: story.about[0] }
        : text(words.story(story)),
      text(notation),
      number(count, 'count'),
      number(energy, 'share'),
      text(words.cause(story.cause)),
    ]),
});

export function fireflyMap(fireflies: Firefly[], explained: Explained[], region: Region): Evidence {
  const causeAt = new Map(explained.map(({ firefly, story }) => [placeOf(firefly, region), FIREFLY_CAUSES.indexOf(story.cause)])); // prettier-ignore
  const places = new Set(fireflies.map((of) => placeOf(of, region)));
  const categories = FIREFLY_CAUSES.map((cause) => ({ label: words.cause(cause), colour: cause }));
  const shown = { id: 'map', title: words.map, source: words.mapSource, unit: 'count' as const, ...(explained.length > 0 && { categories }) }; // prettier-ignore
  return tileMap(region, shown, (pixels) => {
    const here = pixels.filter((i) => places.has(i));
    const counts = FIREFLY_CAUSES.map((_, c) => here.filter((i) => causeAt.get(i) === c).length);
    const most = Math.max(...counts);
    return { value: here.length, leading: most > 0 ? counts.indexOf(most) : -1 };
  });
}
const placeOf = ({ x, y }: Firefly, region: Region) => (y - region.y) * region.width + x - region.x;

export function fireflyPixels(fireflies: Firefly[], explained: Explained[], confirmed: boolean): Evidence {
  const stories = new Map(explained.map(({ firefly, story }) => [firefly, words.story(story)]));
  return {
    type: 'pixels',
    id: 'pixels',
    title: words.pixels,
    source: words.pixelsSource(confirmed),
    value: { label: words.pixelsValue, unit: '' },
    pixels: fireflies.slice(0, MOST_PIXELS).map((firefly) => ({
      x: firefly.x,
      y: firefly.y,
      value: firefly.luminance / Math.max(firefly.around, 1e-6),
      text: words.pixel(firefly.carriers, stories.get(firefly) ?? null),
    })),
  };
}

/** Paths of the brightest fireflies, one of each cluster first. */
export function fireflyPaths(clusters: Cluster[], explained: Explained[], { surfaces }: ShotDocument): PathsEvidence {
  const shown = [...new Set([...clusters.map(({ members }) => members[0]), ...explained])].slice(0, MOST_PATHS);
  return {
    type: 'paths',
    id: 'paths',
    title: words.paths,
    source: words.pathsSource,
    paths: shown.map(({ firefly: { sample, x, y }, path, story }) => {
      const { light, notation, step, vertices } = path;
      const at = vertices[step];
      const grown = isByChance(at) ? growthOf(at) : 0;
      const on = surfaces[at.surface]?.name ?? at.surface;
      const why = grown > GROWN ? words.grown(grown, on) : light.asked ? words.near(on, story.light) : words.chance(at.density, on, story.light); // prettier-ignore
      return { x, y, sample: sample!.index, label: words.path(x, y, sample!.index, sample!.luminance, notation), vertices, marked: { vertex: step, text: why } }; // prettier-ignore
    }),
  };
}

export function clampCurves(explained: Explained[], account: RenderedRegion, clamp: Clamp): Evidence {
  const rows = account.statistics.paths!.clamps;
  const all = clampableLight(rows);
  const steps = [...new Set(rows.map(({ from }) => from))].sort((a, b) => a - b).filter((_, i) => i % 4 === 0);
  const guilty = explained.flatMap(({ path }) => path.samples.flatMap(({ parts }) => parts));
  const of = (kind: ClampKind) => sum(guilty.filter((part) => isOfKind(part, kind)).map((part) => part.luminance * part.share)); // prettier-ignore
  // of the components, the one that most of them came by
  const [leading] = [...SPLIT_LOBES].sort((a, b) => of(b) - of(a));
  const kinds = CLAMP_KINDS.filter((kind) => clamp[kind] > 0 || ((kind === 'direct' || kind === 'indirect' || kind === leading) && of(kind) > 0)); // prettier-ignore
  return {
    type: 'curves',
    id: 'clamp',
    title: words.clamp,
    source: words.clampSource(account.settings.pixelSamples),
    x: { label: words.clampAxis, unit: '', scale: 'log' },
    y: { label: words.clampShare, unit: 'share', scale: 'linear' },
    curves: kinds.flatMap((kind) => [
      {
        label: words.clampLeft(kind),
        points: steps.map((step): [number, number] => [step, leftWith(explained, clamp, { ...clamp, [kind]: step }) / explained.length]), // prettier-ignore
      },
      {
        label: words.clampLost(kind),
        points: steps.map((step): [number, number] => [
          step,
          all > 0 ? sum(clampedLight(rows, { ...NO_CLAMP, [kind]: step })) / all : 0,
        ]),
      },
    ]),
    markers: kinds.filter((kind) => clamp[kind] > 0).map((kind) => ({ axis: 'x', value: clamp[kind], label: `${kind} ${clamp[kind]}` })), // prettier-ignore
  };
}

/** Brightest samples over the mean luminance, in steps that double. */
export function tailHistogram(picture: Picture, region: Region, mean: number): Evidence {
  const values = cropPlane(picture, findChannel(picture, 'brightest', 'Y')!.data, region).map((v) => v / (mean || 1));
  const edges = Array.from({ length: 17 }, (_, k) => 2 ** (k - 2));
  const counts = edges.slice(1).map((to, k) => values.reduce((n, v) => n + (v >= edges[k] && v < to ? 1 : 0), 0));
  const last = Math.max(1, counts.findLastIndex((n) => n > 0) + 1);
  return {
    type: 'histogram',
    id: 'tail',
    title: words.tailTitle,
    source: words.tailSource,
    x: { label: words.tailAxis, unit: '', scale: 'log' },
    counted: 'pixels',
    edges: edges.slice(0, last + 1),
    counts: counts.slice(0, last),
    markers: [],
  };
}
