/** Share of the paths stopped by a limit that go on as probes. */
export const PROBE_SHARE = 1 / 8;
