/** A file of a scene or data of evidence, named by its SHA-256. */
export async function fetchBlob(id: string): Promise<Uint8Array> {
  const response = await fetch(`/api/blobs/${id}`);
  if (!response.ok)
    throw new Error(`The server did not send a file that is needed here: it answered ${response.status}.`);
  return new Uint8Array(await response.arrayBuffer());
}
