// The parameters of a surface at one place: the numbers of its table with its maps laid over. Filled again for every hit.
import { SURFACE, type SurfaceTable } from './surfaceTable.ts';
import { lookUpTexture, textureSize, uvSetOf, type TextureStore } from './textures.ts';

/** Below this width a lobe is a perfect mirror or a perfectly smooth boundary. */
export const SMOOTH_ALPHA = 5e-4;

export class SurfaceValues {
  // two UV sets, // 0..1 first, 2..3 second, and the width of the look-up in UV
  readonly uv = new Float64Array(4);
  footprint = 0;
  /** Of the face, in UV: the side of a square as large as the face and its neighbor. */
  spacing = 0;
  /** Of the object: metres in the world for one of its mesh. */
  stretch = 1;

  metalness = 0;
  specularWeight = 1;
  roughness = 0;
  /** Widths of the facets along the tangent and across it. */
  ax = 0;
  ay = 0;
  smooth = false;
  transmission = 0;
  thin = false;
  diffuseRoughness = 0;
  anisotropy = 0;
  coat = 0;
  coatAlpha = 0;
  coatRoughness = 0;
  coatIor = 1.5;
  readonly base = new Float64Array(3);
  readonly specularColor = new Float64Array(3);
  readonly tint = new Float64Array(3);
  readonly coatColor = new Float64Array(3);
  readonly emission = new Float64Array(3);
  private readonly looked = new Float64Array(4);
  private readonly coarse = new Float64Array(2);
  private lastRead = -1;
  private lastFloor = 0;

  constructor(
    readonly table: SurfaceTable,
    private readonly textures: TextureStore,
  ) {}

  /** @param roughnessFloor no reflecting lobe is smoother than this, 0..1 */
  read(surface: number, roughnessFloor: number): void {
    const { values } = this.table;
    const s = surface * SURFACE.stride;
    if (surface === this.lastRead && roughnessFloor === this.lastFloor) return;
    // only what does not depend on the place is still right the next time
    this.lastRead = values[s + SURFACE.mapped] > 0 ? -1 : surface;
    this.lastFloor = roughnessFloor;
    this.thin = values[s + SURFACE.thin] > 0;
    this.metalness = values[s + SURFACE.metalness];
    this.specularWeight = values[s + SURFACE.specularWeight];
    this.roughness = values[s + SURFACE.roughness];
    this.transmission = values[s + SURFACE.transmission];
    this.diffuseRoughness = values[s + SURFACE.diffuseRoughness];
    this.coat = values[s + SURFACE.coat];
    for (let k = 0; k < 3; k++) {
      this.base[k] = values[s + SURFACE.baseColor + k];
      this.specularColor[k] = values[s + SURFACE.specularColor + k];
      this.tint[k] = values[s + SURFACE.tint + k];
      this.emission[k] = values[s + SURFACE.emission + k];
    }
    const { looked } = this;
    if (this.look(s + SURFACE.baseMap))
      for (let k = 0; k < 3; k++) {
        this.base[k] *= looked[k];
        this.tint[k] *= this.transmission > 0 ? looked[k] : 1;
      }
    if (this.look(s + SURFACE.emissionMap)) for (let k = 0; k < 3; k++) this.emission[k] *= looked[k];
    // glTF 2.0, 3.9.2: roughness in green, metalness in blue
    if (this.look(s + SURFACE.metalRoughMap)) {
      this.roughness *= looked[1];
      this.metalness *= looked[2];
    }
    // KHR_materials_transmission: red; _specular: alpha and RGB
    if (this.look(s + SURFACE.transmissionMap)) this.transmission *= looked[0];
    if (this.look(s + SURFACE.specularMap)) this.specularWeight *= looked[3];
    if (this.look(s + SURFACE.specularColorMap)) for (let k = 0; k < 3; k++) this.specularColor[k] *= looked[k];
    this.roughness = Math.max(this.roughness, roughnessFloor);
    const alpha = this.roughness * this.roughness;
    this.anisotropy = values[s + SURFACE.anisotropy];
    this.ax = this.ay = alpha;
    if (this.anisotropy > 0 && alpha >= SMOOTH_ALPHA) {
      // OpenPBR Surface: the mean square of both widths stays that of the isotropic lobe
      const across = 1 - this.anisotropy;
      this.ax = alpha * Math.sqrt(2 / (1 + across * across));
      this.ay = Math.max(SMOOTH_ALPHA, across * this.ax);
    }
    this.smooth = alpha < SMOOTH_ALPHA;
    if (this.coat > 0) this.readCoat(s, roughnessFloor);
  }

  private readCoat(s: number, roughnessFloor: number): void {
    const { values } = this.table;
    const { looked } = this;
    // KHR_materials_clearcoat: weight in red, roughness in green
    if (this.look(s + SURFACE.coatMap)) this.coat *= looked[0];
    this.coatRoughness = values[s + SURFACE.coatRoughness];
    if (this.look(s + SURFACE.coatRoughnessMap)) this.coatRoughness *= looked[1];
    this.coatRoughness = Math.max(this.coatRoughness, roughnessFloor);
    this.coatAlpha = this.coatRoughness * this.coatRoughness;
    this.coatIor = values[s + SURFACE.coatIor];
    for (let k = 0; k < 3; k++) this.coatColor[k] = 1 - this.coat * (1 - values[s + SURFACE.coatColor + k]);
  }

  /**
   * What goes straight through the surface of a pane, RGB: its transmission times its tint, with their maps, without what it
   * reflects. Asks for nothing but the UVs of the place.
   */
  readThrough(surface: number, out: Float64Array): void {
    const { looked } = this;
    const { values } = this.table;
    const s = surface * SURFACE.stride;
    let transmission = values[s + SURFACE.transmission];
    let metalness = values[s + SURFACE.metalness];
    if (values[s + SURFACE.mapped] > 0 && this.look(s + SURFACE.transmissionMap)) transmission *= looked[0];
    if (values[s + SURFACE.mapped] > 0 && this.look(s + SURFACE.metalRoughMap)) metalness *= looked[2];
    const through = transmission * (1 - metalness);
    const colored = values[s + SURFACE.mapped] > 0 && this.look(s + SURFACE.baseMap);
    for (let k = 0; k < 3; k++) out[k] = through * values[s + SURFACE.tint + k] * (colored ? looked[k] : 1);
  }

  /** What the normal map says, in tangent space; false where there is none. */
  readNormal(surface: number, out: Float64Array): boolean {
    const s = surface * SURFACE.stride;
    if (!this.look(s + SURFACE.normalMap)) return false;
    const strength = this.table.values[s + SURFACE.normalStrength];
    out[0] = (this.looked[0] * 2 - 1) * strength;
    out[1] = (this.looked[1] * 2 - 1) * strength;
    out[2] = Math.max(0.01, this.looked[2] * 2 - 1);
    return true;
  }

  /**
   * Slope of the bump map at the place: change of its height in metres with u and v, into out[0..1]. False where there
   * is none, or it is even. Differences are taken over the look-up's width, and not over less than a texel. Of a map that
   * displaces as well, what the faces show already is taken off: its slope over the distance of their vertices.
   */
  readSlope(surface: number, out: Float64Array): boolean {
    const s = surface * SURFACE.stride;
    const { coarse, footprint, spacing, stretch, table, textures } = this;
    const map = table.values[s + SURFACE.bumpMap];
    const strength = table.values[s + SURFACE.bumpStrength];
    if (map < 0 || strength === 0) return false;
    const step = Math.max(footprint, 1 / textureSize(textures, map));
    if (table.values[s + SURFACE.bumpFine] === 0) this.slopeOver(map, strength, step, footprint, out);
    else {
      if (spacing <= step) return false;
      this.slopeOver(map, strength * stretch, step, footprint, out);
      this.slopeOver(map, strength * stretch, spacing, spacing, coarse);
      out[0] -= coarse[0];
      out[1] -= coarse[1];
    }
    return out[0] !== 0 || out[1] !== 0;
  }

  private slopeOver(map: number, strength: number, step: number, footprint: number, out: Float64Array): void {
    const { looked, textures, uv } = this;
    const set = uvSetOf(textures, map) * 2;
    for (let k = 0; k < 2; k++) {
      lookUpTexture(textures, map, uv[set] + (k === 0 ? step / 2 : 0), uv[set + 1] + (k === 1 ? step / 2 : 0), footprint, looked); // prettier-ignore
      const above = looked[0];
      lookUpTexture(textures, map, uv[set] - (k === 0 ? step / 2 : 0), uv[set + 1] - (k === 1 ? step / 2 : 0), footprint, looked); // prettier-ignore
      out[k] = (strength * (above - looked[0])) / step;
    }
  }

  /** Share of the light that the surface stops at all, 0..1. */
  readOpacity(surface: number): number {
    const { values } = this.table;
    const s = surface * SURFACE.stride;
    let opacity = values[s + SURFACE.opacity];
    if (this.look(s + SURFACE.opacityMap)) opacity *= this.looked[3];
    const cutoff = values[s + SURFACE.cutoff];
    return cutoff > 0 ? (opacity < cutoff ? 0 : 1) : opacity;
  }

  private look(place: number): boolean {
    const map = this.table.values[place];
    if (map < 0) return false;
    const set = uvSetOf(this.textures, map) * 2;
    lookUpTexture(this.textures, map, this.uv[set], this.uv[set + 1], this.footprint, this.looked);
    return true;
  }
}
