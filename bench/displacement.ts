// Displacement: from a mesh of 2,048 quads to a million triangles, subdivided and moved by a map; and how soon an edit of the
// scale stands in a compiled LH-040.
import { displacedMesh, subdividedMesh } from '@dusting/core/geometry';
import { compileScene, recompileScene } from '@dusting/core/render';
import { importShot } from '@dusting/core/scene';
import { buildLh040 } from '@dusting/demo';
import { ring } from '../packages/core/test/paintMap.ts';
import { line } from './measure.ts';

export async function benchDisplacement(): Promise<void> {
  const mesh = ring(64, 32);
  const spans: [made: number, moved: number][] = [];
  let triangles = 0;
  for (let i = 0; i < 3; i++) {
    const began = performance.now();
    const shape = subdividedMesh(mesh, 4);
    const made = performance.now();
    displacedMesh(shape, shape.uvs!, (u, v, _, out) => out.fill(Math.sin(60 * u) * Math.sin(60 * v)), { kind: 'height', scale: 0.01, neutral: 0 }); // prettier-ignore
    spans.push([made - began, performance.now() - made]);
    triangles = shape.indices.length / 3;
  }
  const [made, moved] = spans.sort((a, b) => a[0] - b[0])[1];
  line(`${(triangles / 1e6).toFixed(2)} M triangles: subdivided and displaced : 2 s`, (made + moved) / 2000, `${made.toFixed(0)} and ${moved.toFixed(0)} ms`); // prettier-ignore

  const { blobs, document } = await importShot(await buildLh040());
  const readBlob = (id: string) => blobs.get(id)!.bytes;
  const settings = document.preview;
  const began = performance.now();
  const scene = compileScene(document, settings, readBlob);
  const whole = performance.now() - began;
  const edited = structuredClone(document);
  edited.surfaces.straw.displacement_scale *= 0.9;
  const again = performance.now();
  recompileScene(scene, { document, settings }, { document: edited, settings }, readBlob);
  const edit = performance.now() - again;
  line(
    'LH-040: another scale : compiled for the first time',
    edit / whole,
    `${edit.toFixed(0)} : ${whole.toFixed(0)} ms`,
  );
}
