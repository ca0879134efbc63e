import {
  Color,
  DoubleSide,
  MeshBasicMaterial,
  WebGLRenderTarget,
  type BufferGeometry,
  type Material,
  type Mesh,
  type PerspectiveCamera,
  type Scene,
  type WebGLRenderer,
} from 'three';

/** A mesh of the model: a material, or one for each of its groups. */
export type ModelMeshObject = Mesh<BufferGeometry, Material | Material[]>;

/**
 * Which mesh is seen at a point of the canvas, in its pixels; null where none is. One pixel is drawn with the number of each
 * mesh as its colour, which needs no hierarchy and takes as long as a frame.
 */
export function pickByColor(
  renderer: WebGLRenderer,
  scene: Scene,
  view: PerspectiveCamera,
  meshes: ModelMeshObject[],
  x: number,
  y: number,
  width: number,
  height: number,
): number | null {
  const target = new WebGLRenderTarget(1, 1);
  const dressed = meshes.map((mesh) => mesh.material);
  const numbers = meshes.map((_, i) => new MeshBasicMaterial({ color: new Color().setHex(i + 1, 'srgb-linear'), side: DoubleSide })); // prettier-ignore
  meshes.forEach((mesh, i) => (mesh.material = numbers[i]));
  const { background } = scene;
  scene.background = new Color(0);
  view.setViewOffset(width, height, Math.floor(x), Math.floor(y), 1, 1);
  renderer.setRenderTarget(target);
  renderer.render(scene, view);
  const pixel = new Uint8Array(4);
  renderer.readRenderTargetPixels(target, 0, 0, 1, 1, pixel);
  renderer.setRenderTarget(null);
  view.clearViewOffset();
  scene.background = background;
  meshes.forEach((mesh, i) => (mesh.material = dressed[i]));
  for (const material of numbers) material.dispose();
  target.dispose();
  const number = pixel[0] * 65536 + pixel[1] * 256 + pixel[2];
  return number > 0 && number <= meshes.length ? number - 1 : null;
}
