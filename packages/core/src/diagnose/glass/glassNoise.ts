// Where the noise of glass comes from: samples of some pixels are replayed, their light is sorted by its path, and each kind of path
// has the variance of its own light. Covariances are left out: shares say what leads, and not what is left without it.
import { luminance } from '../../color/index.ts';
import type { Region } from '../../image/index.ts';
import { lightnessSlope, PathTracer, pathTo, untilLight, type CompiledScene, type FoundLight, type PathVertex } from '../../render/index.ts'; // prettier-ignore
import type { RenderSettings, ShotDocument } from '../../scene/index.ts';
import { number, text, type TableEvidence } from '../evidence.ts';
import { words } from './words.ts';

/** Pixels of a region that are looked at, evenly over it, and samples of each. */
const PIXELS = 400;
const SAMPLES = 8;
/** Below it, the slope of L* is that of chance. */
const DARKEST = 0.005;

/**
 * Light that glass reflects to the camera; light or sky that is seen through it; surfaces that are seen through it; light that comes to
 * a surface through glass, or off it, without having been asked for; and the rest.
 */
export const GLASS_WAYS = ['reflected', 'through', 'behind', 'caustic', 'rest'] as const;
export type GlassWay = (typeof GLASS_WAYS)[number];

export interface GlassNoise {
  /** Share of the variance of L* by its way, 0..1. */
  shares: Record<GlassWay, number>;
  /** Variance of the luminance of single samples, mean of the pixels. */
  variance: number;
  pixels: number;
}

/** Null where samples do not differ. */
export async function glassNoise(
  scene: CompiledScene,
  document: ShotDocument,
  settings: RenderSettings,
  region: Region,
  pause: () => Promise<void>,
): Promise<GlassNoise | null> {
  const tracer = new PathTracer(scene, settings);
  const step = Math.max(1, Math.ceil(Math.sqrt((region.width * region.height) / PIXELS)));
  const isGlass = ({ surface }: PathVertex) => document.surfaces[surface].transmission_weight > 0;
  const sums = GLASS_WAYS.map(() => 0);
  let [variance, pixels] = [0, 0];
  for (let y = Math.floor(step / 2); y < region.height; y += step) {
    for (let x = Math.floor(step / 2); x < region.width; x += step) {
      const values = Array.from({ length: SAMPLES }, (_, k) => lightByWay(tracer.replay(region.x + x, region.y + y, k), isGlass)); // prettier-ignore
      const totals = values.map((by) => by.reduce((sum, v) => sum + v, 0));
      const slope = lightnessSlope(Math.max(DARKEST, totals.reduce((sum, v) => sum + v, 0) / SAMPLES));
      GLASS_WAYS.forEach((_, way) => (sums[way] += slope ** 2 * varianceOf(values.map((by) => by[way]))));
      variance += varianceOf(totals);
      pixels++;
    }
    await pause();
  }
  const all = sums.reduce((sum, v) => sum + v, 0);
  if (!(all > 0)) return null;
  const shares = Object.fromEntries(GLASS_WAYS.map((way, i) => [way, sums[i] / all])) as GlassNoise['shares'];
  return { shares, variance: variance / pixels, pixels };
}

function varianceOf(values: number[]): number {
  const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
  return values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (values.length - 1);
}

/** Luminance of one sample, by GLASS_WAYS. */
function lightByWay(vertices: PathVertex[], isGlass: (vertex: PathVertex) => boolean): number[] {
  const found = GLASS_WAYS.map(() => 0);
  vertices.forEach((vertex, at) => {
    for (const light of vertex.lights) {
      if (light.cutBy) continue;
      const [r, g, b] = light.radiance;
      found[GLASS_WAYS.indexOf(wayOf(untilLight(pathTo(vertices, at), light), light, isGlass))] += luminance(r, g, b);
    }
  });
  return found;
}

function wayOf(path: PathVertex[], { asked, lobe }: FoundLight, isGlass: (vertex: PathVertex) => boolean): GlassWay {
  if (path.length === 0) return 'rest'; // what the camera sees itself
  // the last vertex is where the light was asked for, or where the ray that met it set out
  const lobes = path.map((vertex, i) => (i === path.length - 1 && asked ? lobe : vertex.lobe));
  const spread = path.findIndex((vertex, i) => lobes[i] !== null && !isGlass(vertex));
  // beyond the first surface that is no glass, glass throws light that was not asked for
  if (spread >= 0 && !asked && path.slice(spread + 1).some((vertex, i) => isGlass(vertex) && lobes[spread + 1 + i] !== null)) return 'caustic'; // prettier-ignore
  if (!isGlass(path[0])) return 'rest';
  if (lobes[0] === 'specular') return 'reflected';
  if (lobes[0] !== 'transmission') return 'rest';
  return spread >= 0 ? 'behind' : 'through';
}

/** What answers each: the samples of its kind, or another remedy. */
export function glassNoiseTable({ pixels, shares }: GlassNoise): TableEvidence {
  const rows = GLASS_WAYS.filter((way) => shares[way] > 0)
    .sort((a, b) => shares[b] - shares[a])
    .map((way) => [text(words.ways[way]), number(shares[way], 'share'), text(words.answers[way])]);
  return { type: 'table', id: 'glassNoise', title: words.noise, source: words.noiseSource(pixels, SAMPLES), columns: words.noiseColumns, rows }; // prettier-ignore
}
