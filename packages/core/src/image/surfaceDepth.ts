/** Backgrounds stand at 0, at infinity or at a huge number, metres. */
const FARTHEST = 1e10;

/** Whether a value of a depth layer is that of a surface, metres. */
export const isSurfaceDepth = (depth: number): boolean => depth > 0 && depth < FARTHEST;
