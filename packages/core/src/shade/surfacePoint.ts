// One point of a surface, ready to be shaded: a frame, the parameters there, and three lobes (diffuse, specular,
// transmission) that can each be sampled and evaluated alone, so that a component can be followed by itself.
// One object is filled again for every hit; nothing is allocated.
//
// The specular lobe is a sum of up to three: the base reflection, the coat above it, and what a rough metal or rough
// glass scatters more than once; that of transmission of two. A sample comes from one of them, its density is that of
// their mixture.
import { luminance } from '../color/index.ts';
import { ALBEDO_STRIDE } from './albedoTable.ts';
import { roughDiffuse } from './diffuse.ts';
import { fresnelDielectric } from './fresnel.ts';
import { SurfaceLayers } from './surfaceLayers.ts';
import { ALBEDOS, SURFACE } from './surfaceTable.ts';
import { SMOOTH_ALPHA } from './surfaceValues.ts';
import type { Direction } from './ray.ts';

export const DIFFUSE = 0;
export const SPECULAR = 1;
export const TRANSMISSION = 2;
export const LOBES = 3;
export type Lobe = 0 | 1 | 2;

const BASE = 0;
const COAT = 1;
const SCATTERED = 2;
/** Rough metal whose single scattering keeps more than this needs no second lobe. */
const ENOUGH = 0.995;

export class SurfacePoint extends SurfaceLayers {
  object = 0;
  /** Chance of the second lobe of transmission. */
  private scatteredThrough = 0;
  /** Chances of the parts of the specular lobe. */
  private readonly parts = new Float64Array(3);
  /** Chance of each lobe where only one is followed; sums to 1, or all 0 for a black surface. */
  readonly chance = new Float64Array(LOBES);
  /** sample: value * cosine / density; evaluate: value * cosine. RGB. */
  readonly weight = new Float64Array(3);
  private readonly random = new Float64Array(2);
  /** Factors of the diffuse lobe where occlusion is multiplied into it. */
  private readonly dim = new Float64Array(3);
  private dimmed = false;

  /**
   * Position, geometric normal gx.. and shading normal nx.. (front side, unit length), tangent and UVs have been set;
   * this turns them to the viewer and reads the surface.
   * relativeIor and roughnessFloor, too.
   * @param arriving direction of the arriving ray
   */
  prepare(surface: number, arriving: Direction): void {
    this.dimmed = false;
    this.readLayers(surface, arriving);
    this.setChances();
  }

  /** Multiplies occlusion into the diffuse lobe, as the surface asks for it. @param open 0..1 */
  occlude(open: number): void {
    const { values } = this.table;
    const at = this.surface * SURFACE.stride;
    const strength = values[at + SURFACE.occlusion];
    this.dimmed = strength > 0;
    if (!this.dimmed) return;
    for (let k = 0; k < 3; k++) this.dim[k] = 1 - strength * (1 - values[at + SURFACE.occlusionTint + k]) * (1 - open);
  }

  private setChances(): void {
    const { chance, parts, values } = this;
    const dielectric = 1 - values.metalness;
    const cosine = this.view[2];
    const face = this.faceReflectance(cosine);
    // beyond the angle of total reflection some facets of rough glass still let light through
    const facets = face === 1 ? this.loss.reflected : values.specularWeight * this.loss.reflected;
    const reflected = this.loses && !values.thin ? facets : this.glassReflectance(face);
    const below = 1 - this.coatOut;
    parts[BASE] = 0;
    for (let k = 0; k < 3; k++)
      parts[BASE] = Math.max(parts[BASE], this.specularColorAt(cosine, face, reflected, k) * this.belowCoat(k));
    parts[BASE] *= below;
    parts[COAT] = values.coat > 0 ? values.coat * fresnelDielectric(cosine, values.coatIor) : 0;
    parts[SCATTERED] =
      this.mirrorMean < ENOUGH
        ? values.metalness * (1 - this.mirrorOut) * Math.max(values.base[0], values.base[1], values.base[2]) * below
        : 0;
    const glass = dielectric * values.transmission * below;
    if (this.loses) parts[SCATTERED] += glass * this.loss.lobe(false);
    chance[SPECULAR] = parts[BASE] + parts[COAT] + parts[SCATTERED];
    if (chance[SPECULAR] > 0) for (let k = 0; k < 3; k++) parts[k] /= chance[SPECULAR];
    const base = luminance(values.base[0], values.base[1], values.base[2]);
    chance[DIFFUSE] = dielectric * (1 - values.transmission) * base * (this.fromInside ? 1 : 1 - face) * below;
    const scattered = this.loses ? this.loss.lobe(true) : 0;
    const through = this.loses ? Math.max(0.01, 1 - reflected - this.loss.lobe(false)) : 1 - reflected;
    this.scatteredThrough = through > 0 ? scattered / through : 0;
    chance[TRANSMISSION] = glass * through * Math.max(values.tint[0], values.tint[1], values.tint[2]);
    const sum = chance[0] + chance[1] + chance[2];
    if (sum > 0) for (let lobe = 0; lobe < LOBES; lobe++) chance[lobe] /= sum;
  }

  /** Whether a direction can be chosen to meet a light: not for smooth lobes. */
  isSpread(lobe: Lobe): boolean {
    if (this.chance[lobe] === 0) return false;
    if (lobe === DIFFUSE) return true;
    if (lobe === TRANSMISSION) return !this.smooth;
    const { parts, values } = this;
    return (
      (parts[BASE] > 0 && !this.smooth) || (parts[COAT] > 0 && values.coatAlpha >= SMOOTH_ALPHA) || parts[SCATTERED] > 0
    );
  }

  /**
   * Chooses a direction of one lobe into wx.., weight and density. False where the sample carries nothing.
   * @param numbers two random ones in [0, 1)
   */
  sample(lobe: Lobe, numbers: Float64Array): boolean {
    const { parts, random: by } = this;
    by[0] = numbers[0];
    by[1] = numbers[1];
    if (lobe === DIFFUSE) return this.sampleWidely(DIFFUSE);
    if (lobe === TRANSMISSION) return this.sampleThrough();
    let part = BASE;
    if (parts[BASE] < 1) {
      // the number that chooses the part is stretched to be used again
      if (by[0] < parts[BASE]) by[0] /= parts[BASE];
      else if (by[0] < parts[BASE] + parts[COAT]) {
        part = COAT;
        by[0] = (by[0] - parts[BASE]) / parts[COAT];
      } else if (parts[SCATTERED] > 0) {
        part = SCATTERED;
        by[0] = Math.min(1 - 2 ** -32, (by[0] - parts[BASE] - parts[COAT]) / parts[SCATTERED]);
      } else part = parts[COAT] > 0 ? COAT : BASE;
    }
    if (part === SCATTERED) return this.sampleWidely(SPECULAR);
    if (part === BASE && (parts[BASE] === 1 || this.smooth)) {
      if (!this.sampleFacet(SPECULAR)) return false;
      if (parts[BASE] < 1) for (let k = 0; k < 3; k++) this.weight[k] /= parts[BASE];
      return true;
    }
    return this.sampleMirror(part);
  }

  /** A direction beyond the surface: by a facet, or scattered more than once. */
  private sampleThrough(): boolean {
    const { random: by, scatteredThrough } = this;
    if (scatteredThrough === 0) return this.sampleFacet(TRANSMISSION);
    if (by[0] < scatteredThrough) {
      by[0] /= scatteredThrough;
      this.sampleCosine(by);
      this.lz = -this.lz;
      this.toWorld();
      return this.onRightSide(TRANSMISSION) && this.evaluateInto(TRANSMISSION);
    }
    by[0] = Math.min(1 - 2 ** -32, (by[0] - scatteredThrough) / (1 - scatteredThrough));
    return this.sampleFacet(TRANSMISSION) && this.evaluateInto(TRANSMISSION);
  }

  /** A reflection by the base or the coat, one of several parts of the specular lobe. */
  private sampleMirror(part: number): boolean {
    const { values } = this;
    const smooth = part === COAT && values.coatAlpha < SMOOTH_ALPHA;
    this.setPartWidths(part);
    if (!this.chooseFacet(this.random) || !this.reflect()) return false;
    this.toWorld();
    if (!this.onRightSide(SPECULAR)) return false;
    if (!smooth) return this.evaluateInto(SPECULAR);
    this.density = 0;
    const weight = (values.coat * fresnelDielectric(this.along, values.coatIor)) / this.parts[COAT];
    this.weight[0] = this.weight[1] = this.weight[2] = weight;
    return true;
  }

  private setPartWidths(part: number): void {
    const { values, widths } = this;
    if (part === COAT) widths[0] = widths[1] = values.coatAlpha < SMOOTH_ALPHA ? 0 : values.coatAlpha;
    else {
      widths[0] = this.smooth ? 0 : values.ax;
      widths[1] = this.smooth ? 0 : values.ay;
    }
  }

  /** Turns the value for the direction just chosen into the weight of a sample. */
  private evaluateInto(lobe: Lobe): boolean {
    if (!this.evaluate(lobe) || !(this.density > 0)) return false;
    for (let k = 0; k < 3; k++) this.weight[k] /= this.density;
    return true;
  }

  /** Base reflection or transmission by a sampled facet; the weight needs no division by the density. */
  private sampleFacet(lobe: Lobe): boolean {
    const { values } = this;
    this.setPartWidths(BASE);
    if (!this.chooseFacet(this.random)) return false;
    const straight = lobe === SPECULAR || values.thin;
    if (!(straight ? this.reflect() : this.refract())) return false;
    // radiance changes with the square of the index (Veach 1997, 5.2)
    this.value = straight ? this.shadowing() : this.shadowing() / this.etaSquared;
    this.setFacetWeight(lobe);
    if (this.smooth) this.density = 0;
    else if (straight) this.setReflectionDensity();
    else this.setRefractionDensity();
    if (straight && lobe === TRANSMISSION) this.lz = -this.lz;
    this.toWorld();
    return this.onRightSide(lobe);
  }

  /** Colour of the base reflection or of the light let through on the facet, times `value`. */
  private setFacetWeight(lobe: Lobe): void {
    const { along, value, values, weight } = this;
    const face = this.faceReflectance(along);
    const glass = this.glassReflectance(face);
    const factor = this.loses ? this.loss.factor(Math.abs(this.lz), lobe === TRANSMISSION) : 1;
    const coat = values.coat > 0 ? Math.sqrt((1 - this.coatOut) * (1 - this.coatIn())) : 1;
    if (lobe === SPECULAR)
      for (let k = 0; k < 3; k++)
        weight[k] = this.specularColorAt(along, face, glass * factor, k) * this.belowCoat(k) * coat * value;
    else {
      const through = (1 - values.metalness) * values.transmission * (1 - glass) * factor * coat * value;
      for (let k = 0; k < 3; k++) weight[k] = through * values.tint[k] * this.belowCoat(k);
    }
  }

  /** Value * cosine of one lobe towards wx.. (unit length), into weight, and its density. False where that is nothing. */
  evaluate(lobe: Lobe): boolean {
    if (!this.isSpread(lobe) || !this.onRightSide(lobe)) return false;
    this.toFrame();
    if (lobe === DIFFUSE) return this.lz > 0 && this.evaluateDiffuse();
    if (lobe === SPECULAR) return this.lz > 0 && this.evaluateSpecular();
    if (this.lz >= 0) return false;
    return this.evaluateThrough();
  }

  private evaluateThrough(): boolean {
    const { loss, scatteredThrough, values, weight } = this;
    this.setPartWidths(BASE);
    if (values.thin) this.lz = -this.lz; // a pane lets through what it would mirror, straight on
    const facet = values.thin ? this.weighReflection() : this.weighRefraction();
    if (facet) this.setFacetWeight(TRANSMISSION);
    if (scatteredThrough === 0) return facet;
    const cosine = Math.abs(this.lz);
    const even = (values.transmission * (1 - values.metalness) * loss.value(cosine, true) * cosine) / Math.PI;
    const coat = values.coat > 0 ? Math.sqrt((1 - this.coatOut) * (1 - this.coatIn())) : 1;
    for (let k = 0; k < 3; k++) weight[k] = (facet ? weight[k] : 0) + even * values.tint[k] * coat * this.belowCoat(k);
    this.density = (facet ? (1 - scatteredThrough) * this.density : 0) + (scatteredThrough * cosine) / Math.PI;
    return true;
  }

  /** Lambert, or rough, below reflecting layers: reciprocal, and of albedo 1 together with them for a white base. */
  private evaluateDiffuse(): boolean {
    const { inPlace, lx, ly, lz, values, view, weight } = this;
    this.density = lz / Math.PI;
    const between = view[0] * lx + view[1] * ly + view[2] * lz;
    const scale = (1 - values.metalness) * (1 - values.transmission) * this.density;
    inPlace.setCosine(lz);
    const albedoIn = this.fromInside
      ? 0
      : inPlace.read(this.table.albedos, this.surface * ALBEDOS.count * ALBEDO_STRIDE);
    const coat = values.coat > 0 ? ((1 - this.coatOut) * (1 - this.coatIn())) / (1 - this.coatMean) : 1;
    const rough = values.diffuseRoughness;
    for (let k = 0; k < 3; k++) {
      const s = values.specularWeight * values.specularColor[k];
      const layer = ((1 - s * this.albedoOut) * (1 - s * albedoIn)) / (1 - s * this.albedoMean);
      const base = rough === 0 ? values.base[k] : roughDiffuse(values.base[k], view[2], lz, between, rough);
      weight[k] = scale * base * layer * coat * this.belowCoat(k);
    }
    if (this.dimmed) for (let k = 0; k < 3; k++) weight[k] *= this.dim[k];
    return true;
  }

  /** All spread parts of the specular lobe. */
  private evaluateSpecular(): boolean {
    const { inPlace, lz, parts, values, weight } = this;
    weight[0] = weight[1] = weight[2] = 0;
    let density = 0;
    this.setPartWidths(BASE);
    if (parts[BASE] > 0 && !this.smooth && this.weighReflection()) {
      this.setFacetWeight(SPECULAR);
      density = parts[BASE] * this.density;
    }
    if (parts[COAT] > 0 && values.coatAlpha >= SMOOTH_ALPHA) {
      this.setPartWidths(COAT);
      if (this.weighReflection()) {
        const value = values.coat * fresnelDielectric(this.along, values.coatIor) * this.value;
        for (let k = 0; k < 3; k++) weight[k] += value;
        density += parts[COAT] * this.density;
      }
    }
    if (parts[SCATTERED] > 0) {
      // Kulla & Conty 2017: what single scattering leaves, evenly, coloured by all the reflections in between
      inPlace.setCosine(lz);
      const lost = (1 - this.mirrorOut) * (1 - inPlace.read(this.mirror, 0));
      const even = this.mirrorMean < 1 ? (values.metalness * lost * (lz / Math.PI)) / (1 - this.mirrorMean) : 0;
      const coat = values.coat > 0 ? Math.sqrt((1 - this.coatOut) * (1 - this.coatIn())) : 1;
      const glass = this.loses ? (1 - values.metalness) * values.transmission * this.loss.value(lz, false) * (lz / Math.PI) : 0; // prettier-ignore
      for (let k = 0; k < 3; k++) {
        const mean = (20 * values.base[k] + 1) / 21; // of Schlick's formula over the hemisphere
        const again = (mean * mean * this.mirrorMean) / (1 - mean * (1 - this.mirrorMean));
        weight[k] += (even * again + glass) * coat * this.belowCoat(k);
      }
      density += (parts[SCATTERED] * lz) / Math.PI;
    }
    this.density = density;
    return density > 0;
  }

  /** A direction about the normal, for what scatters widely. */
  private sampleWidely(lobe: Lobe): boolean {
    this.sampleCosine(this.random);
    return this.lz > 0 && this.evaluateInto(lobe);
  }

  private onRightSide(lobe: Lobe): boolean {
    const side = this.wx * this.gx + this.wy * this.gy + this.wz * this.gz;
    return lobe === TRANSMISSION ? side < 0 : side > 0;
  }
}
