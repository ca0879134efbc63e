// One point of a surface, ready to be shaded: a frame, the parameters there, and three lobes (diffuse, specular,
// transmission) that can each be sampled and evaluated alone, so that a component can be followed by itself.
// One object is filled again for every hit; nothing is allocated.
import { luminance } from '../color/index.ts';
import { ALBEDO_STRIDE, albedoAt, correlatedOverSingle, meanAlbedo } from './albedoTable.ts';
import { fresnelDielectric, fresnelMetal, paneReflectance } from './fresnel.ts';
import { ggxDensity, ggxMasking, sampleVisibleNormal } from './ggx.ts';
import { SURFACE_STRIDE, type SurfaceTable } from './surfaceTable.ts';
import { lookUpTexture, type TextureStore } from './textures.ts';

export const DIFFUSE = 0;
export const SPECULAR = 1;
export const TRANSMISSION = 2;
export const LOBES = 3;
export type Lobe = 0 | 1 | 2;

/** Below this alpha a lobe is a perfect mirror or a perfectly smooth boundary. */
const SMOOTH_ALPHA = 5e-4;

export class SurfacePoint {
  // position, geometric and shading normal (both on the viewer's side), tangents
  px = 0;
  py = 0;
  pz = 0;
  gx = 0;
  gy = 0;
  gz = 1;
  nx = 0;
  ny = 0;
  nz = 1;
  private tx = 1;
  private ty = 0;
  private tz = 0;
  private bx = 0;
  private by = 1;
  private bz = 0;
  // direction to the viewer in that frame
  private ox = 0;
  private oy = 0;
  private oz = 1;
  surface = 0;
  /** The viewer is on the back of the surface. */
  inside = false;
  private roughness = 0;
  private alpha = 0;
  smooth = false;
  private eta = 1;
  private thin = false;
  private metalness = 0;
  private specularWeight = 1;
  private transmission = 0;
  private albedoOut = 0;
  private albedoMean = 0;
  private readonly base = new Float64Array(3);
  private readonly specularColor = new Float64Array(3);
  private readonly tint = new Float64Array(3);
  readonly emission = new Float64Array(3);
  /** Chance of each lobe where only one is followed; sums to 1, or all 0 for a black surface. */
  readonly chance = new Float64Array(LOBES);
  // results of sample() and evaluate()
  wx = 0;
  wy = 0;
  wz = 0;
  /** sample: value * cosine / density; evaluate: value * cosine. RGB. */
  readonly weight = new Float64Array(3);
  /** Of the direction within its lobe, per steradian; 0 after sampling a smooth lobe. */
  density = 0;

  private readonly normal = new Float64Array(3);
  private readonly looked = new Float64Array(3);

  constructor(
    private readonly surfaces: SurfaceTable,
    private readonly textures: TextureStore,
  ) {}

  /**
   * Position px.., geometric normal gx.. and shading normal nx.. (front side, unit length) have been set; this turns
   * them to the viewer and reads the surface.
   * @param dx.. direction of the arriving ray, unit length
   */
  // prettier-ignore
  prepare(surface: number, dx: number, dy: number, dz: number, u: number, v: number): void {
    const values = this.surfaces.values;
    const s = surface * SURFACE_STRIDE;
    this.surface = surface;
    this.inside = this.gx * dx + this.gy * dy + this.gz * dz > 0;
    if (this.inside) {
      this.gx = -this.gx; this.gy = -this.gy; this.gz = -this.gz;
      this.nx = -this.nx; this.ny = -this.ny; this.nz = -this.nz;
    }
    if (this.nx * dx + this.ny * dy + this.nz * dz > -1e-6) {
      // an interpolated normal that faces away from the viewer says nothing: use the real one
      this.nx = this.gx; this.ny = this.gy; this.nz = this.gz;
    }
    this.makeFrame();
    this.ox = -(dx * this.tx + dy * this.ty + dz * this.tz);
    this.oy = -(dx * this.bx + dy * this.by + dz * this.bz);
    this.oz = Math.max(1e-6, -(dx * this.nx + dy * this.ny + dz * this.nz));

    this.thin = values[s + 20] > 0;
    this.metalness = values[s + 3];
    this.specularWeight = values[s + 4];
    this.roughness = values[s + 8];
    this.transmission = values[s + 10];
    for (let k = 0; k < 3; k++) {
      this.base[k] = values[s + k];
      this.specularColor[k] = values[s + 5 + k];
      this.tint[k] = values[s + 14 + k];
      this.emission[k] = values[s + 17 + k];
    }
    const looked = this.looked;
    if (values[s + 21] >= 0) {
      lookUpTexture(this.textures, values[s + 21], u, v, looked);
      for (let k = 0; k < 3; k++) this.base[k] *= looked[k];
    }
    if (values[s + 22] >= 0) {
      lookUpTexture(this.textures, values[s + 22], u, v, looked);
      for (let k = 0; k < 3; k++) this.emission[k] *= looked[k];
    }
    if (values[s + 23] >= 0) { // glTF 2.0, 3.9.2: roughness in green, metalness in blue
      lookUpTexture(this.textures, values[s + 23], u, v, looked);
      this.roughness *= looked[1];
      this.metalness *= looked[2];
    }
    this.alpha = this.roughness * this.roughness;
    this.smooth = this.alpha < SMOOTH_ALPHA;
    const ior = values[s + 9];
    this.eta = this.inside && !this.thin && this.transmission > 0 ? 1 / ior : ior;
    const table = this.surface * ALBEDO_STRIDE;
    this.albedoOut = albedoAt(this.surfaces.albedos, table, this.oz, this.roughness);
    this.albedoMean = meanAlbedo(this.surfaces.albedos, table, this.roughness);
    this.setChances();
  }

  private setChances(): void {
    const chance = this.chance;
    const dielectric = 1 - this.metalness;
    const reflected = this.reflectance(this.oz);
    chance[SPECULAR] = 0;
    for (let k = 0; k < 3; k++)
      chance[SPECULAR] = Math.max(chance[SPECULAR], this.specularColorAt(this.oz, reflected, k));
    const base = luminance(this.base[0], this.base[1], this.base[2]);
    chance[DIFFUSE] = dielectric * (1 - this.transmission) * base * (1 - reflected);
    chance[TRANSMISSION] =
      dielectric * this.transmission * (1 - reflected) * Math.max(this.tint[0], this.tint[1], this.tint[2]);
    const sum = chance[0] + chance[1] + chance[2];
    if (sum > 0) for (let lobe = 0; lobe < LOBES; lobe++) chance[lobe] /= sum;
  }

  /** Share that a dielectric facet reflects, 0..1; the specular weight cannot take away total reflection. */
  private reflectance(cosine: number): number {
    const face = fresnelDielectric(cosine, this.eta);
    if (face === 1) return 1;
    return this.specularWeight * (this.thin && this.transmission > 0 ? paneReflectance(face) : face);
  }

  private specularColorAt(cosine: number, reflected: number, k: number): number {
    const dielectric = (1 - this.metalness) * reflected * (reflected === 1 ? 1 : this.specularColor[k]);
    return dielectric + this.metalness * fresnelMetal(cosine, this.base[k]);
  }

  /** Square of the index beyond over the one before, by which refraction divides radiance. */
  get etaSquared(): number {
    return this.eta * this.eta;
  }

  /** Whether a direction can be chosen to meet a light: not for smooth lobes. */
  isSpread(lobe: Lobe): boolean {
    return this.chance[lobe] > 0 && (lobe === DIFFUSE || !this.smooth);
  }

  /** Chooses a direction of one lobe into wx.., weight and density. False where the sample carries nothing. */
  sample(lobe: Lobe, u: number, v: number): boolean {
    if (lobe === DIFFUSE) return this.sampleDiffuse(u, v);
    const m = this.normal;
    if (this.smooth) {
      m[0] = 0;
      m[1] = 0;
      m[2] = 1;
    } else sampleVisibleNormal(m, this.ox, this.oy, this.oz, this.alpha, u, v);
    const along = this.ox * m[0] + this.oy * m[1] + this.oz * m[2];
    if (along <= 0) return false;
    const reflected = this.reflectance(along);
    const straight = lobe === SPECULAR || this.thin;
    let x: number;
    let y: number;
    let z: number;
    let scale = 1;
    if (straight) {
      x = 2 * along * m[0] - this.ox;
      y = 2 * along * m[1] - this.oy;
      z = 2 * along * m[2] - this.oz;
      if (z <= 0) return false;
    } else {
      const sine2 = (1 - along * along) / (this.eta * this.eta);
      if (sine2 >= 1) return false;
      const beyond = Math.sqrt(1 - sine2);
      const k = along / this.eta - beyond;
      x = k * m[0] - this.ox / this.eta;
      y = k * m[1] - this.oy / this.eta;
      z = k * m[2] - this.oz / this.eta;
      if (z >= 0) return false;
      scale = 1 / this.etaSquared; // radiance changes with the square of the index (Veach 1997, 5.2)
    }
    const masking = this.smooth ? 1 : correlatedOverSingle(this.oz, Math.abs(z), this.alpha);
    const weight = this.weight;
    if (lobe === SPECULAR) for (let k = 0; k < 3; k++) weight[k] = this.specularColorAt(along, reflected, k) * masking;
    else {
      const through = (1 - this.metalness) * this.transmission * (1 - reflected) * masking * scale;
      for (let k = 0; k < 3; k++) weight[k] = through * this.tint[k];
    }
    if (this.smooth) this.density = 0;
    else {
      const visible = (ggxMasking(this.oz, this.alpha) * ggxDensity(m[2], this.alpha) * along) / this.oz;
      this.density = straight ? visible / (4 * along) : visible * this.refractionJacobian(x, y, z, along, m);
    }
    if (straight && lobe === TRANSMISSION) z = -z;
    this.toWorld(x, y, z);
    return this.onRightSide(lobe);
  }

  /** Adds the plain colour of the surface: the base, or for glass its tint. */
  addAlbedo(out: Float64Array | Float32Array, at: number): void {
    const glass = (1 - this.metalness) * this.transmission;
    for (let k = 0; k < 3; k++) out[at + k] += (1 - glass) * this.base[k] + glass * this.tint[k];
  }

  /** Value * cosine of one lobe towards a unit direction, into weight, and its density. False where that is nothing. */
  evaluate(lobe: Lobe, wx: number, wy: number, wz: number): boolean {
    if (!this.isSpread(lobe)) return false;
    this.wx = wx;
    this.wy = wy;
    this.wz = wz;
    if (!this.onRightSide(lobe)) return false;
    const x = wx * this.tx + wy * this.ty + wz * this.tz;
    const y = wx * this.bx + wy * this.by + wz * this.bz;
    let z = wx * this.nx + wy * this.ny + wz * this.nz;
    if (lobe === DIFFUSE) {
      if (z <= 0) return false;
      this.diffuseWeight(z, z / Math.PI);
      this.density = z / Math.PI;
      return true;
    }
    if (lobe === TRANSMISSION && this.thin) z = -z;
    if (lobe === SPECULAR || this.thin) return z > 0 && this.evaluateMirrored(lobe, x, y, z);
    return z < 0 && this.evaluateRefracted(x, y, z);
  }

  private evaluateMirrored(lobe: Lobe, x: number, y: number, z: number): boolean {
    const hx = this.ox + x;
    const hy = this.oy + y;
    const hz = this.oz + z;
    const length = Math.sqrt(hx * hx + hy * hy + hz * hz);
    const along = (this.ox * hx + this.oy * hy + this.oz * hz) / length;
    if (!(along > 0)) return false;
    const single = ggxMasking(this.oz, this.alpha);
    this.density = (single * ggxDensity(hz / length, this.alpha)) / (4 * this.oz);
    const scale = this.density * correlatedOverSingle(this.oz, z, this.alpha);
    const reflected = this.reflectance(along);
    for (let k = 0; k < 3; k++)
      this.weight[k] =
        scale *
        (lobe === SPECULAR
          ? this.specularColorAt(along, reflected, k)
          : (1 - this.metalness) * this.transmission * (1 - reflected) * this.tint[k]);
    return true;
  }

  /** Walter et al. 2007, eq. 16 and 21, in the form that carries radiance. */
  private evaluateRefracted(x: number, y: number, z: number): boolean {
    const m = this.normal;
    m[0] = -(this.ox + this.eta * x);
    m[1] = -(this.oy + this.eta * y);
    m[2] = -(this.oz + this.eta * z);
    const length = Math.sqrt(m[0] * m[0] + m[1] * m[1] + m[2] * m[2]) * (m[2] < 0 ? -1 : 1);
    for (let k = 0; k < 3; k++) m[k] /= length;
    const along = this.ox * m[0] + this.oy * m[1] + this.oz * m[2];
    const beyond = x * m[0] + y * m[1] + z * m[2];
    if (!(along > 0 && beyond < 0)) return false;
    const visible = (ggxMasking(this.oz, this.alpha) * ggxDensity(m[2], this.alpha) * along) / this.oz;
    this.density = visible * this.refractionJacobian(x, y, z, along, m);
    const through = ((1 - this.metalness) * this.transmission * (1 - this.reflectance(along))) / (this.eta * this.eta);
    const scale = this.density * through * correlatedOverSingle(this.oz, -z, this.alpha);
    for (let k = 0; k < 3; k++) this.weight[k] = scale * this.tint[k];
    return true;
  }

  private refractionJacobian(x: number, y: number, z: number, along: number, m: Float64Array): number {
    const beyond = x * m[0] + y * m[1] + z * m[2];
    const sum = along + this.eta * beyond;
    return (this.eta * this.eta * Math.abs(beyond)) / (sum * sum);
  }

  private sampleDiffuse(u: number, v: number): boolean {
    const r = Math.sqrt(u);
    const angle = 2 * Math.PI * v;
    const z = Math.sqrt(Math.max(0, 1 - u));
    if (z <= 0) return false;
    this.diffuseWeight(z, 1);
    this.density = z / Math.PI;
    this.toWorld(r * Math.cos(angle), r * Math.sin(angle), z);
    return this.onRightSide(DIFFUSE);
  }

  /** Lambert below a reflecting layer: reciprocal, and of albedo 1 together with the reflection for a white base. */
  private diffuseWeight(cosine: number, scale: number): void {
    const part = (1 - this.metalness) * (1 - this.transmission) * scale;
    const albedoIn = albedoAt(this.surfaces.albedos, this.surface * ALBEDO_STRIDE, cosine, this.roughness);
    for (let k = 0; k < 3; k++) {
      const s = this.specularWeight * this.specularColor[k];
      const layer = ((1 - s * this.albedoOut) * (1 - s * albedoIn)) / (1 - s * this.albedoMean);
      this.weight[k] = part * this.base[k] * layer;
    }
  }

  private onRightSide(lobe: Lobe): boolean {
    const side = this.wx * this.gx + this.wy * this.gy + this.wz * this.gz;
    return lobe === TRANSMISSION ? side < 0 : side > 0;
  }

  private toWorld(x: number, y: number, z: number): void {
    this.wx = x * this.tx + y * this.bx + z * this.nx;
    this.wy = x * this.ty + y * this.by + z * this.ny;
    this.wz = x * this.tz + y * this.bz + z * this.nz;
  }

  /** Tangents without a special case (Duff et al. 2017, "Building an Orthonormal Basis, Revisited"). */
  private makeFrame(): void {
    const sign = this.nz >= 0 ? 1 : -1;
    const a = -1 / (sign + this.nz);
    const b = this.nx * this.ny * a;
    this.tx = 1 + sign * this.nx * this.nx * a;
    this.ty = sign * b;
    this.tz = -sign * this.nx;
    this.bx = b;
    this.by = sign + this.ny * this.ny * a;
    this.bz = -this.ny;
  }
}
