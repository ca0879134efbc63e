import type { Evidence } from './evidence.ts';
import type { DefectKind } from './kinds.ts';
import type { Reference } from './reference.ts';
import type { Remedy } from './remedy.ts';

/** How much a finding matters: an error makes the picture wrong, a warning could, and a note does not. */
export const SEVERITIES = ['error', 'warning', 'note'] as const;
export type Severity = (typeof SEVERITIES)[number];

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
  /** The kind of defect whose diagnosis says more. */
  kind?: DefectKind;
  evidence?: Evidence[];
  remedies?: Remedy[];
}

/** Worst first, otherwise in the order they came. */
export const worstFirst = (findings: Finding[]) =>
  findings.toSorted((a, b) => SEVERITIES.indexOf(a.severity) - SEVERITIES.indexOf(b.severity));

/** Errors and warnings. */
export const isSevere = ({ severity }: Finding) => severity !== 'note';
