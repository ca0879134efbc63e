import { FILM, SPLIT_LEVELS, type Film } from './film.ts';

/** By what twice the splits take less away than the doubling before, if they are independent. */
const INDEPENDENT = 1 / 2;

/**
 * What the splits of a kind bring to s^2 / n of each pixel: what more of them could take away. From what fewer of them would
 * have given (splitLevels.ts) over the whole film: the next doublings take half as much less, and half as the last ones did,
 * because what even points are good for comes first. Lamps behind a frosted pane: the doublings from 1 to 16 light samples
 * took 0.35, 0.081, 0.027 and 0.011, each 0.23, 0.33 and 0.39 of the one before.
 * @param kind one of SPLIT_KINDS
 * @param count splits of a sample, from 2
 */
export function splitShare({ data, region, stride }: Film, kind: number, count: number): Float32Array {
  const out = new Float32Array(region.width * region.height);
  const levels = SPLIT_LEVELS.map((_, level) => level).filter((level) => count > SPLIT_LEVELS[level] && count % SPLIT_LEVELS[level] === 0); // prettier-ignore
  const slot = (level: number) => FILM.splits + kind * SPLIT_LEVELS.length + level;
  const sums = levels.map((level) => out.reduce((sum, _, i) => sum + data[i * stride + slot(level)], 0));
  const last = levels[levels.length - 1];
  const [before, after] = sums.slice(-2);
  const seen = sums.length > 1 && before > after ? Math.min(INDEPENDENT, after / (before - after)) : INDEPENDENT;
  const decay = (seen + INDEPENDENT) / 2;
  // the doublings from the last level to `count` took what is known, those beyond take what is left
  const taken = decay ** Math.log2(count / SPLIT_LEVELS[last]);
  for (let i = 0; i < out.length; i++) {
    const at = i * stride;
    const n = data[at + FILM.samples] || 1;
    out[i] = ((data[at + slot(last)] / n ** 2) * taken) / (1 - taken);
  }
  return out;
}
