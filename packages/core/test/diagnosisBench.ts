// What tests of diagnoses share: a shot rendered here, and the context that a diagnosis is given for it.
import { DIAGNOSES, explain, type DefectKind, type DiagnosisContext, type Explanation } from '@dusting/core/diagnose';
import type { Region } from '@dusting/core/image';
import { compileScene, emptyFilm, filmNames, filmStatistics, frameOf, mergeFilm, PathTracer, planChunks, proofPicture, renderChunk, type FilmExtra } from '@dusting/core/render'; // prettier-ignore
import { patchShot, type ShotDocument } from '@dusting/core/scene';
import { meshReader, timeByRays } from './scenes.ts';

type Blobs = Map<string, Uint8Array>;

/** The final frame; its time goes with its rays, so that predictions of time can be checked on any machine. */
export function renderShot(
  document: ShotDocument,
  blobs: Blobs,
  extras: FilmExtra[] = [],
  region = frameOf(document.final),
  parts?: Region[],
) {
  // prettier-ignore
  const settings = document.final;
  const compiled = compileScene(document, settings, (id) => blobs.get(id)!);
  const tracer = new PathTracer(compiled, settings, 0, undefined, extras);
  const film = emptyFilm(region, tracer.stride);
  for (const chunk of planChunks(region, settings, { parts })) mergeFilm(film, renderChunk(tracer, chunk));
  const picture = proofPicture(film, settings, filmNames(document));
  timeByRays(picture);
  return { compiled, picture, settings, statistics: filmStatistics(film, 1), seconds: 10 };
}

/** The whole frame of a shot, as a diagnosis is given it. */
export function contextOf(
  document: ShotDocument,
  blobs: Blobs,
  more: Partial<DiagnosisContext> = {},
): DiagnosisContext {
  const proof = renderShot(document, blobs);
  return {
    ...proof,
    region: frameOf(document.final),
    use: 'final',
    expected: null,
    noise: { limit: 1, stops: 1 },
    scene: {
      document,
      mesh: meshReader(document, blobs),
      compiled: async () => proof.compiled,
      render: async ({ extras, parts, patch, region }) =>
        renderShot(patchShot(document, patch), blobs, extras, region, parts),
    },
    neighbours: async () => [],
    keep: null,
    report: () => {},
    signal: new AbortController().signal,
    pause: async () => {},
    ...more,
  };
}

export const explained = (kind: DefectKind, context: DiagnosisContext) => explain(DIAGNOSES[kind]!, context);

export const failedChecks = ({ evidence }: Explanation) => evidence.flatMap((e) => (e.type === 'checklist' ? e.checks : [])).filter(({ state }) => state === 'failed'); // prettier-ignore
