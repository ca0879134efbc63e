export function textOf(bytes: Uint8Array): string {
  return new TextDecoder().decode(bytes).replaceAll('\r\n', '\n').replaceAll('\r', '\n');
}
