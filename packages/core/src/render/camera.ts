import { layOutRow, normalize, samplePolygon, transformDirection, writeRow } from '../math/index.ts';
import type { Camera, RenderSettings } from '../scene/index.ts';
import type { Path } from './path.ts';

/** Places of the numbers of a camera: position and axes in the world, then lengths in metres. */
export const CAMERA = layOutRow({
  position: 3,
  right: 3,
  up: 3,
  forward: 3,
  halfWidth: 1, // of the picture, at distance 1, or in metres where it is orthographic
  halfHeight: 1,
  orthographic: 1, // 1 or 0
  near: 1, // along the axis
  far: 1,
  pixel: 1, // width of a pixel, at distance 1, or in metres
  aperture: 1, // radius of the lens; 0: everything is sharp
  focus: 1, // along the axis
  blades: 1, // 0: a round lens
});

/** @param out CAMERA.stride numbers */
export function fillCamera(
  out: Float64Array,
  camera: Camera,
  settings: Pick<RenderSettings, 'width' | 'height'>,
): void {
  const { transform: m } = camera;
  const halfHeight =
    camera.kind === 'orthographic' ? camera.height / 2 : Math.tan((camera.verticalAngle * Math.PI) / 360);
  writeRow(out, 0, CAMERA, {
    position: [m[3], m[7], m[11]],
    right: normalize(transformDirection(m, [1, 0, 0])),
    up: normalize(transformDirection(m, [0, 1, 0])),
    forward: normalize(transformDirection(m, [0, 0, -1])),
    halfWidth: (halfHeight * settings.width) / settings.height,
    halfHeight,
    orthographic: camera.kind === 'orthographic' ? 1 : 0,
    near: camera.near,
    far: camera.far || Infinity,
    pixel: (2 * halfHeight) / settings.height,
    aperture: camera.apertureRadius,
    focus: camera.focusDistance,
    blades: camera.apertureBlades,
  });
}

/**
 * Where a place of the world lies on the picture, in pixels from its top left corner; null behind the camera.
 * @param camera the numbers of CAMERA
 */
export function pixelOf(
  camera: ArrayLike<number>,
  { height, width }: Pick<RenderSettings, 'width' | 'height'>,
  place: readonly number[],
): { x: number; y: number } | null {
  const along = (axis: number) => place.reduce((sum, v, k) => sum + (v - camera[CAMERA.position + k]) * camera[axis + k], 0); // prettier-ignore
  const depth = along(CAMERA.forward);
  if (depth <= 0) return null;
  const scale = camera[CAMERA.orthographic] ? 1 : depth;
  return {
    x: (0.5 + along(CAMERA.right) / (2 * scale * camera[CAMERA.halfWidth])) * width,
    y: (0.5 - along(CAMERA.up) / (2 * scale * camera[CAMERA.halfHeight])) * height,
  };
}

/** What a proof keeps of the lens that it was rendered with, so that its blur can be explained later. */
export interface LensRecord {
  /** Metres. */
  apertureRadius: number;
  focusDistance: number;
  orthographic: boolean;
  /** Width of a pixel: at distance 1, or in metres where it is orthographic. */
  pixel: number;
}

/** Null for a camera without an aperture. */
export function lensRecord(camera: Camera, settings: RenderSettings): LensRecord | null {
  const { apertureRadius, focusDistance, kind } = camera;
  if (apertureRadius === 0) return null;
  const numbers = new Float64Array(CAMERA.stride);
  fillCamera(numbers, camera, settings);
  return { apertureRadius, focusDistance, orthographic: kind === 'orthographic', pixel: numbers[CAMERA.pixel] };
}

const onLens = new Float64Array(2);

/**
 * Sets the ray of a path through a place of the picture, in pixels from its top left corner.
 * @param lens two random numbers in [0, 1) that choose the point of the lens, where the camera has one
 */
export function aimAtPixel(
  path: Path,
  camera: Float64Array,
  place: Float64Array,
  width: number,
  height: number,
  lens: Float64Array,
): void {
  const c = CAMERA;
  const sx = ((2 * place[0]) / width - 1) * camera[c.halfWidth];
  const sy = (1 - (2 * place[1]) / height) * camera[c.halfHeight];
  const ax = sx * camera[c.right] + sy * camera[c.up];
  const ay = sx * camera[c.right + 1] + sy * camera[c.up + 1];
  const az = sx * camera[c.right + 2] + sy * camera[c.up + 2];
  const flat = camera[c.orthographic] === 1;
  path.ox = camera[c.position] + (flat ? ax : 0);
  path.oy = camera[c.position + 1] + (flat ? ay : 0);
  path.oz = camera[c.position + 2] + (flat ? az : 0);
  let dx = camera[c.forward] + (flat ? 0 : ax);
  let dy = camera[c.forward + 1] + (flat ? 0 : ay);
  let dz = camera[c.forward + 2] + (flat ? 0 : az);
  if (camera[c.aperture] > 0) {
    // a thin lens: all rays of a place meet in the plane of focus (Potmesil & Chakravarty 1981, "A lens and aperture camera
    // model for synthetic image generation")
    samplePolygon(onLens, lens[0], lens[1], camera[c.blades]);
    const u = onLens[0] * camera[c.aperture];
    const v = onLens[1] * camera[c.aperture];
    const x = u * camera[c.right] + v * camera[c.up];
    const y = u * camera[c.right + 1] + v * camera[c.up + 1];
    const z = u * camera[c.right + 2] + v * camera[c.up + 2];
    path.ox += x;
    path.oy += y;
    path.oz += z;
    dx -= x / camera[c.focus];
    dy -= y / camera[c.focus];
    dz -= z / camera[c.focus];
  }
  const length = Math.sqrt(dx * dx + dy * dy + dz * dz);
  path.dx = dx / length;
  path.dy = dy / length;
  path.dz = dz / length;
  path.width = flat ? camera[c.pixel] : 0;
  path.growth = flat ? 0 : camera[c.pixel];
}

/** Ends the camera's ray of a path at the clip planes: they stand at right angles to where the camera looks. */
export function clipRay(path: Path, camera: Float64Array): void {
  const along = path.dx * camera[CAMERA.forward] + path.dy * camera[CAMERA.forward + 1] + path.dz * camera[CAMERA.forward + 2]; // prettier-ignore
  path.tMin = camera[CAMERA.near] / along;
  path.tMax = camera[CAMERA.far] / along;
}
