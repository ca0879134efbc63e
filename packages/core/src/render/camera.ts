import type { Camera, RenderSettings } from '../scene/index.ts';
import { normalize, transformDirection } from '../math/index.ts';

// // 0..2 position, 3..5 right, 6..8 up, 9..11 forward, 12 half width, 13 half height of the picture (at distance 1, or in metres), 14 orthographic
export const CAMERA_SIZE = 15;

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
  ];
}
