import { luminance } from '../color/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { COMPONENTS, FILM, LIMITS, RAY_TYPES, type Film } from './film.ts';

const CLAMP = LIMITS.indexOf('clamp') * 3;

/** What one camera sample brings, component by component, until it is added to the film. */
export class SampleRecord {
  readonly rays = new Float64Array(RAY_TYPES.length);
  /** Rays that follow a first diffuse, specular or transmission event. */
  readonly branchRays = new Float64Array(3);
  /** Rays of probes beyond each depth limit. */
  readonly probeRays = new Float64Array(4);
  /** Variance of the mean of the splits of each lobe, in luminance. */
  readonly within = new Float64Array(3);
  private readonly values = new Float64Array(COMPONENTS.length * 3);
  private readonly cut = new Float64Array(LIMITS.length * 3);

  constructor(private readonly clamp: RenderSettings['clamp']) {}

  clear(): void {
    this.rays.fill(0);
    this.branchRays.fill(0);
    this.probeRays.fill(0);
    this.within.fill(0);
    this.values.fill(0);
    this.cut.fill(0);
  }

  /** Luminance that a component holds so far. */
  luminanceOf(component: number): number {
    const at = component * 3;
    return luminance(this.values[at], this.values[at + 1], this.values[at + 2]);
  }

  /** Books light that a limit kept out of the picture. */
  addCut(limit: number, r: number, g: number, b: number): void {
    this.cut[limit * 3] += r;
    this.cut[limit * 3 + 1] += g;
    this.cut[limit * 3 + 2] += b;
  }

  /**
   * Books light of a component, clamped by its luminance before `share` divides it among the splits.
   * @param events of the path: the clamps tell direct light (one event) from indirect
   */
  addLight(component: number, r: number, g: number, b: number, share: number, events: number): void {
    const clamp = events === 0 ? 0 : events === 1 ? this.clamp.direct : this.clamp.indirect;
    let kept = share;
    if (clamp > 0) {
      const y = luminance(r, g, b);
      if (y > clamp) {
        kept = (share * clamp) / y;
        this.cut[CLAMP] += r * (share - kept);
        this.cut[CLAMP + 1] += g * (share - kept);
        this.cut[CLAMP + 2] += b * (share - kept);
      }
    }
    this.values[component * 3] += r * kept;
    this.values[component * 3 + 1] += g * kept;
    this.values[component * 3 + 2] += b * kept;
  }

  /** Adds this sample to the sums of a pixel. @param at first film slot of the pixel */
  store(data: Film['data'], at: number, sample: number): void {
    const { values } = this;
    let r = 0;
    let g = 0;
    let b = 0;
    for (let c = 0; c < COMPONENTS.length; c++) {
      const vr = values[c * 3];
      const vg = values[c * 3 + 1];
      const vb = values[c * 3 + 2];
      if (vr === 0 && vg === 0 && vb === 0) continue;
      addMoments(data, at + FILM.component + c * FILM.componentStride, vr, vg, vb);
      r += vr;
      g += vg;
      b += vb;
    }
    const y = addMoments(data, at + FILM.beauty, r, g, b);
    addAll(data, at + FILM.cut, this.cut);
    addAll(data, at + FILM.within, this.within);
    addAll(data, at + FILM.rays, this.rays);
    addAll(data, at + FILM.branchRays, this.branchRays);
    addAll(data, at + FILM.probeRays, this.probeRays);
    data[at + FILM.samples]++;
    if (y > data[at + FILM.brightest]) {
      data[at + FILM.brightest] = y;
      data[at + FILM.brightestIndex] = sample;
    }
  }
}

/** Adds RGB and the squares of R, G, B and luminance; returns the luminance. */
function addMoments(data: Film['data'], at: number, r: number, g: number, b: number): number {
  const y = luminance(r, g, b);
  data[at] += r;
  data[at + 1] += g;
  data[at + 2] += b;
  data[at + 3] += r * r;
  data[at + 4] += g * g;
  data[at + 5] += b * b;
  data[at + 6] += y * y;
  return y;
}

function addAll(data: Film['data'], at: number, values: Float64Array): void {
  for (let k = 0; k < values.length; k++) data[at + k] += values[k];
}
