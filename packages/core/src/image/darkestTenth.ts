/** Places of the tenth of some values that is lowest, at least one, lowest first. */
export function darkestTenth(values: ArrayLike<number>): number[] {
  const order = Array.from(values, (_, i) => i).sort((a, b) => values[a] - values[b]);
  return order.slice(0, Math.max(1, Math.round(0.1 * order.length)));
}
