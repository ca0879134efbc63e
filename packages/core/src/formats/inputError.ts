/** Input that cannot be read or used: what is wrong, at which place, and what to do. Shown to people as it stands. */
export class InputError extends Error {
  constructor(
    message: string,
    /** File, and the place inside it, such as "jars.glb, images/2 (label)". */
    readonly place: string = '',
  ) {
    super(message);
    this.name = 'InputError';
  }
  get sentence(): string {
    return this.place ? `${this.place}: ${this.message}` : this.message;
  }
}

/** Largest picture that is read or rendered: 16384 pixels a side and 2^27 (134 million) in all. */
export const PICTURE_LIMIT = { side: 16384, pixels: 2 ** 27 };

export function checkPictureSize(width: number, height: number, place: string): void {
  if (!(width >= 1 && height >= 1))
    throw new InputError(`a picture of ${width} x ${height} pixels has no content`, place);
  if (width > PICTURE_LIMIT.side || height > PICTURE_LIMIT.side || width * height > PICTURE_LIMIT.pixels)
    throw new InputError(
      `a picture of ${width} x ${height} pixels is too large: at most ${PICTURE_LIMIT.side} a side and 134 million pixels`,
      place,
    );
}
