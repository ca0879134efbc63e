// Runs a diagnosis, whatever its kind, and adds what else is known of its region and what holds for all kinds.
import { InputError } from '../formats/index.ts';
import { findChannel, intersectRegions, planeSum, type Picture, type Region } from '../image/index.ts';
import type { DiagnosisContext, DiagnosisModule, Explanation } from './contract.ts';
import { isSevere, type Finding } from './finding.ts';
import { noiseModule } from './noise/index.ts';
import { hasStatistics, readNoiseData, regionNoise } from '../predict/index.ts';
import { cutFindings } from './proofFindings.ts';
import { regionCuts } from './limits/regionCuts.ts';
import type { Measured } from './remedy.ts';

/** Layers that a diagnosis reads: its own, and those of what else is found in its region. */
export const layersOf = ({ requires }: DiagnosisModule) => new RegExp(`${requires.layers.source}|^(beauty$|cut\\.)`);
/** Layers that its effects are measured on. */
export const measuredLayersOf = ({ requires }: DiagnosisModule) =>
  new RegExp(`${requires.layers.source}|${noiseModule.requires.layers.source}`);

/** @throws InputError where what the module requires is not there */
export async function explain(module: DiagnosisModule, context: DiagnosisContext): Promise<Explanation> {
  if (module.requires.scene === 'needed' && !context.scene)
    throw new InputError(`"${module.title}" needs the scene: these are frames without one`);
  context.report(0, module.title);
  const diagnosis = await module.diagnose(context);
  context.signal.throwIfAborted();
  const others = regionFindings(context).filter(({ kind }) => kind !== module.kind);
  return { ...diagnosis, others };
}

/** What else is wrong in a region, worst first. */
function regionFindings({ picture, region, settings }: DiagnosisContext): Finding[] {
  const cuts = regionCuts(picture, region);
  return cuts ? cutFindings(cuts, settings, 'of the light here').filter(isSevere) : [];
}

/** What the measures of remedies are on a finished render, for a region. @param seconds that it took */
export function measureEffects(
  module: DiagnosisModule,
  picture: Picture,
  region: Region,
  { seconds, stops }: { seconds: number; stops: number },
): Measured {
  const shown = intersectRegions(region, picture.dataWindow);
  if (!shown) return {};
  const measured: Measured = { ...module.measure(picture, shown, stops) };
  const time = findChannel(picture, 'time', 'ms')?.data;
  const all = planeSum(picture, time, picture.dataWindow);
  if (all > 0) measured.regionTime = (seconds * planeSum(picture, time, shown)) / all;
  const { displayWindow: frame, height, width } = picture;
  if (width === frame.width && height === frame.height) measured.time = seconds;
  if (hasStatistics(picture)) {
    const data = readNoiseData(picture, shown, stops);
    measured.noise = regionNoise(data, data.beauty, stops);
  }
  return measured;
}
