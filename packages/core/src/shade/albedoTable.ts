// Directional albedo of the dielectric reflection alone, so that what is reflected can be taken from the diffuse
// part below it and a white surface stays white (Kulla & Conty 2017, "Revisiting physically based shading").
import { samplePoint } from '../math/index.ts';
import { fresnelDielectric } from './fresnel.ts';
import { ggxMasking, sampleVisibleNormal } from './ggx.ts';

const COSINES = 32; // nodes at (i / 31)^2: the reflectance rises steeply towards grazing angles
const ROUGHNESSES = 8; // nodes at i / 7
const SAMPLES = 64;
/** // per roughness: COSINES values by cosine, then the cosine-weighted mean */
export const ALBEDO_STRIDE = ROUGHNESSES * (COSINES + 1);

export function fillAlbedoTable(out: Float32Array, at: number, ior: number): void {
  const point = new Float64Array(2);
  const normal = new Float64Array(3);
  for (let r = 0; r < ROUGHNESSES; r++) {
    const alpha = (r / (ROUGHNESSES - 1)) ** 2;
    const row = at + r * (COSINES + 1);
    for (let c = 0; c < COSINES; c++) {
      const cosine = Math.max(1e-4, (c / (COSINES - 1)) ** 2);
      out[row + c] = alpha < 1e-4 ? fresnelDielectric(cosine, ior) : roughAlbedo(cosine, alpha, ior, point, normal);
    }
    let mean = 0;
    const steps = 512;
    for (let i = 0; i < steps; i++) {
      const cosine = (i + 0.5) / steps;
      mean += (2 * cosine * interpolateRow(out, row, cosine)) / steps;
    }
    out[row + COSINES] = mean;
  }
}

export function albedoAt(table: Float32Array, at: number, cosine: number, roughness: number): number {
  const r = roughness * (ROUGHNESSES - 1);
  const low = Math.min(ROUGHNESSES - 2, Math.floor(r));
  const row = at + low * (COSINES + 1);
  const a = interpolateRow(table, row, cosine);
  return a + (r - low) * (interpolateRow(table, row + COSINES + 1, cosine) - a);
}

export function meanAlbedo(table: Float32Array, at: number, roughness: number): number {
  const r = roughness * (ROUGHNESSES - 1);
  const low = Math.min(ROUGHNESSES - 2, Math.floor(r));
  const i = at + low * (COSINES + 1) + COSINES;
  return table[i] + (r - low) * (table[i + COSINES + 1] - table[i]);
}

function interpolateRow(table: Float32Array, row: number, cosine: number): number {
  const c = Math.sqrt(Math.min(1, Math.max(0, cosine))) * (COSINES - 1);
  const low = Math.min(COSINES - 2, Math.floor(c));
  return table[row + low] + (c - low) * (table[row + low + 1] - table[row + low]);
}

function roughAlbedo(cosine: number, alpha: number, ior: number, point: Float64Array, normal: Float64Array): number {
  const x = Math.sqrt(1 - cosine * cosine);
  let sum = 0;
  for (let i = 0; i < SAMPLES; i++) {
    samplePoint(point, 0x51ed270b, i);
    sampleVisibleNormal(normal, x, 0, cosine, alpha, point[0], point[1]);
    const along = x * normal[0] + cosine * normal[2];
    const out = 2 * along * normal[2] - cosine;
    if (out > 0) sum += fresnelDielectric(along, ior) * correlatedOverSingle(cosine, out, alpha);
  }
  return sum / SAMPLES;
}

/** G2 / G1 of height-correlated Smith masking (Heitz 2014, eq. 99): the weight of a sampled visible normal. */
export function correlatedOverSingle(cosineFrom: number, cosineTo: number, alpha: number): number {
  const from = 1 / ggxMasking(cosineFrom, alpha);
  const to = 1 / ggxMasking(cosineTo, alpha);
  return from / (from + to - 1);
}
