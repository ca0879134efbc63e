declare module 'draco3dgltf' {
  const module: { createDecoderModule(): Promise<unknown> };
  export default module;
}
