/** How much a finding matters: an error makes the picture wrong, a warning could, and a note does not. */
export const SEVERITIES = ['error', 'warning', 'note'] as const;
export type Severity = (typeof SEVERITIES)[number];

/** What a finding is about. The interface turns it into a link. */
export type Reference =
  /** Of a setting, by its path in the settings: depth.total. */
  | { type: 'setting'; path: string }
  /** Of the picture, in pixels of the frame. */
  | { type: 'pixel'; x: number; y: number };

/** One thing that the program has to say about a shot or a proof of it. */
export interface Finding {
  /** The same for the same finding of another proof. */
  id: string;
  severity: Severity;
  /** One sentence with numbers and units. */
  text: string;
  /** The same in a few words, where there is little room. */
  short: string;
  about: Reference[];
}

/** Worst first, otherwise in the order they came. */
export const worstFirst = (findings: Finding[]) =>
  findings.toSorted((a, b) => SEVERITIES.indexOf(a.severity) - SEVERITIES.indexOf(b.severity));
