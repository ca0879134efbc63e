import { coarseSettings, compileScene, FILM, frameOf, PathTracer, previewPart, ProgressiveRender, renderChunk, renderHere } from '@dusting/core/render';
import { fromHalf } from '@dusting/core/formats';
import { GLASS, makeShot, MATT, sphere, square } from '../packages/core/test/scenes.ts';
const { document, blobs } = makeShot({
  objects: [{ mesh: square(4), surface: MATT },{ mesh: sphere(0.3, 24), surface: GLASS, transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0.5] }],
  lights: [{ kind: 'sphere', radius: 0.1, strength: 20, transform: [1, 0, 0, -1, 0, 1, 0, 0, 0, 0, 1, 2] }],
  view: 2, settings: { width: 80, height: 60, pixelSamples: 6 } });
const settings = document.final;
const scene = compileScene(document, settings, (id) => blobs.get(id)!);
const tracers:any = { true: new PathTracer(scene, coarseSettings(settings)), false: new PathTracer(scene, settings) };
const preview = new ProgressiveRender(settings, 4);
for (let job = preview.next(); job; job = preview.next()) preview.take(job, previewPart(renderChunk(tracers[`${job.coarse}`], job.chunk)));
const a = preview.picture().halves, b = preview.picture(true).halves;
const many = { ...settings, pixelSamples: 128, seed: 5 };
const { data } = renderHere(scene, many, frameOf(many));
const es:any[]=[];
for (let i = 0; i < 4800; i++) { const t=data[i * FILM.stride + FILM.beauty] / data[i * FILM.stride + FILM.samples]; es.push([Math.abs(fromHalf(b[i*3])-t)-Math.abs(fromHalf(a[i*3])-t), i%80, Math.floor(i/80), t, fromHalf(a[i*3]), fromHalf(b[i*3])]); }
es.sort((p,q)=>q[0]-p[0]); for(const e of es.slice(0,25)) console.log(e.map((v:number)=>v.toFixed(3)).join(' '));
