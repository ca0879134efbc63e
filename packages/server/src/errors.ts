/** Nothing is there under that name: 404. */
export class Missing extends Error {
  // over the border of a thread an error keeps its name and message alone
  override readonly name = 'Missing';
}
/** It does not fit what is there now: 409. */
export class Conflict extends Error {}
/** The request itself is wrong: 400. */
export class BadRequest extends Error {}
/** Whoever asks may not: 401 without the token, 403 from elsewhere, 429 after too many wrong tokens. */
export class Refused extends Error {
  constructor(
    message: string,
    readonly status: 401 | 403 | 429,
  ) {
    super(message);
  }
}

/** The refusal of a window that writes over a note which it has not seen. */
export const noteConflict = (note: string): string =>
  `Another window has changed this note meanwhile. It says: ${note || '(nothing)'}`;
