// Directional albedos of single scattering by GGX facets: what of the light that comes from one direction leaves again.
// What is missing is given back: to the diffuse part below a reflecting layer, to a metal by a lobe of its own, to
// rough glass by a factor (Kulla & Conty 2017, "Revisiting physically based shading"; Turquin 2019, "Practical
// multiple scattering compensation for microfacet models").
import { samplePoint } from '../math/index.ts';
import { fresnelDielectric } from './fresnel.ts';
import { correlatedOverSingle, sampleVisibleNormal } from './ggx.ts';

const COSINES = 32; // nodes at (i / 31)^2: the reflectance rises steeply towards grazing angles
const ROUGHNESSES = 12; // nodes at i / 11
const SAMPLES = 128;
/** // per roughness: COSINES values by cosine, then the cosine-weighted mean */
export const ALBEDO_STRIDE = ROUGHNESSES * (COSINES + 1);

/** Share of a facet that reflects, and whether what it lets through counts too. */
interface Facet {
  reflectance: (cosine: number) => number;
  /** Index beyond over the one before; null where only reflection counts. */
  refracts: number | null;
}

const known = new Map<string, Float32Array>();

/** Reflection alone by a dielectric of this index. */
export function reflectionAlbedos(ior: number): Float32Array {
  return remember(`reflection ${ior}`, { reflectance: (c) => fresnelDielectric(c, ior), refracts: null });
}
/** Facets that reflect everything. */
export function mirrorAlbedos(): Float32Array {
  return remember('mirror', { reflectance: () => 1, refracts: null });
}
/** Reflection and transmission together. @param eta index beyond over the one before */
export function glassAlbedos(eta: number): Float32Array {
  return remember(`glass ${eta}`, { reflectance: (c) => fresnelDielectric(c, eta), refracts: eta });
}

function remember(key: string, facet: Facet): Float32Array {
  let table = known.get(key);
  if (!table) {
    if (known.size > 64) known.clear();
    known.set(key, (table = makeTable(facet)));
  }
  return table;
}

function makeTable(facet: Facet): Float32Array {
  const out = new Float32Array(ALBEDO_STRIDE);
  for (let r = 0; r < ROUGHNESSES; r++) {
    const alpha = (r / (ROUGHNESSES - 1)) ** 2;
    const row = r * (COSINES + 1);
    for (let c = 0; c < COSINES; c++) {
      const cosine = Math.max(1e-4, (c / (COSINES - 1)) ** 2);
      const smooth = facet.refracts === null ? facet.reflectance(cosine) : 1;
      out[row + c] = alpha < 1e-4 ? smooth : roughAlbedo(cosine, alpha, facet);
    }
    let mean = 0;
    const steps = 512;
    for (let i = 0; i < steps; i++) {
      const cosine = (i + 0.5) / steps;
      mean += (2 * cosine * interpolateRow(out, row, cosine)) / steps;
    }
    out[row + COSINES] = mean;
  }
  return out;
}

/** A place in the tables: set once for a direction and a roughness, read in several of them. */
export class AlbedoPlace {
  private row = 0;
  private column = 0;
  private down = 0;
  private across = 0;

  setRoughness(roughness: number): void {
    const r = roughness * (ROUGHNESSES - 1);
    const low = Math.min(ROUGHNESSES - 2, Math.floor(r));
    this.row = low * (COSINES + 1);
    this.down = r - low;
  }
  setCosine(cosine: number): void {
    const c = Math.sqrt(Math.min(1, Math.max(0, cosine))) * (COSINES - 1);
    this.column = Math.min(COSINES - 2, Math.floor(c));
    this.across = c - this.column;
  }

  /** @param at first number of the table */
  read(table: Float32Array, at: number): number {
    const i = at + this.row + this.column;
    const j = i + COSINES + 1;
    const a = table[i] + this.across * (table[i + 1] - table[i]);
    const b = table[j] + this.across * (table[j + 1] - table[j]);
    return a + this.down * (b - a);
  }
  /** Over the hemisphere, weighted by the cosine. */
  readMean(table: Float32Array, at: number): number {
    const i = at + this.row + COSINES;
    return table[i] + this.down * (table[i + COSINES + 1] - table[i]);
  }
}

function interpolateRow(table: Float32Array, row: number, cosine: number): number {
  const c = Math.sqrt(Math.min(1, Math.max(0, cosine))) * (COSINES - 1);
  const low = Math.min(COSINES - 2, Math.floor(c));
  return table[row + low] + (c - low) * (table[row + low + 1] - table[row + low]);
}

const point = new Float64Array(2);
const normal = new Float64Array(3);

function roughAlbedo(cosine: number, alpha: number, { reflectance, refracts }: Facet): number {
  const x = Math.sqrt(1 - cosine * cosine);
  let sum = 0;
  for (let i = 0; i < SAMPLES; i++) {
    samplePoint(point, 0x51ed270b, i);
    sampleVisibleNormal(normal, [x, 0, cosine], [alpha, alpha], point);
    const along = x * normal[0] + cosine * normal[2];
    const reflected = reflectance(along);
    const [rx, ry, rz] = [2 * along * normal[0] - x, 2 * along * normal[1], 2 * along * normal[2] - cosine];
    if (rz > 0) sum += reflected * correlatedOverSingle(x, 0, cosine, rx, ry, rz, alpha, alpha);
    if (refracts === null || reflected === 1) continue;
    const k = along / refracts - Math.sqrt(Math.max(0, 1 - (1 - along * along) / (refracts * refracts)));
    const [tx, ty, tz] = [k * normal[0] - x / refracts, k * normal[1], k * normal[2] - cosine / refracts];
    if (tz < 0) sum += (1 - reflected) * correlatedOverSingle(x, 0, cosine, tx, ty, tz, alpha, alpha);
  }
  return sum / SAMPLES;
}
