// Run in a process of its own: the resident memory that a scene of a million triangles adds.
import { compileScene } from '@dusting/core/render';
import { sharedBuffer } from '@dusting/core/trace';
import { pittedShot } from './scenes.ts';

const { document, blobs } = pittedShot(707, 1);
const scene = compileScene(document, document.final, (id) => blobs.get(id)!, sharedBuffer);
// the memory that the hierarchy was built in goes when its object does
for (let i = 0; i < 3; i++) {
  globalThis.gc?.();
  await new Promise((resolve) => setTimeout(resolve, 50));
}
const arrays = [scene.positions, scene.normals, scene.uvs, scene.indices].reduce((sum, a) => sum + a.byteLength, 0);
process.stdout.write(
  JSON.stringify({
    triangles: scene.triangles,
    resident: process.memoryUsage().rss,
    hierarchy: scene.rays.buffer.byteLength,
    arrays,
  }),
);
