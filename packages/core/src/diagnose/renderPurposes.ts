/**
 * What renders beside proofs and trials are for. A new use is a line here.
 * `sign` begins their names; those on the shelf can be looked at by themselves, others belong to what asked for them;
 * `urgent` ones are short, somebody waits for them, and they go before proofs.
 */
export const RENDER_PURPOSES = {
  pilot: { sign: 'L', onShelf: true, urgent: true },
  sweep: { sign: 'S', onShelf: false, urgent: false },
  diagnosis: { sign: 'R', onShelf: false, urgent: true },
} as const;
export type RenderPurpose = keyof typeof RENDER_PURPOSES;

/** A proof shows the shot, a trial a change that is tried, a diagnostic render something that is to be found out. */
export const RENDER_KINDS = ['proof', 'trial', 'diagnostic'] as const;
export type RenderKind = (typeof RENDER_KINDS)[number];

/** "P3", "T1", "L2". */
export function renderName({
  kind,
  number,
  purpose,
}: {
  kind: RenderKind;
  number: number;
  purpose: RenderPurpose | null;
}) {
  return `${purpose ? RENDER_PURPOSES[purpose].sign : { proof: 'P', trial: 'T', diagnostic: 'R' }[kind]}${number}`;
}
