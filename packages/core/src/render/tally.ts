// Counts of what the paths of a whole render did, by a number that says what they are: for questions that no sum over a
// pixel answers. They are kept where a render is asked for them (FilmExtra) and merged by adding up.

/** Rows of numbers, each under its key. Plain, so that threads can hand it on. */
export type Tally = Map<number, Float64Array>;

/** The row under a key, made where there is none. */
export function tallyRow(tally: Tally, key: number, size: number): Float64Array {
  let row = tally.get(key);
  if (!row) tally.set(key, (row = new Float64Array(size)));
  return row;
}

export function mergeTally(into: Tally, part: Tally): void {
  for (const [key, values] of part) {
    const row = tallyRow(into, key, values.length);
    for (let k = 0; k < values.length; k++) row[k] += values[k];
  }
}

/** As plain rows [key, ...values], for JSON; keys in order. */
export const tallyRows = (tally: Tally): number[][] =>
  [...tally].sort(([a], [b]) => a - b).map(([key, values]) => [key, ...values]);
