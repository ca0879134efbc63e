// Which way the faces of objects look. Both sides are shaded here, so that nothing of it shows; renderers and surfaces that know one
// side only turn such objects black, or make them vanish.
import type { CompiledScene } from '../../render/index.ts';
import { objectMesh } from '../../render/index.ts';
import type { ShotDocument } from '../../scene/index.ts';
import { bodyShapes } from '../bodies/bodyShapes.ts';

/** Triangles that are read at most, some 1.5 s of work: meshes that would go beyond are left out, which the table says. */
const MOST_TRIANGLES = 1_000_000;

export interface Facing {
  /** Ids of closed objects whose faces look inwards. */
  inward: string[];
  /** Ids of objects whose neighbouring faces look different ways. */
  mixed: string[];
}

export function facing(scene: CompiledScene, document: ShotDocument): Facing {
  const shapeOf = bodyShapes(scene);
  const found: Facing = { inward: [], mixed: [] };
  const read = new Map<number, boolean>();
  let left = MOST_TRIANGLES;
  for (const [object, id] of scene.objectIds.entries()) {
    const { byteOffset, length } = objectMesh(scene, object).indices;
    if (!read.has(byteOffset)) {
      const fits = length / 3 <= left;
      read.set(byteOffset, fits);
      if (fits) left -= length / 3;
    }
    if (!read.get(byteOffset)) continue;
    const { isClosed, outerVolume, turnedEdges } = shapeOf(object);
    if (turnedEdges > 0) found.mixed.push(id);
    else if (isClosed && outerVolume > 0 === document.objects[id].facesTurned) found.inward.push(id);
  }
  return found;
}
