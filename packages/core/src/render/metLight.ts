// The other half of multiple importance sampling: light that the rays of a path meet.
import {
  environmentAt,
  LIGHT,
  LightSample,
  meetLight,
  setEmitterDensity,
  SURFACE,
  type SurfacePoint,
} from '../shade/index.ts';
import type { CompiledScene } from './compile.ts';
import { OBJECT } from './compileGeometry.ts';
import { attenuation, type Flight } from './flight.ts';
import { LampFinder } from './lampFinder.ts';
import type { LightUnits } from './lightUnits.ts';
import { BACKGROUND_SOURCE, SKY_SOURCE, SURFACE_SOURCE, type Path } from './path.ts';

export class MetLight {
  private readonly lamps: LampFinder;
  private readonly light = new LightSample();
  private readonly colour = new Float64Array(3);

  constructor(
    private readonly scene: CompiledScene,
    private readonly units: LightUnits,
  ) {
    this.lamps = new LampFinder(scene.lights);
  }

  /**
   * Lights with a shape of their own on the stretch path.from .. path.to of the ray.
   * @param medium first number of the surface whose inside it leads through, or -1; flight: how it goes through scattering
   * media, where it is followed
   */
  meetLights(path: Path, component: number, medium: number, scatters: boolean, flight: Flight | null): void {
    const { scene, colour, light } = this;
    const table = scene.lights.values;
    const camera = path.events === 0;
    const { found, count } = this.lamps;
    for (let n = 0; n < count; n++) {
      const i = found[n];
      light.distance = path.to;
      if (!meetLight(table, i, path, light) || light.distance < path.from) continue;
      const at = i * LIGHT.stride;
      if (camera ? table[at + LIGHT.seen] === 0 : !this.units.isMeant(i, path.object, path.events - 1)) continue;
      if (path.clear && path.spread) continue;
      // reach is measured from the vertex to the point of the light that was met; its middle is near enough to refuse
      if (!camera && table[at + LIGHT.reach] < Infinity && Math.hypot(table[at + LIGHT.position] - path.ox, table[at + LIGHT.position + 1] - path.oy, table[at + LIGHT.position + 2] - path.oz) > table[at + LIGHT.reach]) continue; // prettier-ignore
      const { values } = scene.surfaces;
      const inside = light.distance - path.from;
      for (let k = 0; k < 3; k++)
        colour[k] =
          table[at + LIGHT.radiance + k] *
          (flight ? flight.weightAt(values, medium, inside, scatters, k) : attenuation(values, medium, inside, k));
      path.source = i;
      path.asked = path.density > 0 ? this.units.askedFor(i, path.vertex) * light.density : 0;
      path.weighMet();
      path.add(component, table[at + LIGHT.group], path.probe, colour, -1);
    }
  }

  /** Finds the lamps that a new ray may meet; meetSeen() and meetLights() look at no others. */
  findLamps(path: Path): void {
    this.lamps.find(path);
  }

  /** Cuts path.to at the nearest lamp that the camera sees; true where there is one. */
  meetSeen(path: Path): boolean {
    const { light, scene } = this;
    const table = scene.lights.values;
    let met = false;
    const { found, count } = this.lamps;
    for (let n = 0; n < count; n++) {
      const i = found[n];
      if (table[i * LIGHT.stride + LIGHT.seen] === 0) continue;
      light.distance = path.to;
      if (!meetLight(table, i, path, light) || light.distance === Infinity) continue;
      // a little beyond it: others at the same place shine with it
      path.to = light.distance * (1 + 1e-6);
      met = true;
    }
    return met;
  }

  meetSky(path: Path, component: number): void {
    const { light, scene } = this;
    if (path.events === 0 && scene.background) {
      path.weight = 1;
      path.source = BACKGROUND_SOURCE;
      path.add(component, scene.environmentGroup, path.probe, scene.background, -1);
      return;
    }
    if (!scene.environment || (path.clear && path.spread) || (path.events === 0 && !scene.environmentSeen)) return;
    environmentAt(scene.environment, path, light);
    path.source = SKY_SOURCE;
    path.asked = this.units.askedForSky() * light.density;
    path.weighMet();
    path.add(component, scene.environmentGroup, path.probe, light.radiance, -1);
  }

  /** Whether an emitter lights the place where its light was spread last, however the path came from there. */
  private isReached(path: Path, object: number): boolean {
    const { values } = this.scene.surfaces;
    const at = this.scene.objects[object * OBJECT.stride + OBJECT.surface] * SURFACE.stride;
    if (path.spreadAfter > values[at + SURFACE.emissionBounces]) return false;
    if (values[at + SURFACE.emissionReach] === Infinity) return true;
    const { spreadAt } = path;
    const dx = path.ox + path.to * path.dx - spreadAt[0];
    const dy = path.oy + path.to * path.dy - spreadAt[1];
    const dz = path.oz + path.to * path.dz - spreadAt[2];
    return dx * dx + dy * dy + dz * dz <= values[at + SURFACE.emissionReach] ** 2;
  }

  /** Light of the surface that a ray met at path.to. */
  meetEmitter(path: Path, point: SurfacePoint, triangle: number, component: number): void {
    const { emission } = point;
    if (emission[0] === 0 && emission[1] === 0 && emission[2] === 0) return;
    if (path.spread && (path.clear || !this.isReached(path, point.object))) return;
    const { light, scene } = this;
    const first = scene.objects[point.object * OBJECT.stride + OBJECT.emitter];
    path.weight = 1;
    if (first >= 0 && path.density > 0) {
      const item = first + triangle;
      light.distance = path.to;
      setEmitterDensity(scene.emitters, item, path, light);
      path.asked = this.units.askedInTree(item, path.vertex) * light.density;
      path.weighMet();
    }
    path.source = SURFACE_SOURCE;
    path.emitter = point.object;
    path.add(component, scene.emitterGroup, path.probe, emission, -1);
  }
}
