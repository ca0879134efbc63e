/** Nothing is there under that name: 404. */
export class Missing extends Error {}
/** It does not fit what is there now: 409. */
export class Conflict extends Error {}
/** The request itself is wrong: 400. */
export class BadRequest extends Error {}
