import { hashPair, hashUnit } from '@dusting/core/math';

/** What a round of the soak has to say: a row of docs/reliability.md each. */
export interface Figure {
  tried: string;
  times: string;
  found: string;
  /** Whether something was lost, or answered as it must not be. */
  bad: boolean;
}
export type Round = (seconds: number) => Promise<Figure[]>;

export const pause = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds));

/** Numbers that follow from a seed alone. */
export function numbers(seed: number): (below: number) => number {
  let n = 0;
  return (below) => Math.floor(hashUnit(hashPair(seed, n++)) * below);
}

/** An answer of the application, or null where it could not be had. */
export async function ask<T>(
  url: string,
  method: string,
  path: string,
  body?: object,
): Promise<{ status: number; value: T } | null> {
  const headers = { 'x-window': 'soak', ...(body && { 'content-type': 'application/json' }) };
  try {
    const signal = AbortSignal.timeout(20_000);
    const answer = await fetch(`${url}/api${path}`, { method, headers, body: body && JSON.stringify(body), signal });
    const text = await answer.text();
    return { status: answer.status, value: (text ? JSON.parse(text) : null) as T };
  } catch {
    return null;
  }
}

/** Waits until a question is answered as wished. @throws Error after some minutes, with what was waited for */
export async function until<T>(what: string, look: () => Promise<T | null | undefined | false>): Promise<T> {
  for (let i = 0; i < 600; i++) {
    const found = await look();
    if (found) return found;
    await pause(300);
  }
  throw new Error(`${what}: not within three minutes`);
}

export interface ShotState {
  edits: number;
  revision: number;
  revisions: { number: number; reason: string }[];
  proofs: { id: number; state: string; error: string | null }[];
}
export const shotOf = async (url: string, shot: number): Promise<ShotState | null> => {
  const answer = await ask<ShotState>(url, 'GET', `/shots/${shot}`);
  return answer?.status === 200 ? answer.value : null;
};
