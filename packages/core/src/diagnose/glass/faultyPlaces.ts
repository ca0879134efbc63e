// Where a mesh of glass is no skin of a body, to be drawn in the Model: its open edges, and those at which faces turn over.
import { faultyEdges } from '../../geometry/index.ts';
import { transformPoint } from '../../math/index.ts';
import { objectMesh, type CompiledScene } from '../../render/index.ts';
import type { Ray, RaysEvidence } from '../evidence.ts';
import { objectReference, type SeenBody } from './glassFaults.ts';
import { words } from './words.ts';

/** Edges of an object that are drawn. */
const MOST = 2000;

/** @returns null where no mesh has any; panes are open by intent */
export function faultyPlaces(bodies: SeenBody[], scene: CompiledScene): RaysEvidence | null {
  const rays = bodies
    .filter(({ shape, surface }) => (shape.rim > 0 && !surface.geometry_thin_walled) || shape.turnedEdges > 0)
    .flatMap((body): RaysEvidence['rays'] => {
      const mesh = objectMesh(scene, body.object);
      const { open, turned } = faultyEdges(mesh);
      const edges = [...(body.surface.geometry_thin_walled ? [] : open), ...turned];
      const matrix = scene.objectTransforms.subarray(body.object * 12, body.object * 12 + 12);
      const place = (vertex: number) => transformPoint(matrix, mesh.positions.subarray(vertex * 3, vertex * 3 + 3));
      const lines = edges.slice(0, MOST).map(([a, b]): Ray => ({ points: [place(a), place(b)], stop: null }));
      return lines.length > 0 ? [{ label: body.name, text: words.faultyEdges(open.length, turned.length), about: objectReference(body), lines }] : []; // prettier-ignore
    });
  return rays.length > 0 ? { type: 'rays', id: 'faultyPlaces', title: words.faultyPlaces, source: words.faultySource, rays } : null; // prettier-ignore
}
