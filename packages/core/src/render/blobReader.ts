/** Bytes of a blob by its id. */
export type BlobReader = (id: string) => Uint8Array;
