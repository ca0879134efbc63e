// Frames that another renderer wrote, and what their layers are.
import { Router } from 'express';
import { checkRoles, groupFrames, isFrameFile, isLogFile, readLogLines, type LayerMapping } from '@dusting/core/frames';
import { textOf } from '@dusting/core/formats';
import type { LogLine } from '../db/schema.ts';
import { addFramesTo, knownRoles, saveMapping, type TakenFrame } from '../store/frameStore.ts';
import { getPicture } from '../store/proofStore.ts';
import { getShot } from '../store/shotStore.ts';
import { BadRequest } from '../errors.ts';
import { MappingBody, parse } from './body.ts';
import { goneSignal, reporting, whole, type Context } from './context.ts';
import { filesOf, takeFiles, type UploadedFile } from './upload.ts';

export function frameRoutes(context: Context): Router {
  const { db, pictures } = context;
  const router = Router();

  /** More frames of a shot that came as frames. */
  router.post('/shots/:shot/frames', takeFiles, async (request, response) => {
    const shot = await getShot(db, whole(request, 'shot'));
    if (!shot.mapping) throw new BadRequest('This shot has a scene: its proofs are rendered, not brought in.');
    const gone = goneSignal(response);
    const { frames, mapping, log } = await takeFrames(
      context,
      filesOf(request),
      shot.mapping,
      gone,
      reporting(context, request),
    );
    gone.throwIfAborted();
    await addFramesTo(db, shot.id, mapping, frames, log);
    response.status(201).json({ frames: frames.length });
  });

  /** Says what the layers of one frame are, all of them. */
  router.put('/shots/:shot/mapping', async (request, response) => {
    const shot = await getShot(db, whole(request, 'shot'));
    if (!shot.mapping) throw new BadRequest('The layers of a rendered shot are known.');
    const { mapping, was } = parse(MappingBody, request.body);
    checkRoles(mapping);
    await saveMapping(db, shot.id, { ...shot.mapping, ...mapping }, mapping, was);
    response.json({});
  });

  /** The layers as the files named them, and whether the parts add up. */
  router.get('/proofs/:proof/sources', async (request, response) => {
    const { source } = await getPicture(db, whole(request, 'proof'));
    response.json({ layers: await pictures.sourceLayers(source.blob), sum: await pictures.sumCheck(source) });
  });

  return router;
}

/** Reads frames one after the other. What is known of their layers goes before what their names say. */
export async function takeFrames(
  { db, importer }: Context,
  files: UploadedFile[],
  mapping: LayerMapping,
  gone: AbortSignal,
  report: (stage: string) => void,
): Promise<{ frames: TakenFrame[]; mapping: LayerMapping; log: LogLine[] }> {
  const strange = files.find((f) => !isFrameFile(f.name) && !isLogFile(f.name));
  if (strange)
    throw new BadRequest(`${strange.name} is neither a picture (EXR, PNG, HDR, TIFF, JPEG) nor a log (.log, .txt).`);
  const groups = groupFrames(files.filter((f) => isFrameFile(f.name)));
  if (groups.length === 0) throw new BadRequest('No frame arrived: choose EXR or PNG files.');
  const known = await knownRoles(db);
  const frames: TakenFrame[] = [];
  for (const [i, group] of groups.entries()) {
    report(`frame ${i + 1} of ${groups.length}`);
    const { roles, ...frame } = await importer.takeFrame(group, { ...known, ...mapping }, gone);
    mapping = { ...mapping, ...roles };
    frames.push(frame);
  }
  const at = new Date().toISOString();
  const log = files
    .filter((f) => isLogFile(f.name))
    .flatMap((f) => readLogLines(textOf(f.bytes)))
    .map((line) => ({ at, ...line }));
  return { frames, mapping, log };
}
