/**
 * Ways of sampling that a render can do without, so that tests and benchmarks can show that the mean does not depend on
 * them and what each of them pays.
 */
export interface Strategies {
  /** Lights with extent are asked for, met by rays, or both, weighed by the power heuristic (Veach 1997, 9.2). */
  lights: 'both' | 'asked' | 'met';
  /** Paths of little worth are ended by chance. */
  roulette: boolean;
  /** Points that are spread evenly; otherwise independent ones. */
  evenPoints: boolean;
}

export const STRATEGIES: Strategies = { lights: 'both', roulette: true, evenPoints: true };
