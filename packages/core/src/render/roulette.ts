// Russian roulette (Arvo & Kirk 1990, "Particle Transport and Image Synthesis"): which paths are worth following.
//
// A path is ended by chance where little of its light would reach the picture, and what survives is worth no more than
// 1 / KEEP. The chance was the throughput itself, from the fourth event on. That followed the faint reflection of every matt
// surface for three events in full, and what survived later stood at a throughput of 1, as a firefly does.
//
// Rays of paths a sample, and variance over squared brightness (mean without the highest hundredth of the pixels), 160 x 90 pixels, 16
// samples, of LH-010; of LH-030:
//   throughput, from event 4             12.0, 1.12; 15.9, 0.92
//   throughput, from event 2              9.5, 1.44;  9.7, 1.31
//   4 times it, from event 1             10.5, 1.11;  9.3, 0.93
//   8 times it, from event 1             11.5, 0.99; 10.8, 0.89
//   16 times it, from event 1            12.9, 0.95; 13.0, 0.88
//   twice its root, from event 1         11.0, 1.03; 10.6, 0.90
//   8 times it, from event 4 on twice    10.7, 1.07; 10.1, 0.91   (now)
// Late events get less, since most of them can bring light to the counts of the depth limits alone: with 8 throughout, a closed room
// of matt balls took 4 % more rays for the same variance. Leaving out what media absorb changed nothing.
//
// The factor 1 / eta^2 of refraction is left out, since it comes back on the way out. With it, paths inside glass were ended at
// less than half of their worth: LH-010 with open limits, 3.55 L* of noise instead of 2.72, at 0.90 of the rays (200 x 112 pixels,
// 16 samples, the throughput from event 4).

/** A path whose throughput is above 1 / KEEP is never ended: before event LATE, and from there on. */
const KEEP = 8;
const KEEP_LATE = 2;
const LATE = 4;

/**
 * Chance that a path goes on, 0..1.
 * @param throughput RGB, of the path so far; etaScale: undoes what refraction did to it; events: number of them so far
 */
export function survivalChance(throughput: Float64Array, etaScale: number, events: number): number {
  const brightest = Math.max(throughput[0], throughput[1], throughput[2]);
  return Math.min(1, (events < LATE ? KEEP : KEEP_LATE) * etaScale * brightest);
}
