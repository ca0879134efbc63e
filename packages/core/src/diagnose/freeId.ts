/** An id that is not taken yet; ids hold 80 letters at most. */
export function freeId(taken: Record<string, unknown>, wanted: string): string {
  const id = wanted.slice(-76).replace(/^-+/, '');
  for (let n = 1; ; n++) {
    const tried = n === 1 ? id : `${id}-${n}`;
    if (!(tried in taken)) return tried;
  }
}
