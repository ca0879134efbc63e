// One step of the edge-avoiding filter (core/image/denoise.ts), four pixels of a row at once. Planes of floats stand one after
// the other, `plane` bytes each, in the order of core/image/filterPlanes.ts; around the picture lies a margin without an
// error, which counts for nothing, so that no neighbour has to be looked for an edge.

const LIGHT = 8;
const GUIDE = 9;
const ERROR = 10;
const DEPTH = 11;
const SLOPE = 12;
const NORMAL = 13;

/**
 * @param base of the planes; from, to: 0 or 4, first of the four planes that are read and written
 * @param pitch floats of a row; first: byte of the first pixel in a plane
 * @param apart pixels between neighbours
 * @param guides 1: depths, 2: normals
 */
export function filterStep(
  base: usize, from: i32, to: i32, plane: i32, pitch: i32, first: i32, width: i32, height: i32,
  apart: i32, errors: f32, perSlope: f32, doublings: i32, guides: i32,
): void { // prettier-ignore
  const source = base + <usize>(from * plane);
  const target = base + <usize>(to * plane);
  const fixed = base;
  const hasDepth = (guides & 1) != 0;
  const hasNormal = (guides & 2) != 0;
  const one = f32x4.splat(1);
  const zero = f32x4.splat(0);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x += 4) {
      const p = <usize>(first + 4 * (y * pitch + x));
      const r = v128.load(source + p);
      const g = v128.load(source + p + plane);
      const b = v128.load(source + p + 2 * plane);
      const v = v128.load(source + p + 3 * plane);
      const known = f32x4.eq(v128.load(fixed + p + ERROR * plane), zero);
      const here = f32x4.add(v128.load(fixed + p + GUIDE * plane), f32x4.splat(1e-30));
      const lit = v128.load(fixed + p + LIGHT * plane);
      const perError = f32x4.div(one, f32x4.add(f32x4.mul(f32x4.splat(errors), f32x4.sqrt(here)), f32x4.splat(1e-12)));
      const depth = v128.load(fixed + p + DEPTH * plane);
      const slope = f32x4.mul(f32x4.splat(perSlope * <f32>apart), v128.load(fixed + p + SLOPE * plane));
      const flat = f32x4.add(f32x4.mul(f32x4.splat(1e-4), depth), f32x4.splat(1e-9));
      const perStep = f32x4.div(one, f32x4.add(slope, flat));
      const perCorner = f32x4.div(one, f32x4.add(f32x4.mul(slope, f32x4.splat(1.4142135)), flat));
      const nx = v128.load(fixed + p + NORMAL * plane);
      const ny = v128.load(fixed + p + (NORMAL + 1) * plane);
      const nz = v128.load(fixed + p + (NORMAL + 2) * plane);
      let sum = f32x4.mul(f32x4.splat(0.25), f32x4.add(f32x4.div(here, f32x4.add(here, v)), f32x4.splat(1e-6)));
      let sr = f32x4.mul(sum, r);
      let sg = f32x4.mul(sum, g);
      let sb = f32x4.mul(sum, b);
      let sv = f32x4.mul(f32x4.mul(sum, sum), v);
      for (let dy = -1; dy <= 1; dy++)
        for (let dx = -1; dx <= 1; dx++) {
          if (dx == 0 && dy == 0) continue;
          const straight = dx == 0 || dy == 0;
          const q = p + 4 * apart * (dy * pitch + dx);
          let counts = f32x4.ne(v128.load(fixed + q + ERROR * plane), zero);
          let weight = f32x4.mul(f32x4.splat(straight ? 0.125 : 0.0625), here);
          if (hasNormal) {
            let alike = f32x4.mul(nx, v128.load(fixed + q + NORMAL * plane));
            alike = f32x4.add(alike, f32x4.mul(ny, v128.load(fixed + q + (NORMAL + 1) * plane)));
            alike = f32x4.add(alike, f32x4.mul(nz, v128.load(fixed + q + (NORMAL + 2) * plane)));
            counts = v128.and(counts, f32x4.ge(alike, f32x4.splat(0.5)));
            for (let k = 0; k < doublings; k++) alike = f32x4.mul(alike, alike);
            weight = f32x4.mul(weight, alike);
          }
          let distance = f32x4.mul(f32x4.abs(f32x4.sub(lit, v128.load(fixed + q + LIGHT * plane))), perError);
          if (hasDepth) {
            const apartness = f32x4.abs(f32x4.sub(depth, v128.load(fixed + q + DEPTH * plane)));
            distance = f32x4.add(distance, f32x4.mul(apartness, straight ? perStep : perCorner));
          }
          const vq = v128.load(source + q + 3 * plane);
          // exp(-d) by 1 / (1 + d + d^2 / 2 + d^3 / 6)
          let falls = f32x4.add(f32x4.splat(0.5), f32x4.mul(distance, f32x4.splat(1.0 / 6.0)));
          falls = f32x4.add(one, f32x4.mul(distance, falls));
          falls = f32x4.add(one, f32x4.mul(distance, falls));
          weight = v128.and(f32x4.div(weight, f32x4.mul(f32x4.add(here, vq), falls)), counts);
          sum = f32x4.add(sum, weight);
          sr = f32x4.add(sr, f32x4.mul(weight, v128.load(source + q)));
          sg = f32x4.add(sg, f32x4.mul(weight, v128.load(source + q + plane)));
          sb = f32x4.add(sb, f32x4.mul(weight, v128.load(source + q + 2 * plane)));
          sv = f32x4.add(sv, f32x4.mul(f32x4.mul(weight, weight), vq));
        }
      const by = f32x4.div(one, sum);
      v128.store(target + p, v128.bitselect(r, f32x4.mul(sr, by), known));
      v128.store(target + p + plane, v128.bitselect(g, f32x4.mul(sg, by), known));
      v128.store(target + p + 2 * plane, v128.bitselect(b, f32x4.mul(sb, by), known));
      v128.store(target + p + 3 * plane, v128.bitselect(zero, f32x4.mul(sv, f32x4.mul(by, by)), known));
    }
}
