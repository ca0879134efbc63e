// Rays as objects that are filled again: numbers that go into a function, or come out of it, are put on the heap where the
// engine does not inline the call, and most calls of the path loop are too large for that.

export interface Direction {
  /** Unit length. */
  dx: number;
  dy: number;
  dz: number;
}
export interface Ray extends Direction {
  ox: number;
  oy: number;
  oz: number;
}
