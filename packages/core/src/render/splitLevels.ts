// What groups of splits would have given: the splits of one camera sample are taken in aligned groups of 1, 2 and 4, and
// the spread of the means of the groups about the mean of the sample is kept. A group of g splits is the same net of
// points that a render with g splits would use (sobol.ts), and no split is weighed by how many there are (directLight.ts),
// so this is, exactly and from the same samples, by how much the variance of a camera sample would grow with g splits.
//
// Taking the variance within the splits for that of independent ones (Cochran 1977, 10.3) does not do: splits are spread
// evenly, what they say about themselves was up to 1.45 times the variance that they bring, and nothing was left for
// what lies between the camera samples.
import { SPLIT_LEVELS } from './film.ts';

export class SplitLevels {
  private readonly sums = new Float64Array(SPLIT_LEVELS.length);
  private readonly squares = new Float64Array(SPLIT_LEVELS.length);
  private total = 0;
  private count = 0;

  begin(): void {
    this.sums.fill(0);
    this.squares.fill(0);
    this.total = 0;
    this.count = 0;
  }

  /** @param y luminance of the next split, as if it were the only one */
  add(y: number): void {
    const { sums, squares } = this;
    this.total += y;
    this.count++;
    for (let level = 0; level < SPLIT_LEVELS.length; level++) {
      const size = SPLIT_LEVELS[level];
      sums[level] += y;
      if (this.count % size > 0) continue;
      squares[level] += sums[level] * sums[level];
      sums[level] = 0;
    }
  }

  /** Mean square of the means of the groups about the mean of all splits; 0 where these are not several whole groups. */
  spread(level: number): number {
    const { count } = this;
    const size = SPLIT_LEVELS[level];
    if (count <= size || count % size > 0) return 0;
    return Math.max(0, this.squares[level] / (size * count) - (this.total / count) ** 2);
  }
}
