// Directional albedos of single scattering by GGX facets: what of the light that comes from one direction leaves again.
// What is missing is given back: to the diffuse part below a reflecting layer, and to a metal by a lobe of its own (Kulla &
// Conty 2017, "Revisiting physically based shading at Imageworks"); to glass by interfaceLoss.ts.
import { samplePoint } from '../math/index.ts';
import { fresnelDielectric } from './fresnel.ts';
import { correlatedOverSingle, sampleVisibleNormal } from './ggx.ts';

const COSINES = 32; // nodes at (i / 31)^2: the reflectance rises steeply towards grazing angles
const ROUGHNESSES = 12; // nodes at i / 11
const SAMPLES = 128;
/** // per roughness: COSINES values by cosine, then the cosine-weighted mean */
export const ALBEDO_STRIDE = ROUGHNESSES * (COSINES + 1);

/** Share of the light that a facet reflects, by the cosine. */
type Reflectance = (cosine: number) => number;

const known = new Map<string, Float32Array>();

/** Reflection by a dielectric. @param eta index beyond over the one before */
export function reflectionAlbedos(eta: number): Float32Array {
  return remember(`reflection ${eta}`, (c) => fresnelDielectric(c, eta));
}
/** Facets that reflect everything. */
export function mirrorAlbedos(): Float32Array {
  return remember('mirror', () => 1);
}

function remember(key: string, facet: Reflectance): Float32Array {
  let table = known.get(key);
  if (!table) {
    if (known.size > 64) known.clear();
    known.set(key, (table = makeTable(facet)));
  }
  return table;
}

function makeTable(facet: Reflectance): Float32Array {
  const out = new Float32Array(ALBEDO_STRIDE);
  for (let r = 0; r < ROUGHNESSES; r++) {
    const alpha = (r / (ROUGHNESSES - 1)) ** 2;
    const row = r * (COSINES + 1);
    for (let c = 0; c < COSINES; c++) {
      const cosine = Math.max(1e-4, (c / (COSINES - 1)) ** 2);
      out[row + c] = alpha < 1e-4 ? facet(cosine) : roughAlbedo(cosine, alpha, facet);
    }
    let mean = 0;
    const steps = 512;
    for (let i = 0; i < steps; i++) {
      const cosine = (i + 0.5) / steps;
      mean += (2 * cosine * (alpha < 1e-4 ? facet(cosine) : interpolateRow(out, row, cosine))) / steps;
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
const view = new Float64Array(3);
const widths = new Float64Array(2);

function roughAlbedo(cosine: number, alpha: number, facet: Reflectance): number {
  const x = Math.sqrt(1 - cosine * cosine);
  view[0] = x;
  view[2] = cosine;
  widths[0] = widths[1] = alpha;
  let sum = 0;
  for (let i = 0; i < SAMPLES; i++) {
    samplePoint(point, 0x51ed270b, i);
    sampleVisibleNormal(normal, view, widths, point);
    const along = x * normal[0] + cosine * normal[2];
    const rx = 2 * along * normal[0] - x;
    const rz = 2 * along * normal[2] - cosine;
    if (rz > 0) sum += facet(along) * correlatedOverSingle(x, 0, cosine, rx, 2 * along * normal[1], rz, alpha, alpha);
  }
  return sum / SAMPLES;
}
