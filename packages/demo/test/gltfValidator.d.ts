declare module 'gltf-validator' {
  export function validateBytes(bytes: Uint8Array): Promise<{ issues: { numErrors: number; messages: unknown[] } }>;
  const all: { validateBytes: typeof validateBytes };
  export default all;
}
