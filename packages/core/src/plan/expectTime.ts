// What a first render will take, before anything of its shot was rendered: judged by renders of other shots.
import type { Estimate } from '../diagnose/index.ts';
import { quantile } from '../math/index.ts';
import { SPLIT_LOBES } from '../render/index.ts';
import type { RenderSettings } from '../scene/index.ts';

/** A finished render of the whole frame, or of so many pixels of it. */
export interface PastRender {
  settings: RenderSettings;
  pixels: number;
  /** On the clock. */
  seconds: number;
}

/** Scenes differ by about so much in what a sample takes (the demo shots and the scenes of the benchmark). */
const SCENES = 3;

/** Camera samples, and what they are split into on a surface of all kinds. */
const work = (settings: RenderSettings, pixels: number) =>
  pixels * settings.pixelSamples * (1 + SPLIT_LOBES.reduce((sum, lobe) => sum + settings[`${lobe}Samples`], 0));

/** @param others renders on this machine; null where there are none */
export function expectTime(others: PastRender[], settings: RenderSettings): Estimate | null {
  const rates = others.map((past) => past.seconds / work(past.settings, past.pixels)).filter((rate) => rate > 0);
  if (rates.length === 0) return null;
  const all = work(settings, settings.width * settings.height);
  const value = all * quantile(rates, 0.5);
  return { value, low: value / SCENES, high: value * SCENES };
}
