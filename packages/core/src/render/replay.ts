import type { Component, Limit } from './film.ts';

/** Light that a path took up at one of its vertices, by asking for it or by meeting it with the ray from there. */
export interface FoundLight {
  /** Id of a light; or the environment, its background for the camera, or emissive surfaces. */
  light: string;
  /** Id of the glowing object, where the light is of a surface; otherwise null. */
  emitter: string | null;
  /** What it adds to the pixel of this sample, before clamping. */
  radiance: number[];
  /** Part of a camera sample that it stands for: clamps look at its radiance before it is divided by splits. */
  share: number;
  /** Of its path, with the one that it was asked for at. */
  events: number;
  /** It was asked for; otherwise the ray met it. */
  asked: boolean;
  /** What reflected or scattered it where it was asked for; null where it was met. */
  lobe: PathEvent | null;
  component: Component;
  /** The limit that kept it out of the picture, or null. */
  cutBy: Limit | null;
}

/** A place where a path met a surface, or was scattered in a volume. */
export interface PathVertex {
  position: number[]; // metres, world
  /** The shading normal, on the side of the ray; zeros in a volume. */
  normal: number[];
  object: string;
  surface: string;
  /** The ray came from behind the surface, or the vertex is inside of a volume. */
  inside: boolean;
  /** First event of the branch that the vertex belongs to; null at the first surface, which all branches share. */
  branch: PathEvent | null;
  /** Which of the splits of that event. */
  split: number;
  /** Events before this vertex. */
  event: number;
  /** Length of the ray to it, metres. */
  distance: number;
  component: Component | null;
  /** The path is followed beyond a limit, for its account alone. */
  probe: boolean;
  /** Throughput on arrival and after the event, RGB; null where the path ends here, and at the shared first surface. */
  before: number[];
  after: number[] | null;
  lobe: PathEvent | null;
  /** Density of the direction taken, per steradian; 0 for a perfectly smooth lobe. */
  density: number;
  lights: FoundLight[];
}

export type PathEvent = 'diffuse' | 'specular' | 'transmission' | 'volume';

/** The path of a replayed sample from the camera to one of its vertices: a sample splits at its first surface, and other branches are left out. */
export function pathTo(vertices: PathVertex[], at: number): PathVertex[] {
  const { branch, split } = vertices[at];
  const own = vertices.filter((v, i) => i <= at && (v.branch === null ? branch === null || i === 0 : v.branch === branch && v.split === split)); // prettier-ignore
  // the first surface stands there for all branches, and once more for its own
  return own.length > 1 && own[0].branch === null && own[1].event === own[0].event ? own.slice(1) : own;
}

/** A glowing surface that was met is the last vertex itself: what happens there afterwards is no part of the light's way. */
export const untilLight = (vertices: PathVertex[], { asked, light }: FoundLight): PathVertex[] =>
  !asked && light === 'surfaces' ? vertices.slice(0, -1) : vertices;
