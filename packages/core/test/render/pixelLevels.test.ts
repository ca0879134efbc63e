// Levels of subdivision by the length of edges on the picture: each level halves them, and so does twice the distance.
import { expect } from 'chai';
import { compileScene, recompileScene, withPixelLevels } from '@dusting/core/render';
import { decodeMesh, type MeshData } from '@dusting/core/formats';
import type { SceneObject } from '@dusting/core/scene';
import { makeShot, MATT } from '../scenes.ts';

/** Quads of a quarter of a metre over a square of one. */
function tiled(): MeshData {
  const at = [...Array(25).keys()].flatMap((i) => [(i % 5) / 4 - 0.5, Math.floor(i / 5) / 4 - 0.5, 0]);
  const quads = [...Array(16).keys()].map((i) => (i % 4) + 5 * Math.floor(i / 4));
  return { positions: new Float32Array(at), normals: null, uvs: null, indices: new Uint32Array(quads.flatMap((a) => [a, a + 1, a + 6, a, a + 6, a + 5])) }; // prettier-ignore
}
const shot = (flags: Partial<SceneObject>, away?: number) => makeShot({ objects: [{ mesh: tiled(), surface: MATT, flags }], view: 1, settings: { width: 100, height: 100, pixelSamples: 1 }, ...(away && { camera: { transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, away], verticalAngle: 53.13010235415598 } }) }); // prettier-ignore

describe('edges of so many pixels', () => {
  const levelOf = (flags: Partial<SceneObject>, away?: number) => {
    const { blobs, document } = shot(flags, away);
    const { objects } = withPixelLevels(document, document.final, (id) => decodeMesh(blobs.get(document.meshes[document.objects[id].mesh].blob)!)); // prettier-ignore
    return objects.o0.subdivisionLevels;
  };

  it('take as many levels as halve them often enough, and no more than are allowed', () => {
    // 25 pixels an edge
    expect(levelOf({ subdivisionLevels: 8, edgeLength: 4 })).to.equal(3);
    expect(levelOf({ subdivisionLevels: 8, edgeLength: 12.5 })).to.equal(1);
    expect(levelOf({ subdivisionLevels: 8, edgeLength: 30 })).to.equal(0);
    expect(levelOf({ subdivisionLevels: 2, edgeLength: 4 })).to.equal(2);
    // a fixed level stays
    expect(levelOf({ subdivisionLevels: 5, edgeLength: 0 })).to.equal(5);
  });

  it('are judged where they are seen: twice as far away, one level fewer', () => {
    // at a distance of 1 m this lens shows 1 m
    expect([1, 2, 4].map((away) => levelOf({ subdivisionLevels: 8, edgeLength: 4 }, away))).to.deep.equal([3, 2, 1]);
  });

  it('follow the camera, and the scene is that of the level', () => {
    const flags = { subdivisionLevels: 8, edgeLength: 4 };
    const { blobs, document } = shot(flags, 4);
    const near = shot(flags, 1).document;
    const read = (id: string) => blobs.get(id)!;
    const far = compileScene(document, document.final, read);
    expect(far.triangles).to.equal(32 * 4);
    const moved = recompileScene(far, { document, settings: document.final }, { document: near, settings: near.final }, read); // prettier-ignore
    expect(moved.triangles).to.equal(32 * 4 ** 3);
  });
});
