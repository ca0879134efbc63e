import { readTexture, type TexturePicture } from '../formats/index.ts';
import type { ShotDocument } from '../scene/index.ts';
import { buildEnvironment, fillLight, LIGHT, type EnvironmentMap } from '../shade/index.ts';
import type { MakeBuffer } from '../trace/index.ts';
import type { BlobReader } from './blobReader.ts';
import { MOST_GROUPS } from './film.ts';

/** LIGHT.stride numbers a light in `values`; `links` says for each light and object whether the one lights the other. */
export interface LightTable {
  count: number;
  values: Float64Array;
  /** One byte for each light and object, light by light; empty where every light reaches everything. */
  links: Uint8Array;
  ids: string[];
}

export function compileLights(
  document: ShotDocument,
  objectIds: string[],
  groups: string[],
  makeBuffer: MakeBuffer,
): LightTable {
  const lights = Object.entries(document.lights).filter(([, light]) => light.strength > 0);
  const values = new Float64Array(makeBuffer(lights.length * LIGHT.stride * 8));
  const linked = lights.some(([, light]) => light.linked !== null);
  const links = new Uint8Array(makeBuffer(linked ? lights.length * objectIds.length : 0));
  lights.forEach(([, light], i) => {
    fillLight(values, i, light, groupIndex(groups, light.group));
    if (!linked) return;
    const allowed = light.linked && new Set(light.linked);
    objectIds.forEach((id, o) => (links[i * objectIds.length + o] = !allowed || allowed.has(id) ? 1 : 0));
  });
  return { count: lights.length, values, links, ids: lights.map(([id]) => id) };
}

/** Group of the emissive surfaces. */
export const EMITTER_GROUP = 'surfaces';

export function groupIndex(groups: string[], name: string): number {
  const index = groups.indexOf(name);
  return index < 0 ? MOST_GROUPS - 1 : index;
}

/** Names of the groups whose light is kept as a layer; what comes beyond the last place shares it. */
export function lightGroups(document: ShotDocument): string[] {
  const { environment, lights, objects, surfaces } = document;
  const names = Object.values(lights).map((light) => light.group);
  if (environment.strength > 0) names.push(environment.group);
  if (Object.values(objects).some((o) => surfaces[o.surface].emission_luminance > 0)) names.push(EMITTER_GROUP);
  return [...new Set(names)].slice(0, MOST_GROUPS);
}

export function compileEnvironment(
  document: ShotDocument,
  readBlob: BlobReader,
  makeBuffer: MakeBuffer,
): EnvironmentMap | null {
  const { ceiling, color, strength, rotation, picture, gradient } = document.environment;
  const tint = color.map((c) => c * strength);
  if (gradient && !picture) {
    const whole = gradientPicture(gradient);
    return buildEnvironment(whole, [strength, strength, strength], 0, makeBuffer);
  }
  if (!tint.some((c) => c > 0)) return null;
  const pixels = picture
    ? readTexture(readBlob(picture.blob), picture.name, {
        encoding: 'srgb',
        primaries: picture.primaries ?? 'rec709',
        alpha: 'straight',
      })
    : null; // prettier-ignore;
  return buildEnvironment(pixels, tint, rotation, makeBuffer, ceiling);
}

const GRADIENT_ROWS = 256;

/** A sky by height: blended by the sine of the elevation above the horizon, of one colour below it. */
function gradientPicture({
  zenith,
  horizon,
  ground,
}: NonNullable<ShotDocument['environment']['gradient']>): TexturePicture {
  const texels = new Float32Array(GRADIENT_ROWS * 4);
  for (let row = 0; row < GRADIENT_ROWS; row++) {
    const height = Math.cos((Math.PI * (row + 0.5)) / GRADIENT_ROWS);
    for (let k = 0; k < 3; k++)
      texels[row * 4 + k] = height > 0 ? horizon[k] + height * (zenith[k] - horizon[k]) : ground[k];
  }
  return { width: 1, height: GRADIENT_ROWS, texels };
}
