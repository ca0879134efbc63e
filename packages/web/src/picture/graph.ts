/** Pixels of a graph: the columns and rows of a waveform are counted for them. */
export const GRAPH = { width: 276, height: 120 };
