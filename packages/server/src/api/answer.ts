import type { Response } from 'express';

/** What becomes of a type on its way through JSON, backwards: dates may stand where the page will read their text. */
export type Sent<T> = T extends string
  ? T | Date
  : T extends readonly (infer U)[]
    ? Sent<U>[]
    : T extends object
      ? { [K in keyof T]: Sent<T[K]> }
      : T;

/** Answers with a value of a type that the page knows (../answers). */
export function answer<T>(response: Response, value: Sent<T>, status = 200): void {
  response.status(status).json(value);
}
