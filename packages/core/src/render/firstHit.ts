// What a film keeps of the first surface that a camera sample meets.
import type { SurfacePoint } from '../shade/index.ts';
import { countId, FILM, type Film } from './film.ts';

/** @param object number of the object that was met, at a distance of `depth`, m */
export function recordFirstHit(
  data: Film['data'],
  at: number,
  first: SurfacePoint,
  object: number,
  depth: number,
): void {
  data[at + FILM.surfaceSamples]++;
  data[at + FILM.depth] += depth;
  first.addAlbedo(data, at + FILM.albedo);
  data[at + FILM.normal] += first.nx;
  data[at + FILM.normal + 1] += first.ny;
  data[at + FILM.normal + 2] += first.nz;
  data[at + FILM.position] += first.px;
  data[at + FILM.position + 1] += first.py;
  data[at + FILM.position + 2] += first.pz;
  data[at + FILM.uv] += first.values.uv[0];
  data[at + FILM.uv + 1] += first.values.uv[1];
  countId(data, at + FILM.objects, object + 1, 1);
  countId(data, at + FILM.surfaces, first.surface + 1, 1);
}
