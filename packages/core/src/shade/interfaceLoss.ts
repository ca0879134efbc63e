// What rough glass and frosted panes are short of, and how it is given back.
//
// Facets that scatter light once lose what a second facet would have caught: up to 70 % of it for a pane of roughness 1.
// Tried: the factor 1 / E for the viewer's side, E being the albedo of single scattering (Turquin 2019, "Practical multiple
// scattering compensation for microfacet models"): exact for one direction but not reciprocal, so closed bodies still lost
// 5 to 10 %. A factor c(o) c(i) that balances all directions (Sinkhorn 1967): both laws hold, but at roughness 1 the inner
// highlight grew 64 times.
// What stayed: the factor 1 / max(E(o), E(i)), which is reciprocal, gives no direction more than it lost, and keeps the
// shape of the lobe; and for the rest a diffuse lobe on both sides (Kulla & Conty 2017, "Revisiting physically based
// shading at Imageworks", extended to transmission). With M the share that is still missing, its mean over the hemisphere
// M', and t the share of it that goes through,
//   reflected on side a: (1 - t_a) M_a(o) M_a(i) / (pi M'_a), let through from a to b: t_a M_a(o) M_b(i) / (pi M'_b)
// keep all light; they are reciprocal (by n^2, Veach 1997, 5.2) where t_b = t_a M'_a / (n^2 M'_b). For a pane both sides
// are alike, and t is what it lets through of diffuse light. On the thinner side of a solid less than 0.4 % is still missing,
// so the denser one could send nothing through either, and t is 0.
import { samplePoint } from '../math/index.ts';
import { fresnelDielectric, paneReflectance } from './fresnel.ts';
import { correlatedOverSingle, sampleVisibleNormal } from './ggx.ts';

/** Indices of the denser side over the other one. */
const INDICES = [1, 1.02, 1.05, 1.1, 1.16, 1.25, 1.35, 1.5, 1.7, 2, 2.4, 3, 4, 5];
const COSINES = 32; // nodes at (i / 31)^2
const ROUGHNESSES = 12; // nodes at i / 11
const SAMPLES = 512;
/** // E by cosine, M by cosine, the reflected part of E by cosine, then the mean of M */
const ROW = 3 * COSINES + 1;
const REFLECTED = 2 * COSINES;
const MEAN = 3 * COSINES;
const SIDE = ROUGHNESSES * ROW;
/** // of one index: the thinner side, the denser one */
const INTERFACE = 2 * SIDE;
/** Place of facets that reflect everything, or let through as a mirror image what they do not reflect. */
const MIRROR = INDICES.length * INTERFACE;
/** Below this mean there is no second lobe. */
const ENOUGH = 1e-3;

/** // an INTERFACE for each of INDICES, then a SIDE for the mirror. Rows are filled when they are first asked for. */
const table = new Float32Array(MIRROR + SIDE);
const filled = new Uint8Array((INDICES.length + 1) * ROUGHNESSES);

/** Fills the rows of one roughness for one index, and takes some 10 ms. @param i of INDICES, or beyond them: the mirror */
function needRows(i: number, r: number): void {
  if (filled[i * ROUGHNESSES + r] === 1) return;
  filled[i * ROUGHNESSES + r] = 1;
  const sides = i === INDICES.length ? [0] : [INDICES[i], 1 / INDICES[i]];
  fillRows(sides, (r / (ROUGHNESSES - 1)) ** 2, i * INTERFACE + r * ROW);
}

/** @param sides index beyond over that before of each side; 0: a mirror. at: row of the first side */
function fillRows(sides: number[], alpha: number, at: number): void {
  const flows = sides.map((eta) => (alpha === 0 ? null : trace(eta, alpha)));
  const albedos = flows.map((flow) => Float64Array.from({ length: COSINES }, (_, n) => (flow ? albedoOf(flow, n) : 1)));
  flows.forEach((flow, side) => {
    const row = at + side * SIDE;
    table.set(albedos[side], row);
    let sum = 0;
    let weights = 0;
    for (let n = 0; n < COSINES; n++) {
      let kept = flow ? 0 : 1;
      for (let i = n * SAMPLES * 4; flow && i < (n + 1) * SAMPLES * 4; i += 2) {
        // pairs stand for reflection and transmission in turn; a mirror lets through to its own side
        const to = albedos[i % 4 === 0 || sides.length === 1 ? side : 1 - side];
        if (flow[i] > 0)
          kept += flow[i] / SAMPLES / Math.max(albedos[side][n], interpolate(to, 0, placeOf(flow[i + 1])));
      }
      table[row + COSINES + n] = Math.max(0, 1 - kept);
      table[row + REFLECTED + n] = flow
        ? reflectedOf(flow, n)
        : fresnelDielectric((n / (COSINES - 1)) ** 2, sides[side] || 1);
    }
    const steps = 256;
    for (let i = 0; i < steps; i++) {
      const cosine = (i + 0.5) / steps;
      sum += cosine * interpolate(table, row + COSINES, placeOf(cosine));
      weights += cosine;
    }
    table[row + MEAN] = sum / weights;
  });
}

function albedoOf(flow: Float64Array, node: number): number {
  let sum = 0;
  for (let i = node * SAMPLES * 4; i < (node + 1) * SAMPLES * 4; i += 2) sum += flow[i];
  return sum / SAMPLES;
}

function reflectedOf(flow: Float64Array, node: number): number {
  let sum = 0;
  for (let i = node * SAMPLES * 4; i < (node + 1) * SAMPLES * 4; i += 4) sum += flow[i];
  return sum / SAMPLES;
}

const point = new Float64Array(2);
const view = new Float64Array(3);
const widths = new Float64Array(2);
const normal = new Float64Array(3);

/** What light from each node becomes: SAMPLES times weight and cosine of what is reflected, and of what is let through. */
function trace(eta: number, alpha: number): Float64Array {
  const out = new Float64Array(COSINES * SAMPLES * 4);
  widths[0] = widths[1] = alpha;
  for (let n = 0; n < COSINES; n++) {
    const z = Math.max(1e-4, (n / (COSINES - 1)) ** 2);
    const x = Math.sqrt(1 - z * z);
    view[0] = x;
    view[2] = z;
    for (let i = 0; i < SAMPLES; i++) {
      samplePoint(point, 0x51ed270b, i);
      sampleVisibleNormal(normal, view, widths, point);
      const along = x * normal[0] + z * normal[2];
      if (!(along > 0)) continue;
      const at = (n * SAMPLES + i) * 4;
      const share = eta === 0 ? 1 : fresnelDielectric(along, eta);
      const rx = 2 * along * normal[0] - x;
      const rz = 2 * along * normal[2] - z;
      if (rz > 0) {
        out[at] = share * correlatedOverSingle(x, 0, z, rx, 2 * along * normal[1], rz, alpha, alpha);
        out[at + 1] = rz;
      }
      if (share === 1) continue;
      const k = along / eta - Math.sqrt(1 - (1 - along * along) / (eta * eta));
      const tx = k * normal[0] - x / eta;
      const tz = k * normal[2] - z / eta;
      if (tz >= 0) continue;
      out[at + 2] = (1 - share) * correlatedOverSingle(x, 0, z, tx, k * normal[1], tz, alpha, alpha);
      out[at + 3] = -tz;
    }
  }
  return out;
}

/** Place of a cosine among the nodes; its whole part is below the last one. */
function placeOf(cosine: number): number {
  return Math.min(COSINES - 1.000001, Math.sqrt(cosine < 1 ? cosine : 1) * (COSINES - 1));
}

function interpolate(values: ArrayLike<number>, at: number, place: number): number {
  const low = Math.floor(place);
  return values[at + low] + (place - low) * (values[at + low + 1] - values[at + low]);
}

/** Mean reflectance over the hemisphere. */
function meanReflectance(reflectance: (cosine: number) => number): number {
  const steps = 64;
  let sum = 0;
  for (let i = 0; i < steps; i++) sum += (2 * (i + 0.5) * reflectance((i + 0.5) / steps)) / steps / steps;
  return sum;
}
const MEAN_PANE = INDICES.map((eta) => meanReflectance((c) => paneReflectance(fresnelDielectric(c, eta))));

/** The losses of one interface for one viewer. Set it, then ask for the other direction. */
export class InterfaceLoss {
  private row = 0;
  private down = 0;
  /** The sides of viewer and beyond, of the index below; and how far it is to the index above. */
  private near = MIRROR;
  private far = MIRROR;
  private across = 0;
  /** E and M of the viewer's direction. */
  private albedo = 1;
  private missing = 0;
  /** 1 / mean of M on the viewer's side; 0 where nothing is missing. */
  private inverseMean = 0;
  /** Share of what is missing that goes through. */
  private passing = 0;
  /** Share of the viewer's light that facets of a solid reflect. */
  reflected = 0;

  /**
   * @param eta index beyond over that before, above 0
   * @param thin a pane, both of whose sides are the viewer's
   * @param cosine of the viewer's direction
   */
  set(roughness: number, eta: number, thin: boolean, cosine: number): void {
    const r = Math.min(1, roughness) * (ROUGHNESSES - 1);
    const low = Math.min(ROUGHNESSES - 2, Math.floor(r));
    this.row = low * ROW;
    this.down = r - low;
    const ratio = Math.min(INDICES[INDICES.length - 1], eta < 1 ? 1 / eta : eta);
    let i = 0;
    while (i < INDICES.length - 2 && INDICES[i + 1] < ratio) i++;
    const across = (ratio - INDICES[i]) / (INDICES[i + 1] - INDICES[i]);
    const dense = eta < 1 ? SIDE : 0;
    this.near = thin ? MIRROR : i * INTERFACE + dense;
    this.far = thin ? MIRROR : i * INTERFACE + SIDE - dense;
    this.across = thin ? 0 : across;
    for (let k = 0; k < 2; k++) {
      needRows(thin ? INDICES.length : i, low + k);
      if (!thin) needRows(i + 1, low + k);
    }
    this.passing = thin ? 1 - (MEAN_PANE[i] + across * (MEAN_PANE[i + 1] - MEAN_PANE[i])) : 0;
    const mean = this.readMean();
    this.inverseMean = mean > ENOUGH ? 1 / mean : 0;
    const place = placeOf(cosine);
    this.albedo = this.read(this.near, place);
    this.missing = this.read(this.near + COSINES, place);
    if (!thin) this.reflected = ((1 - this.missing) * this.read(this.near + REFLECTED, place)) / this.albedo;
  }

  /** Factor of single scattering towards a direction. @param through whether it is on the other side */
  factor(cosine: number, through: boolean): number {
    return 1 / Math.max(this.albedo, this.read(through ? this.far : this.near, placeOf(cosine)), 0.05);
  }

  /** Share of the viewer's light that the second lobe takes: 0 where there is none. */
  lobe(through: boolean): number {
    if (this.inverseMean === 0) return 0;
    return this.missing * (through ? this.passing : 1 - this.passing);
  }

  /** Value of the second lobe: its share of the light over the cosine-weighted hemisphere, which integrates to lobe(). */
  value(cosine: number, through: boolean): number {
    const share = this.lobe(through);
    if (share === 0) return 0;
    // a pane has the same table on both sides
    return share * this.read(this.near + COSINES, placeOf(cosine)) * this.inverseMean;
  }

  private read(side: number, place: number): number {
    const { across, down, row } = this;
    const at = side + row;
    const here = interpolate(table, at, place) * (1 - down) + interpolate(table, at + ROW, place) * down;
    if (across === 0) return here;
    const next = at + INTERFACE;
    return here + across * (interpolate(table, next, place) * (1 - down) + interpolate(table, next + ROW, place) * down - here); // prettier-ignore
  }

  private readMean(): number {
    const { across, down, row } = this;
    const at = this.near + MEAN + row;
    const here = table[at] + down * (table[at + ROW] - table[at]);
    if (across === 0) return here;
    const next = at + INTERFACE;
    return here + across * (table[next] + down * (table[next + ROW] - table[next]) - here);
  }
}
