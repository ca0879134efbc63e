// Tables of numbers with named fields: one list of sizes says where each field of a row stands, and what has to be written.

/** Place of each field in a row, and `stride`: the numbers of a row. */
export type RowLayout<Field extends string> = Readonly<Record<Field | 'stride', number>>;

/** @param sizes numbers of each field, in the order in which they stand */
export function layOutRow<Field extends string>(sizes: Readonly<Record<Field, number>>): RowLayout<Field> {
  let stride = 0;
  const places = Object.entries<number>(sizes).map(([field, size]) => {
    stride += size;
    return [field, stride - size];
  });
  return { ...(Object.fromEntries(places) as Record<Field, number>), stride } as RowLayout<Field>;
}

/** Writes a row whole: the compiler asks for every field. @param at its first number */
export function writeRow<Field extends string>(
  table: { [place: number]: number },
  at: number,
  layout: RowLayout<Field>,
  row: Readonly<Record<Exclude<Field, 'stride'>, number | ArrayLike<number>>>,
): void {
  for (const [field, value] of Object.entries<number | ArrayLike<number>>(row)) {
    const place = at + layout[field as Field];
    if (typeof value === 'number') table[place] = value;
    else for (let k = 0; k < value.length; k++) table[place + k] = value[k];
  }
}
