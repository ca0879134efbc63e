// One reflection or refraction by microfacets, in the frame of the shading normal. The directions, the widths of the facets
// and the results are fields (see ray.ts for why).
import { correlatedOverSingle, ggxDensity, ggxMasking, sampleVisibleNormal } from './ggx.ts';
import { ShadingFrame } from './shadingFrame.ts';

export class Facets extends ShadingFrame {
  /** Direction to the viewer. */
  protected readonly view = new Float64Array(3);
  /** Widths of the facets along the tangent and across it; both 0: one smooth facet. */
  protected readonly widths = new Float64Array(2);
  /** Refractive index beyond over the one before. */
  protected eta = 1;
  /** Normal of the facet. */
  protected readonly facet = new Float64Array(3);

  // results
  /** Cosine between the facet and the viewer. */
  protected along = 0;
  /** Of the direction, per steradian; 0 after sampling a smooth part. */
  density = 0;
  /** Value * cosine without the colour of the facet. */
  protected value = 0;

  /** Chooses a facet by two random numbers; false where it faces away from the viewer. */
  protected chooseFacet(by: Float64Array): boolean {
    const { facet, view, widths } = this;
    if (widths[0] === 0) {
      facet[0] = facet[1] = 0;
      facet[2] = 1;
    } else sampleVisibleNormal(facet, view, widths, by);
    this.along = view[0] * facet[0] + view[1] * facet[1] + view[2] * facet[2];
    return this.along > 0;
  }

  /** Mirrors the view in the chosen facet; false where that leads below the surface. */
  protected reflect(): boolean {
    const { along, facet, view } = this;
    this.lx = 2 * along * facet[0] - view[0];
    this.ly = 2 * along * facet[1] - view[1];
    this.lz = 2 * along * facet[2] - view[2];
    return this.lz > 0;
  }

  /** Refracts the view through the chosen facet; false where that is impossible or leads above the surface. */
  protected refract(): boolean {
    const { along, eta, facet, view } = this;
    const sine2 = (1 - along * along) / (eta * eta);
    if (sine2 >= 1) return false;
    const k = along / eta - Math.sqrt(1 - sine2);
    this.lx = k * facet[0] - view[0] / eta;
    this.ly = k * facet[1] - view[1] / eta;
    this.lz = k * facet[2] - view[2] / eta;
    return this.lz < 0;
  }

  /** Shadowing beside masking for the chosen pair of directions: the weight of a sampled facet. */
  protected shadowing(): number {
    const { view, widths } = this;
    if (widths[0] === 0) return 1;
    return correlatedOverSingle(view[0], view[1], view[2], this.lx, this.ly, this.lz, widths[0], widths[1]);
  }

  /** Sets density and value of a reflection from the two directions; false where no facet does it. */
  protected weighReflection(): boolean {
    const { facet, lx, ly, lz, view, widths } = this;
    const hx = view[0] + lx;
    const hy = view[1] + ly;
    const hz = view[2] + lz;
    const length = Math.sqrt(hx * hx + hy * hy + hz * hz);
    facet[0] = hx / length;
    facet[1] = hy / length;
    facet[2] = hz / length;
    this.along = view[0] * facet[0] + view[1] * facet[1] + view[2] * facet[2];
    if (!(this.along > 0)) return false;
    const facets = ggxDensity(facet[0], facet[1], facet[2], widths[0], widths[1]);
    this.density = (ggxMasking(view[0], view[1], view[2], widths[0], widths[1]) * facets) / (4 * view[2]);
    this.value = this.density * this.shadowing();
    return true;
  }

  /** The same of a refraction, in the form that carries radiance (Walter et al. 2007, eq. 16 and 21). */
  protected weighRefraction(): boolean {
    const { eta, facet, lx, ly, lz, view } = this;
    facet[0] = -(view[0] + eta * lx);
    facet[1] = -(view[1] + eta * ly);
    facet[2] = -(view[2] + eta * lz);
    const length = Math.sqrt(facet[0] * facet[0] + facet[1] * facet[1] + facet[2] * facet[2]) * (facet[2] < 0 ? -1 : 1);
    for (let k = 0; k < 3; k++) facet[k] /= length;
    this.along = view[0] * facet[0] + view[1] * facet[1] + view[2] * facet[2];
    const beyond = lx * facet[0] + ly * facet[1] + lz * facet[2];
    if (!(this.along > 0 && beyond < 0)) return false;
    this.setRefractionDensity();
    this.value = (this.density * this.shadowing()) / (eta * eta);
    return true;
  }

  /** Density of the visible facets, for a reflection. */
  protected setReflectionDensity(): void {
    this.setVisibleDensity();
    this.density /= 4 * this.along;
  }
  protected setRefractionDensity(): void {
    const { eta, facet } = this;
    const beyond = this.lx * facet[0] + this.ly * facet[1] + this.lz * facet[2];
    const sum = this.along + eta * beyond;
    this.setVisibleDensity();
    this.density *= (eta * eta * Math.abs(beyond)) / (sum * sum);
  }
  private setVisibleDensity(): void {
    const { facet, view, widths } = this;
    const facets = ggxDensity(facet[0], facet[1], facet[2], widths[0], widths[1]);
    this.density = (ggxMasking(view[0], view[1], view[2], widths[0], widths[1]) * facets * this.along) / view[2];
  }
}
