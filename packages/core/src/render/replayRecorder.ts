// Writes down what a path does, vertex by vertex, while one sample is replayed.
import { VOLUME, type SurfacePoint } from '../shade/index.ts';
import type { CompiledScene } from './compile.ts';
import { COMPONENTS, LIMITS, SPLIT_LOBES } from './film.ts';
import { BACKGROUND_SOURCE, SKY_SOURCE, SURFACE_SOURCE, type Path } from './path.ts';
import type { PathVertex } from './replay.ts';

export class ReplayRecorder {
  readonly vertices: PathVertex[] = [];
  private current: PathVertex | null = null;

  constructor(
    private readonly scene: CompiledScene,
    private readonly path: Path,
  ) {
    path.onLight = (radiance, limit, share, lobe, component) => {
      const cutBy = limit >= 0 ? LIMITS[limit] : null;
      const emitter = path.source === SURFACE_SOURCE ? scene.objectIds[path.emitter] : null;
      const asked = lobe >= 0;
      const events = path.events + (asked ? 1 : 0);
      this.current?.lights.push({ light: this.nameOf(path.source), emitter, radiance, share, events, asked, lobe: asked ? SPLIT_LOBES[lobe] : null, component: COMPONENTS[component], cutBy }); // prettier-ignore
    };
  }

  /** The path is at a surface. */
  meet(point: SurfacePoint, distance: number): void {
    const { scene } = this;
    this.put(
      [point.px, point.py, point.pz],
      [point.nx, point.ny, point.nz],
      point.object,
      scene.surfaceIds[point.surface],
      point.inside,
      distance,
    );
  }

  /** The path is scattered inside of an object. */
  scatter(position: number[], object: number, surface: number, distance: number): void {
    this.put(position, [0, 0, 0], object, this.scene.surfaceIds[surface], true, distance);
  }

  private put(
    position: number[],
    normal: number[],
    object: number,
    surface: string,
    inside: boolean,
    distance: number,
  ) {
    const { path } = this;
    this.current = {
      position,
      normal,
      object: this.scene.objectIds[object],
      surface,
      inside,
      branch: path.branch < 0 ? null : SPLIT_LOBES[path.branch],
      split: path.split,
      event: path.events,
      distance,
      component: path.branch < 0 ? null : COMPONENTS[path.component],
      probe: path.probe >= 0,
      before: [...path.throughput],
      after: null,
      lobe: null,
      density: 0,
      lights: [],
    };
    this.vertices.push(this.current);
  }

  /** The path leaves the vertex that it is at, or for a new branch the first one. Called before the event is counted. */
  leave(lobe: number, density: number): void {
    const { path, vertices } = this;
    if (path.events === 0 && lobe !== VOLUME) {
      const [first] = vertices;
      this.current = { ...first, branch: SPLIT_LOBES[lobe], split: path.split, component: COMPONENTS[path.component], lights: [] }; // prettier-ignore
      vertices.push(this.current);
    }
    if (!this.current) return;
    this.current.lobe = SPLIT_LOBES[lobe];
    this.current.density = density;
    this.current.after = [...path.throughput];
  }

  private nameOf(source: number): string {
    if (source === SKY_SOURCE) return 'environment';
    if (source === SURFACE_SOURCE) return 'surfaces';
    return source === BACKGROUND_SOURCE ? 'background' : this.scene.lights.ids[source];
  }
}
