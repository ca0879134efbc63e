// Faces of two objects that lie in one plane: which of them a ray meets first is left to rounding.
import type { Region } from '../../image/index.ts';
import { isClear, objectSize, SurfaceLook, type CompiledScene } from '../../render/index.ts';
import type { RenderSettings, ShotDocument } from '../../scene/index.ts';
import { looksOver } from './looksOver.ts';
import { roundUp, type ShadowCause } from './shadowCauses.ts';
import { words } from './words.ts';

/** Of the region's pixels, from which it is worth a word. Common practice, no source. */
const NOTABLE = 0.005;
/** Faces fight within so many offsets of a ray's origin, and no longer from so many on. */
const FIGHTS = 4;
const STOPS = 16;
/** Cosine of the angle between their normals, at least. */
const PARALLEL = 0.999;

export interface Coplanar {
  /** Numbers of the objects: the one that is moved, which is smaller, and the other. */
  moved: number;
  other: number;
  /** Of the region's pixels, 0..1. */
  share: number;
  /** From where they no longer fight, metres. */
  apart: number;
  /** Of the plane, towards the camera. */
  normal: [number, number, number];
}

/** Pairs of solid objects whose faces lie in one plane, those that are seen most first. */
export function coplanarFaces(scene: CompiledScene, settings: RenderSettings, region: Region): Coplanar[] {
  const look = new SurfaceLook(scene, settings, 0);
  const pairs = new Map<string, Coplanar>();
  const looks = looksOver(region, (x, y) => {
    if (!look.at(x, y)) return;
    const { distance, object, path, point, visibility } = look;
    const normal: Coplanar['normal'] = [point.gx, point.gy, point.gz];
    const { offset } = point;
    const cosine = Math.abs(normal[0] * path.dx + normal[1] * path.dy + normal[2] * path.dz);
    // the next surface behind it, whatever rays it is there for
    if (!visibility.plainHit(path, distance)) return;
    const second = visibility.hit;
    if (second.instance === object || (second.t - distance) * cosine > FIGHTS * offset) return;
    if (isClear(scene, object) || isClear(scene, second.instance)) return;
    visibility.reader.place(second, path, point, false);
    const along = point.gx * normal[0] + point.gy * normal[1] + point.gz * normal[2];
    if (Math.abs(along) < PARALLEL * Math.hypot(point.gx, point.gy, point.gz)) return;
    const [moved, other] = objectSize(scene, object) <= objectSize(scene, second.instance) ? [object, second.instance] : [second.instance, object]; // prettier-ignore
    const key = `${moved} ${other}`;
    const pair = pairs.get(key) ?? { moved, other, share: 0, apart: 0, normal };
    pair.share++;
    pair.apart = Math.max(pair.apart, STOPS * offset);
    pairs.set(key, pair);
  });
  return [...pairs.values()]
    .map((pair) => ({ ...pair, share: pair.share / Math.max(1, looks) }))
    .filter(({ share }) => share >= NOTABLE)
    .sort((a, b) => b.share - a.share);
}

/** Each with the smaller object moved towards the camera. */
export function coplanarCauses(pairs: Coplanar[], document: ShotDocument, ids: string[]): ShadowCause[] {
  return pairs.map(({ apart, moved, normal, other, share }) => {
    const [one, two] = [moved, other].map((number) => ({ type: 'object' as const, id: ids[number], name: document.objects[ids[number]].name })); // prettier-ignore
    const by = roundUp(apart);
    const { transform } = document.objects[one.id];
    const value = transform.map((v, i) => (i % 4 === 3 ? v + by * normal[(i - 3) / 4] : v));
    return {
      id: `coplanar:${one.id}`,
      fault: 'coplanar',
      title: words.cause.coplanar(one.name, two.name),
      text: words.coplanar(one.name, two.name, share, by),
      about: [one, two],
      cure: { title: words.remedy.lift(one.name, by), patch: [{ op: 'replace', path: `/objects/${one.id}/transform`, value }], sideEffect: words.side.lifted }, // prettier-ignore
    };
  });
}
