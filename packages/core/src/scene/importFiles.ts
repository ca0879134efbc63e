export interface ImportFile {
  name: string;
  bytes: Uint8Array;
}
export interface StoredBlob {
  bytes: Uint8Array;
  mediaType: string;
}
/** By SHA-256, hexadecimal. */
export type Blobs = Map<string, StoredBlob>;

/** Whether a file is a scene, going by its name. */
export const isSceneFile = (name: string) => /\.(glb|gltf|obj)$/i.test(name);

/** @returns the name of the blob */
export async function addBlob(blobs: Blobs, bytes: Uint8Array, mediaType: string): Promise<string> {
  const digest = await crypto.subtle.digest('SHA-256', bytes as Uint8Array<ArrayBuffer>);
  const id = [...new Uint8Array(digest)].map((b) => b.toString(16).padStart(2, '0')).join('');
  blobs.set(id, { bytes, mediaType });
  return id;
}
