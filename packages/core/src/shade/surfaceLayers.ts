// What lies on a surface at one place, towards one viewer: the frame turned to him, the parameters, the reflectances of base,
// glass and coat, and the albedos by which the layers below a reflecting one are dimmed.
import { ALBEDO_STRIDE, AlbedoPlace, mirrorAlbedos } from './albedoTable.ts';
import { Facets } from './facets.ts';
import { fresnelDielectric, fresnelMetal, paneReflectance } from './fresnel.ts';
import { InterfaceLoss } from './interfaceLoss.ts';
import type { Direction } from './ray.ts';
import { ALBEDOS, SURFACE, type SurfaceTable } from './surfaceTable.ts';
import { SurfaceValues } from './surfaceValues.ts';
import type { TextureStore } from './textures.ts';

export class SurfaceLayers extends Facets {
  readonly values: SurfaceValues;
  surface = 0;
  /** Index beyond the boundary over the one before it for a transmitting surface; 0: that of the surface against air. */
  relativeIor = 0;
  /** No reflecting lobe is smoother than this. */
  roughnessFloor = 0;
  /** The viewer is on the back of the surface. */
  inside = false;
  /** The viewer is in the body that the surface bounds: its diffuse part lies on the inside without a reflecting layer. */
  protected fromInside = false;
  protected albedoOut = 0;
  protected albedoMean = 0;
  /** What rough glass, or a rough pane, loses by single scattering; asked only where `loses`. */
  protected readonly loss = new InterfaceLoss();
  protected loses = false;
  /** One smooth facet: the surface is smooth, or does not refract. */
  protected smooth = false;
  /** Albedo of single scattering for a metal that reflects everything: for this view, and its mean. */
  protected mirrorOut = 1;
  protected mirrorMean = 1;
  protected coatOut = 0;
  protected coatMean = 0;
  private readonly normal = new Float64Array(3);
  // places in the tables of albedos for the viewer and for the other direction, of the base and of the coat
  protected readonly outPlace = new AlbedoPlace();
  protected readonly inPlace = new AlbedoPlace();
  private readonly coatPlace = new AlbedoPlace();
  protected readonly mirror = mirrorAlbedos();

  constructor(
    protected readonly table: SurfaceTable,
    textures: TextureStore,
  ) {
    super();
    this.values = new SurfaceValues(table, textures);
  }

  get emission(): Float64Array {
    return this.values.emission;
  }

  /** Turns the frame to the viewer of an arriving ray and reads the surface. */
  protected readLayers(surface: number, arriving: Direction): void {
    const { values, relativeIor } = this;
    const { dx, dy, dz } = arriving;
    const s = surface * SURFACE.stride;
    this.surface = surface;
    values.read(surface, this.roughnessFloor);
    this.inside = this.gx * dx + this.gy * dy + this.gz * dz > 0;
    const mapped = values.readNormal(surface, this.normal);
    const angle = this.table.values[s + SURFACE.anisotropyAngle];
    const turned = values.anisotropy > 0;
    this.makeFrame(mapped || turned, turned ? angle : 0);
    if (mapped) {
      this.tilt(this.normal);
      this.makeFrame(turned, angle);
    }
    if (values.readSlope(surface, this.normal)) {
      this.tiltBySlope(this.normal);
      this.makeFrame(turned, angle);
    }
    if (this.inside) this.turnOver();
    if (this.nx * dx + this.ny * dy + this.nz * dz > -1e-6) {
      // a normal that faces away from the viewer says nothing: use the real one
      this.nx = this.gx;
      this.ny = this.gy;
      this.nz = this.gz;
      this.makeFrame(turned, angle);
    }
    const { view } = this;
    view[0] = -(dx * this.tx + dy * this.ty + dz * this.tz);
    view[1] = -(dx * this.bx + dy * this.by + dz * this.bz);
    view[2] = Math.max(1e-6, -(dx * this.nx + dy * this.ny + dz * this.nz));

    const ior = this.table.values[s + SURFACE.ior + 1];
    if (relativeIor > 0) this.eta = relativeIor;
    else this.eta = this.inside && !values.thin && values.transmission > 0 ? 1 / ior : ior;
    this.smooth = values.smooth || (this.bounds && Math.abs(this.eta - 1) < 1e-9);
    this.readAlbedos();
  }

  private readAlbedos(): void {
    const { coatPlace, inPlace, outPlace, values, view } = this;
    const { albedos } = this.table;
    const at = this.surface * ALBEDOS.count * ALBEDO_STRIDE;
    const isDiffuse = values.metalness < 1 && values.transmission < 1;
    if (isDiffuse || values.metalness > 0) {
      outPlace.setRoughness(values.roughness);
      inPlace.setRoughness(values.roughness);
      outPlace.setCosine(view[2]);
    }
    this.fromInside = this.inside && this.bounds;
    this.albedoOut = this.albedoMean = 0;
    if (isDiffuse && !this.fromInside) {
      this.albedoOut = outPlace.read(albedos, at + ALBEDOS.reflection * ALBEDO_STRIDE);
      this.albedoMean = outPlace.readMean(albedos, at + ALBEDOS.reflection * ALBEDO_STRIDE);
    }
    this.loses = values.transmission > 0 && !this.smooth;
    if (this.loses) this.loss.set(values.roughness, this.eta, values.thin, view[2]);
    this.mirrorMean = 1;
    if (values.metalness > 0 && !this.smooth) {
      this.mirrorOut = outPlace.read(this.mirror, 0);
      this.mirrorMean = outPlace.readMean(this.mirror, 0);
    }
    this.coatOut = this.coatMean = 0;
    if (values.coat > 0) {
      const coat = at + ALBEDOS.coat * ALBEDO_STRIDE;
      coatPlace.setRoughness(values.coatRoughness);
      coatPlace.setCosine(view[2]);
      this.coatOut = values.coat * coatPlace.read(albedos, coat);
      this.coatMean = values.coat * coatPlace.readMean(albedos, coat);
    }
  }

  protected belowCoat(k: number): number {
    return this.values.coat > 0 ? this.values.coatColor[k] : 1;
  }

  /** Share that a dielectric facet reflects, 0..1; the specular weight cannot take away total reflection. */
  protected faceReflectance(cosine: number): number {
    const face = fresnelDielectric(cosine, this.eta);
    return face === 1 ? 1 : this.values.specularWeight * face;
  }

  /** The same of the part of the surface that transmits: one face, or both of a pane. */
  protected glassReflectance(face: number): number {
    const { specularWeight, thin } = this.values;
    return thin && face < 1 ? specularWeight * paneReflectance(face / (specularWeight || 1)) : face;
  }

  /** @param face reflectance of one face. glass: what the part that transmits reflects */
  protected specularColorAt(cosine: number, face: number, glass: number, k: number): number {
    const { metalness, specularColor, base, transmission } = this.values;
    const opaque = this.fromInside ? 0 : (1 - transmission) * face;
    const reflected = transmission === 0 ? face : opaque + transmission * glass;
    const dielectric = (1 - metalness) * reflected * (face === 1 ? 1 : specularColor[k]);
    return metalness === 0 ? dielectric : dielectric + metalness * fresnelMetal(cosine, base[k]);
  }

  /** Square of the index beyond over the one before, by which refraction divides radiance. */
  get etaSquared(): number {
    return this.eta * this.eta;
  }

  /** Whether the boundary lets light through into a medium. */
  get bounds(): boolean {
    return this.values.transmission > 0 && !this.values.thin;
  }

  /** Albedo of the coat from the other direction. */
  protected coatIn(): number {
    const at = (this.surface * ALBEDOS.count + ALBEDOS.coat) * ALBEDO_STRIDE;
    this.coatPlace.setCosine(Math.abs(this.lz));
    return this.values.coat * this.coatPlace.read(this.table.albedos, at);
  }

  /** Adds the plain colour of the surface: the base, or for glass its tint. */
  addAlbedo(out: Float64Array | Float32Array, at: number): void {
    const { metalness, transmission, base, tint } = this.values;
    const glass = (1 - metalness) * transmission;
    for (let k = 0; k < 3; k++) out[at + k] += (1 - glass) * base[k] + glass * tint[k];
  }
}
