/** A value with the range in which it is expected. */
export interface Estimate {
  value: number;
  low: number;
  high: number;
}
