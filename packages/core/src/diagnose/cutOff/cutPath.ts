import { luminance } from '../../color/index.ts';
import type { Picture, Region } from '../../image/index.ts';
import { PathTracer, type PathVertex } from '../../render/index.ts';
import type { RenderSettings } from '../../scene/index.ts';
import type { SceneAccess } from '../contract.ts';
import type { PathsEvidence } from '../evidence.ts';
import { worstPixels } from './cutOffEvidence.ts';
import { words } from './words.ts';

const REPLAYED = 64;

/** The sample of the worst pixels that lost most light, as the tracer followed it. */
export async function pathOf(
  scene: SceneAccess,
  picture: Picture,
  region: Region,
  settings: RenderSettings,
): Promise<PathsEvidence> {
  const tracer = new PathTracer(await scene.compiled(), settings);
  const found: { x: number; y: number; sample: number; lost: number; vertices: PathVertex[] } = { x: 0, y: 0, sample: 0, lost: 0, vertices: [] }; // prettier-ignore
  for (const { x, y } of worstPixels(picture, region).slice(0, 3))
    for (let sample = 0; sample < Math.min(REPLAYED, settings.pixelSamples); sample++) {
      const vertices = tracer.replay(x, y, sample);
      const lost = vertices.flatMap((v) => v.lights).filter((l) => l.cutBy).reduce((sum, { radiance: [r, g, b] }) => sum + luminance(r, g, b), 0); // prettier-ignore
      if (lost > found.lost) Object.assign(found, { x, y, sample, lost, vertices });
    }
  const { lost, vertices, ...at } = found;
  return {
    type: 'paths',
    id: 'path',
    title: words.paths,
    source: words.pathsSource,
    paths: lost > 0 ? [{ ...at, label: words.path(at.x, at.y, at.sample, lost), vertices: branchOf(vertices) }] : [],
  };
}

/** The branch of a sample whose light was cut off most: a sample splits at its first surface. */
function branchOf(vertices: PathVertex[]): PathVertex[] {
  const key = ({ branch, split }: PathVertex) => `${branch} ${split}`;
  const lost = new Map<string, number>();
  for (const v of vertices)
    for (const {
      cutBy,
      radiance: [r, g, b],
    } of v.lights)
      if (cutBy) lost.set(key(v), (lost.get(key(v)) ?? 0) + luminance(r, g, b));
  const [most] = [...lost].sort(([, a], [, b]) => b - a);
  return vertices.filter((v) => v.branch === null || key(v) === most?.[0]);
}
