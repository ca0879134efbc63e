// npm run bench [-- rays compile sampling renders share inlining memory exr preview noise adaptive plan sizes depths fireflies denoise glass occlusion displacement]: each line is a ratio of two things measured in one run,
// alternating, so that a noisy machine hits both. Without names everything is measured.
import { ROUNDS } from './measure.ts';
import { benchAdaptive } from './adaptive.ts';
import { benchCompile } from './compile.ts';
import { benchDenoise } from './denoise.ts';
import { benchDepths } from './depths.ts';
import { benchGlass } from './glass.ts';
import { benchInlining } from './inlining.ts';
import { benchFireflies } from './fireflies.ts';
import { benchExr } from './exr.ts';
import { benchNoise } from './noise.ts';
import { benchMemory } from './memory.ts';
import { benchDisplacement } from './displacement.ts';
import { benchOcclusion } from './occlusion.ts';
import { benchPlan } from './plan.ts';
import { benchPreview } from './preview.ts';
import { benchRays } from './rays.ts';
import { benchRenders } from './renders.ts';
import { benchSampling } from './sampling.ts';
import { benchShare } from './share.ts';
import { benchSizes } from './sizes.ts';

const PARTS: Record<string, () => Promise<void>> = {
  rays: benchRays,
  compile: benchCompile,
  sampling: benchSampling,
  renders: benchRenders,
  share: benchShare,
  inlining: benchInlining,
  memory: benchMemory,
  exr: benchExr,
  preview: benchPreview,
  noise: benchNoise,
  adaptive: benchAdaptive,
  plan: benchPlan,
  sizes: benchSizes,
  depths: benchDepths,
  fireflies: benchFireflies,
  denoise: benchDenoise,
  glass: benchGlass,
  occlusion: benchOcclusion,
  displacement: benchDisplacement,
};
const wanted = process.argv.slice(2);
const unknown = wanted.filter((name) => !(name in PARTS));
if (unknown.length > 0)
  throw new RangeError(`there is no part ${unknown.join(', ')}: ${Object.keys(PARTS).join(', ')}`);

console.log(`ratios of medians over ${ROUNDS} rounds in one run\n`);
for (const [name, part] of Object.entries(PARTS)) if (wanted.length === 0 || wanted.includes(name)) await part();
