// What the diagnosis of cut-off light shows: from the layers of the proof, and from the render with open limits.
import { cropPlane, type Picture, type Region } from '../../image/index.ts';
import { layerLuminance, LIMITS } from '../../render/index.ts';
import { NO_CLAMP, type RenderSettings } from '../../scene/index.ts';
import type { RenderedRegion } from '../contract.ts';
import { number, text, type Cell, type CurvesEvidence, type Evidence } from '../evidence.ts';
import { packPicture } from '../packPicture.ts';
import { tileMap } from '../tileMap.ts';
import { CLAMP_KINDS, clampableLight, clampedLight, setClamps, sum } from '../limits/clampLimits.ts';
import { CUT_OFF_DEFAULTS } from './cutOffDefaults.ts';
import { DEPTH_KINDS, lostBeyond } from '../limits/depthLimits.ts';
import { referencesOf, type LimitShare } from '../limits/limitShares.ts';
import { OPEN_RENDER } from '../limits/openRender.ts';
import { LIMIT_NAMES } from '../limits/words.ts';
import { words } from './words.ts';

const { visible } = CUT_OFF_DEFAULTS;
const MOST_PIXELS = 8;

export function curvesOf(
  { settings: { pixelSamples }, statistics }: RenderedRegion,
  { depth }: RenderSettings,
): CurvesEvidence {
  const rows = statistics.paths!.depths;
  const curves = DEPTH_KINDS.map((kind) => ({ kind, lost: lostBeyond(rows, kind) })).filter(({ lost }) => lost[0] > visible); // prettier-ignore
  // beyond the deepest limit of interest the curves lie on the axis
  const last = Math.max(8, ...curves.map(({ kind, lost }) => Math.max(depth[kind], lost.findIndex((v) => v < visible / 10)) + 1)); // prettier-ignore
  return {
    type: 'curves',
    id: 'depths',
    title: words.curves,
    source: words.curvesSource(OPEN_RENDER.depth, pixelSamples),
    x: { label: words.depthAxis, unit: 'count', scale: 'linear' },
    y: { label: words.lostAxis, unit: 'share', scale: 'linear' },
    curves: curves.map(({ kind, lost }) => ({
      label: LIMIT_NAMES[kind],
      points: Array.from({ length: last + 1 }, (_, d): [number, number] => [d, lost[d] ?? 0]),
    })),
    markers: curves.map(({ kind }) => ({ axis: 'x', value: depth[kind], label: `${kind} ${depth[kind]}` })),
  };
}

export function clampCurvesOf({ statistics }: RenderedRegion, { clamp }: RenderSettings): CurvesEvidence | null {
  const rows = statistics.paths!.clamps;
  const all = clampableLight(rows);
  const kinds = CLAMP_KINDS.filter((kind) => clamp[kind] > 0);
  if (kinds.length === 0 || all === 0) return null;
  const steps = [...new Set(rows.map(({ from }) => from))].sort((a, b) => a - b);
  const curves = kinds.map((kind) => ({
    label: `${kind} clamp`,
    points: steps.map((step): [number, number] => [step, sum(clampedLight(rows, { ...NO_CLAMP, [kind]: step })) / all]),
  }));
  return {
    type: 'curves',
    id: 'clamps',
    title: words.clamps,
    source: words.clampsSource,
    x: { label: words.clampAxis, unit: '', scale: 'log' },
    y: { label: words.lostAxis, unit: 'share', scale: 'linear' },
    curves,
    markers: kinds.map((kind) => ({ axis: 'x', value: clamp[kind], label: `${kind} ${clamp[kind]}` })),
  };
}

/** Luminance of each pixel of the region that each limit cut off, and of the picture. */
function planesOf(picture: Picture, region: Region) {
  const plane = (layer: string) => cropPlane(picture, layerLuminance(picture, layer)!, region);
  return { beauty: plane('beauty'), cut: LIMITS.map((limit) => plane(`cut.${limit}`)) };
}

export function mapOf(picture: Picture, region: Region): Evidence {
  const { beauty, cut } = planesOf(picture, region);
  const categories = LIMITS.map((limit) => ({ label: LIMIT_NAMES[limit], colour: limit }));
  return tileMap(
    region,
    { id: 'map', title: words.map, source: words.mapSource, unit: 'share', categories },
    (pixels) => {
      const over = (plane: Float32Array) => pixels.reduce((all, i) => all + plane[i], 0);
      const sums = cut.map(over);
      const all = sums.reduce((a, b) => a + b, 0);
      return {
        value: all > 0 ? all / (all + over(beauty)) : 0,
        leading: all > 0 ? sums.indexOf(Math.max(...sums)) : -1,
      };
    },
  );
}

export function tableOf(shares: LimitShare[], settings: RenderSettings, opened: RenderedRegion | null): Evidence {
  const rows = opened?.statistics.paths?.depths ?? null;
  return {
    type: 'table',
    id: 'limits',
    title: words.table,
    source: words.tableSource,
    columns: words.tableColumns,
    rows: shares.map(({ limit, cut }): Cell[] => {
      const set = limit === 'clamp' ? text(setClamps(settings.clamp).join(', ') || 'off') : number(settings.depth[limit], 'count'); // prettier-ignore
      const beyond = rows && limit !== 'clamp' ? number(lostBeyond(rows, limit)[settings.depth[limit]] ?? 0, 'share') : text('–'); // prettier-ignore
      return [{ type: 'link', text: LIMIT_NAMES[limit], to: referencesOf(limit, settings)[0] }, set, number(cut, 'share'), beyond]; // prettier-ignore
    }),
  };
}

/** Pixels that lose most, the first first. */
export function worstPixels(picture: Picture, region: Region) {
  const { cut } = planesOf(picture, region);
  const lost = cut[0].map((_, i) => cut.reduce((sum, plane) => sum + plane[i], 0));
  return [...lost.keys()]
    .filter((i) => lost[i] > 0)
    .sort((a, b) => lost[b] - lost[a])
    .slice(0, MOST_PIXELS)
    .map((i) => {
      const most = cut.reduce((best, plane, l) => (plane[i] > cut[best][i] ? l : best), 0);
      return { x: region.x + (i % region.width), y: region.y + Math.floor(i / region.width), value: lost[i], text: LIMIT_NAMES[LIMITS[most]] }; // prettier-ignore
    });
}

export const pixelsOf = (picture: Picture, region: Region): Evidence => ({
  type: 'pixels',
  id: 'pixels',
  title: words.pixels,
  source: words.pixelsSource,
  value: { label: words.pixelsValue, unit: '' },
  pixels: worstPixels(picture, region),
});

export function picturesOf(picture: Picture, opened: RenderedRegion, region: Region): Evidence {
  return {
    type: 'pictures',
    id: 'pictures',
    title: words.pictures,
    source: words.picturesSource,
    pictures: [
      { label: words.now, ...packPicture(picture, region) },
      { label: words.open, ...packPicture(opened.picture, region) },
    ],
  };
}

export function checksOf(shares: LimitShare[], settings: RenderSettings): Evidence {
  const { depth } = settings;
  return {
    type: 'checklist',
    id: 'checks',
    title: words.checks,
    source: words.checksSource,
    checks: [
      ...DEPTH_KINDS.filter((kind) => kind !== 'total').map((kind) => ({
        text: words.checkOrder(kind, depth[kind], depth.total),
        state: depth[kind] > depth.total ? ('failed' as const) : ('passed' as const),
        about: referencesOf(kind, settings),
      })),
      ...shares.filter(({ limit }) => limit !== 'clamp' || setClamps(settings.clamp).length > 0).map(({ limit, cut }) => ({
        text: words.checkCut(limit, settings, cut),
        state: cut < visible ? ('passed' as const) : ('failed' as const),
        about: referencesOf(limit, settings),
      })), // prettier-ignore
    ],
  };
}
