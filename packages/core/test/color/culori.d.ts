declare module 'culori' {
  interface Color {
    mode: string;
    r: number;
    g: number;
    b: number;
  }
  export function converter(mode: string): (color: Color) => Color & { l: number; c: number; h?: number };
  export function differenceCiede2000(): (one: object, two: object) => number;
}
