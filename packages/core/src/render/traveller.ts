// Along one ray to what ends it, through media and the boundaries that lie inside of others.
import { SURFACE } from '../shade/index.ts';
import type { CompiledScene } from './compile.ts';
import type { Crossing } from './crossing.ts';
import { Flight, Stretches } from './flight.ts';
import { MediumStack } from './mediumStack.ts';
import type { MetLight } from './metLight.ts';
import { SLOT, type Path } from './path.ts';
import type { ShadowCatcher } from './shadowCatcher.ts';
import type { Visibility } from './visibility.ts';

// what ends a ray
export const NOTHING = 0;
export const MET = 1;
export const SCATTERED = 2;
export const LAMP = 3;

/** Boundaries inside of other media that one ray passes at most. */
const MOST_HIDDEN = 64;

export class Traveller {
  /** Of the camera's ray, in scattering media. */
  readonly stretches: Stretches;
  private readonly flight = new Flight();
  private readonly point = new Float64Array(2);

  constructor(
    private readonly scene: CompiledScene,
    private readonly visibility: Visibility,
    private readonly lights: MetLight,
    private readonly catcher: ShadowCatcher,
    makeStack: () => MediumStack,
  ) {
    this.stretches = new Stretches(scene.surfaces.values, makeStack);
  }

  /**
   * To the next surface that counts, through boundaries that lie inside of other media; light is absorbed or scattered on
   * the way, and lights that the ray meets are booked.
   * A lamp that the camera sees hides what is behind it.
   * @param crossing what is filled with the place of the surface that ends the ray
   * @returns what ended the ray: NOTHING, MET, SCATTERED or LAMP, at path.to
   */
  travel(path: Path, crossing: Crossing, index: number, component: number): number {
    const { catcher, flight, lights, point, visibility } = this;
    const { values } = this.scene.surfaces;
    const followed = path.branch >= 0;
    // lights are met beyond the distance where rays end, but not beyond the far plane of the camera
    const beyond = followed ? Infinity : path.tMax;
    flight.begin();
    lights.findLamps(path);
    path.from = 0;
    for (let hidden = 0; ; hidden++) {
      path.countRay(-1);
      const found = visibility.closest(path, index);
      path.to = found ? visibility.hit.t : beyond;
      const lamp = !followed && lights.meetSeen(path);
      const at = path.medium.surfaceThatCounts();
      const scatters = at >= 0 && scattersAt(values, at);
      let scattered = false;
      if (scatters && followed) {
        path.sample(SLOT.flight, index, point);
        const distance = flight.pass(values, at, path.to - path.from, path.throughput, point[0], point[1]);
        scattered = distance >= 0;
        if (scattered) path.to = path.from + distance;
      } else if (scatters) this.stretches.add(path.medium, at, path.from, path.to - path.from, path.throughput);
      lights.meetLights(path, component, at, scatters, followed ? flight : null);
      if (scatters && followed) flight.goOn(values, at, path.to - path.from);
      else if (at >= 0) path.medium.absorb(path.to - path.from, path.throughput);
      if (lamp) return LAMP;
      if (scattered) {
        flight.finish(values, at, path.throughput);
        return SCATTERED;
      }
      const unchanged = found && crossing.read(path);
      // the camera looks through what only catches shadows
      if (!followed && found && hidden < MOST_HIDDEN && catcher.catches(visibility.hit.instance)) {
        catcher.darken(path, crossing, index * (MOST_HIDDEN + 1) + hidden);
        path.from = path.tMin = path.to + crossing.last;
        continue;
      }
      if (!unchanged || hidden >= MOST_HIDDEN) {
        flight.finish(values, -1, path.throughput);
        return found ? MET : NOTHING;
      }
      path.medium.copyFrom(crossing.beyond);
      path.from = path.tMin = path.to + crossing.last;
    }
  }
}

function scattersAt(values: Float64Array, surface: number): boolean {
  const at = surface + SURFACE.scattering;
  return values[at] > 0 || values[at + 1] > 0 || values[at + 2] > 0;
}
