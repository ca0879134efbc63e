// Rays from the middle of the region to each light, to be drawn in the Model: nine to a light with a size, so that what is drawn is
// the penumbra to scale.
import type { Region } from '../../image/index.ts';
import { ShadowProbe, type CompiledScene } from '../../render/index.ts';
import type { RenderSettings, ShotDocument } from '../../scene/index.ts';
import type { Ray, RaysEvidence } from '../evidence.ts';
import { Blockers } from './blockers.ts';
import type { LightAnswer } from './lightChain.ts';
import { pointsOf, towardLight } from './lightPoints.ts';
import { lookAtMiddle } from './middlePlace.ts';
import { lightReference } from './shadowCauses.ts';
import { words } from './words.ts';

/** A ray to a sun goes on so much farther than to what stops it. */
const BEYOND = 1.4;

/** @param answers of the lights that are drawn @returns null where the region shows no surface */
export function lightRays(
  scene: CompiledScene,
  document: ShotDocument,
  settings: RenderSettings,
  region: Region,
  answers: LightAnswer[],
): RaysEvidence | null {
  const probe = new ShadowProbe(scene, settings);
  if (!lookAtMiddle(probe, region)) return null;
  const blockers = new Blockers(scene, document, settings, probe);
  const { object, point } = probe.look;
  const from = [point.px, point.py, point.pz];
  const eye = document.cameras[document.camera].transform;
  const away = Math.hypot(eye[3] - from[0], eye[7] - from[1], eye[11] - from[2]);
  const along = (direction: number[], distance: number) => from.map((v, k) => v + distance * direction[k]);
  const rays = answers.map((answer) => {
    const { light } = answer;
    const points = pointsOf(light);
    const stoppers: number[] = [];
    const lines = Array.from({ length: points }, (_, k): Ray => {
      const { direction, distance } = towardLight(light, from, k);
      probe.toward(...direction, distance);
      const first = blockers.firstStop(light);
      const stop = first < 0 ? null : probe.distance[first];
      if (first >= 0) stoppers.push(probe.object[first]);
      const end = Math.min(distance, Math.max(away, BEYOND * (stop ?? 0), BEYOND * light.shadowTo));
      const ray: Ray = { points: [from, along(direction, end)], stop: stop === null ? null : along(direction, stop) };
      // on the middle ray alone: nine ranges side by side cannot be read
      if (k === 0 && (light.shadowFrom > 0 || light.shadowTo > 0)) ray.range = [along(direction, Math.min(end, light.shadowFrom)), along(direction, Math.min(end, light.shadowTo || Infinity))]; // prettier-ignore
      return ray;
    });
    const name = (number: number) => document.objects[scene.objectIds[number]].name;
    const middle = towardLight(light, from, 0);
    const stops = words.rayStops(stoppers.length, points, [...new Set(stoppers)].map(name));
    const facesAway = probe.facing(...middle.direction) <= 0;
    const ranged = light.shadowFrom > 0 || light.shadowTo > 0 ? `${stops}; ${words.rayRange(light)}` : stops;
    const text = facesAway
      ? words.ends.facesAway
      : light.castsShadows
        ? ranged
        : `${words.ends.lightWithout}; ${stops}`;
    return { label: light.name, text, about: lightReference(answer), lines };
  });
  return { type: 'rays', id: 'rays', title: words.rays(document.objects[scene.objectIds[object]].name), source: words.raysSource, rays }; // prettier-ignore
}
