/** A file of a scene, named by its SHA-256. */
export async function fetchBlob(id: string): Promise<Uint8Array> {
  const response = await fetch(`/api/blobs/${id}`);
  if (!response.ok) throw new Error(`A file of the scene did not come: the server answered ${response.status}.`);
  return new Uint8Array(await response.arrayBuffer());
}
