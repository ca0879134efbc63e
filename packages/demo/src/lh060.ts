// LH-060: the weighing bench. A scale with printed figures behind its glass cover, under a hood that reaches out of the picture,
// and amber bottles.
//
// What is wrong with it, on purpose: the cover's gradient drives its opacity instead of its tint, the tint of one bottle is black
// at its foot, the gradient stands upside down on one of the two others, and the hood's index is so close to 1 that nothing but
// the hard edge of its total reflection shows.
import type { Material } from '@gltf-transform/core';
import type { ImportFile } from '@dusting/core/scene';
import { GltfScene } from './gltfScene.ts';
import { dialPng, gradientPng, orchardExr, woodPng } from './pictures.ts';
import { box, lathe, type Shape } from './shapes.ts';

const BOTTLE: [number, number][] = [
  [0, 0],
  [0.03, 0],
  [0.034, 0.004],
  [0.034, 0.08],
  [0.03, 0.094],
  [0.014, 0.108],
  [0.012, 0.112],
  [0.012, 0.134],
  [0.015, 0.136],
  [0.015, 0.142],
  [0.0095, 0.142],
  [0.0095, 0.111],
  [0.027, 0.092],
  [0.0312, 0.079],
  [0.0312, 0.007],
  [0.028, 0.005],
  [0, 0.005],
];
const HEIGHT = 0.142;
const PAN: [number, number][] = [
  [0, 0.004],
  [0.02, 0.004],
  [0.075, 0.016],
  [0.079, 0.022],
  [0.076, 0.023],
  [0.072, 0.019],
  [0.02, 0.008],
  [0, 0.008],
].reverse() as [number, number][];

export async function buildLh060(): Promise<ImportFile[]> {
  const scene = new GltfScene('LH-060');
  const wood = scene.textured('bench top', 'larch', woodPng(), 0.6);
  const enamel = scene.matt('enamel', [0.62, 0.66, 0.6], 0.35);
  const paper = scene.textured('dial', 'dial figures', dialPng());
  const plaster = scene.matt('limewash', [0.8, 0.77, 0.72]);
  const brass = scene.metal('pan', [0.78, 0.6, 0.3], 0.22);
  const smoke = gradientPng([0.95, 0.93, 0.86, 0.35], [0.8, 0.72, 0.55, 0.9]);
  const cover = tinted(scene, 'cover glass', 'cover gradient', smoke, 1.5).setAlphaMode('BLEND');
  const amber = tinted(
    scene,
    'amber glass',
    'amber gradient',
    gradientPng([1, 0.8, 0.5, 1], [0.72, 0.3, 0.06, 1]),
    1.52,
  );
  const umber = tinted(scene, 'umber glass', 'umber gradient', gradientPng([0.9, 0.55, 0.2, 1], [0, 0, 0, 1]), 1.52);
  const hood = scene.clear('hood', 1.03, 0, [1, 1, 1], 1);

  scene.place('bench', scene.mesh('bench', box([-1.2, -0.04, -0.35], [1.2, 0, 0.4]), wood));
  scene.place('wall', scene.mesh('wall', box([-1.2, -0.3, -0.4], [1.2, 0.9, -0.36]), plaster));
  scene.place('scale', scene.mesh('scale', box([-0.1, 0, -0.07], [0.1, 0.17, 0.05]), enamel), -0.07);
  scene.place('dial', scene.mesh('dial', plate(0.16, 0.12), paper), -0.07, 0.09, 0.0505);
  scene.place('cover', scene.mesh('cover', byHeight(box([-0.085, -0.065, 0], [0.085, 0.065, 0.003]), -0.065, 0.13, false), cover), -0.07, 0.09, 0.062); // prettier-ignore
  scene.place('pan', scene.mesh('pan', lathe(PAN), brass), -0.07, 0.17, -0.01);
  const bottle = lathe(BOTTLE, 64);
  scene.place('bottle 1', scene.mesh('bottle', byHeight(bottle, 0, HEIGHT, false), amber), 0.11, 0.0005, 0.03);
  scene.place(
    'bottle 2',
    scene.mesh('bottle, other way', byHeight(bottle, 0, HEIGHT, true), amber),
    0.2,
    0.0005,
    -0.02,
  );
  scene.place('bottle 3', scene.mesh('umber bottle', byHeight(bottle, 0, HEIGHT, false), umber), 0.285, 0.0005, 0.05);
  scene.place('hood', scene.mesh('hood', box([-0.6, 0.0005, -0.2], [-0.24, 0.5, 0.16]), hood));

  scene.camera([0.045, 0.17, 0.85], -0.1, 0.385);
  scene.point('lantern', [1, 0.75, 0.5], 0.35, [0.6, 0.7, 0.8]);
  return [
    { name: 'LH-060.glb', bytes: await scene.bytes() },
    { name: 'LH-060.json', bytes: new TextEncoder().encode(JSON.stringify(SETTINGS, null, 2)) },
    { name: 'orchard.exr', bytes: orchardExr() },
  ];
}

/** Glass whose colour is a picture. */
function tinted(scene: GltfScene, name: string, picture: string, png: Uint8Array, index: number): Material {
  const glass = scene.clear(name, index, 0, [1, 1, 1], 1);
  return glass.setBaseColorTexture(scene.picture(picture, png));
}

/** The same shape with V by its height, from the top down or from the foot up; U stays. */
function byHeight(shape: Shape, low: number, height: number, fromFoot: boolean): Shape {
  const uvs = shape.uvs.map((uv, i) => {
    if (i % 2 === 0) return uv;
    const up = (shape.positions[((i - 1) / 2) * 3 + 1] - low) / height;
    return Math.min(0.999, Math.max(0.001, fromFoot ? up : 1 - up));
  });
  return { ...shape, uvs };
}

/** A rectangle in XY that shows a picture once. */
function plate(width: number, height: number): Shape {
  const [w, h] = [width / 2, height / 2];
  return {
    positions: [-w, -h, 0, w, -h, 0, w, h, 0, -w, h, 0],
    normals: [0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1],
    uvs: [0, 1, 1, 1, 1, 0, 0, 0],
    indices: [0, 1, 2, 0, 2, 3],
  };
}

/** As the shot came in. */
const SETTINGS = {
  name: 'LH-060',
  environment: { picture: 'orchard.exr', strength: 0.9, rotation: 150 },
  lights: {
    'door-panel': {
      name: 'light from the open door',
      kind: 'rectangle',
      color: [1, 0.96, 0.9],
      strength: 4,
      width: 0.9,
      height: 1.4,
      transform: [0.8, 0, -0.6, -1.2, 0, 1, 0, 0.6, 0.6, 0, 0.8, 1.6],
      seenByCamera: false,
    },
  },
  noise: { limit: 1.5, stops: 1 },
  preview: {
    width: 200,
    height: 113,
    pixelSamples: 4,
    depth: { diffuse: 2, specular: 3, transmission: 12, total: 12 },
  },
  final: {
    width: 400,
    height: 225,
    pixelSamples: 16,
    specularSamples: 2,
    transmissionSamples: 2,
    depth: { diffuse: 3, specular: 8, transmission: 16, total: 20 },
    clearShadows: 'tinted',
    occlusion: { samples: 4, distance: 0.06, falloff: 0, cone: 90, clearSurfaces: true },
  },
};
