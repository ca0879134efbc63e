// Where the shadow of one light falls, drawn by the graphics processor: hard, and without falloff. It shows places, not brightness.
import { DirectionalLight, Group, PointLight, SpotLight, Vector3 } from 'three';
import type { Light } from '@dusting/core/scene';
import { matrixOf } from './modelParts.ts';

/** Side of the shadow map, texels. */
const TEXELS = 2048;
/** Lights that shine to one side, half the angle of what is drawn of it, degrees. */
const HALF_SPACE = 80;
/** What casts the shadow of a sun lies no farther away than this, in reaches. */
const CASTERS = 8;
const STRENGTH = 2.4;

/**
 * @param about what the view looks at, and how far about it shadows are drawn, metres
 * @param whole of the scene from corner to corner: what casts may lie so far away
 */
export function lightShadow(light: Light, about: { middle: Vector3; reach: number }, whole: number): Group {
  const placed = matrixOf(light.transform);
  const place = new Vector3().setFromMatrixPosition(placed);
  const ahead = new Vector3().setFromMatrixColumn(placed, 2).normalize().negate();
  const group = new Group();
  const far = whole + about.middle.distanceTo(place);
  const shines = lightOf();
  shines.castShadow = true;
  shines.shadow.mapSize.set(TEXELS, TEXELS);
  // what is lit at a slant would shade itself, texel by texel
  const texel = (2 * about.reach) / TEXELS;
  shines.shadow.normalBias = texel;
  shines.shadow.bias = -texel / (shines.shadow.camera.far - shines.shadow.camera.near);
  group.add(shines);
  if ('target' in shines) group.add(shines.target);
  return group;

  function lightOf(): DirectionalLight | PointLight | SpotLight {
    if (light.kind === 'sun') {
      const sun = new DirectionalLight(0xffffff, STRENGTH);
      // the nearer, the finer its depths
      const away = Math.min(whole, CASTERS * about.reach);
      sun.position.copy(about.middle).addScaledVector(ahead, -away);
      sun.target.position.copy(about.middle);
      const { reach } = about;
      Object.assign(sun.shadow.camera, { left: -reach, right: reach, bottom: -reach, top: reach, near: 0, far: 2 * away }); // prettier-ignore
      return sun;
    }
    if (light.kind === 'point' || light.kind === 'sphere') {
      const point = new PointLight(0xffffff, STRENGTH, 0, 0);
      point.position.copy(place);
      Object.assign(point.shadow.camera, { near: far / 1e4, far });
      return point;
    }
    const angle = light.kind === 'spot' ? (light.outerCone ?? 45) : HALF_SPACE;
    const spot = new SpotLight(0xffffff, STRENGTH, 0, (Math.min(angle, HALF_SPACE) * Math.PI) / 180, 0, 0);
    spot.position.copy(place);
    spot.target.position.copy(place).add(ahead);
    Object.assign(spot.shadow.camera, { near: far / 1e4, far });
    return spot;
  }
}
