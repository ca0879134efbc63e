import type { Camera, RenderSettings } from '../scene/index.ts';
import type { Path } from './path.ts';
import { normalize, transformDirection } from '../math/index.ts';

// // 0..2 position, 3..5 right, 6..8 up, 9..11 forward, 12 half width, 13 half height of the picture (at distance 1, or in metres), 14 orthographic,
// // 15 near, 16 far (along the axis, metres), 17 width of a pixel: at distance 1, or in metres
export const CAMERA_SIZE = 18;

export function cameraNumbers(camera: Camera, settings: RenderSettings): number[] {
  const { transform: m } = camera;
  const halfHeight =
    camera.kind === 'orthographic' ? camera.height / 2 : Math.tan((camera.verticalAngle * Math.PI) / 360);
  return [
    m[3],
    m[7],
    m[11],
    ...normalize(transformDirection(m, [1, 0, 0])),
    ...normalize(transformDirection(m, [0, 1, 0])),
    ...normalize(transformDirection(m, [0, 0, -1])),
    (halfHeight * settings.width) / settings.height,
    halfHeight,
    camera.kind === 'orthographic' ? 1 : 0,
    camera.near,
    camera.far || Infinity,
    (2 * halfHeight) / settings.height,
  ];
}

/** Sets the ray of a path through a place of the picture, in pixels from its top left corner. */
export function aimAtPixel(path: Path, camera: Float64Array, place: Float64Array, width: number, height: number): void {
  const sx = ((2 * place[0]) / width - 1) * camera[12];
  const sy = (1 - (2 * place[1]) / height) * camera[13];
  const ax = sx * camera[3] + sy * camera[6];
  const ay = sx * camera[4] + sy * camera[7];
  const az = sx * camera[5] + sy * camera[8];
  const flat = camera[14] === 1;
  path.ox = camera[0] + (flat ? ax : 0);
  path.oy = camera[1] + (flat ? ay : 0);
  path.oz = camera[2] + (flat ? az : 0);
  const dx = camera[9] + (flat ? 0 : ax);
  const dy = camera[10] + (flat ? 0 : ay);
  const dz = camera[11] + (flat ? 0 : az);
  const length = Math.sqrt(dx * dx + dy * dy + dz * dz);
  path.dx = dx / length;
  path.dy = dy / length;
  path.dz = dz / length;
  path.width = flat ? camera[17] : 0;
  path.growth = flat ? 0 : camera[17];
}
