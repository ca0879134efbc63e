// Pictures that control glass: black at one end, in the slot of coverage where a tint was meant, or mapped the other way round
// on one of several objects.
import { luminance } from '../../color/index.ts';
import { objectUvs, objectMesh, type CompiledScene } from '../../render/index.ts';
import type { Patch, ShotDocument } from '../../scene/index.ts';
import { lookUpTexture } from '../../shade/index.ts';
import { surfaceReference, type GlassFault, type GlassScene, type SeenBody } from './glassFaults.ts';
import { freeId } from '../freeId.ts';
import { words } from './words.ts';

/** Places of a picture that are looked at, each way. */
const GRID = 48;
/** Below this it lets next to nothing through. */
const BLACK = 0.02;
/** Shares of a picture. Common practice, no source. */
const SOME = 0.02;
const MOST = 0.3;
/** How far the directions of growing V of two objects must be apart to be opposite, as a cosine. */
const OPPOSITE = -0.5;
/** A direction that varies over an object more than this says nothing. */
const STEADY = 0.3;

export function textureFaults(bodies: SeenBody[], { document, scene }: GlassScene): GlassFault[] {
  const surfaces = bodies.filter((body, i) => bodies.findIndex(({ surfaceId }) => surfaceId === body.surfaceId) === i);
  return surfaces.flatMap((body) => [
    ...tintMapFault(body, document, scene),
    ...opacityMapFault(body, document, scene),
    ...mappingFaults(body, document, scene),
  ]);
}

/** RGBA of a picture on an even grid of its own space. */
function look(scene: CompiledScene, texture: number): Float64Array[] {
  return Array.from({ length: GRID * GRID }, (_, i) => {
    const out = new Float64Array(4);
    lookUpTexture(scene.textures, texture, ((i % GRID) + 0.5) / GRID, (Math.floor(i / GRID) + 0.5) / GRID, 1 / GRID, out); // prettier-ignore
    return out;
  });
}
const textureOf = (document: ShotDocument, id: string) => Object.keys(document.textures).indexOf(id);
const share = (of: Float64Array[], test: (rgba: Float64Array) => boolean) => of.filter(test).length / of.length;

function tintMapFault(body: SeenBody, document: ShotDocument, scene: CompiledScene): GlassFault[] {
  const { surface, surfaceId } = body;
  const id = surface.maps.base_color;
  if (id === undefined) return [];
  const texels = look(scene, textureOf(document, id));
  const black = share(texels, ([r, g, b]) => luminance(r, g, b) < BLACK);
  if (black < SOME) return [];
  const mean = [0, 1, 2].map((k) => Number((texels.reduce((sum, t) => sum + t[k], 0) / texels.length).toFixed(3)));
  const { name } = document.textures[id];
  return [
    {
      id: `blackMap:${surfaceId}`,
      kind: 'blackMap',
      severity: 'error',
      text: words.blackMap(name, surface.name, black),
      about: [{ type: 'texture', id, name }, surfaceReference(body)],
      cure: {
        title: words.replaceMap(name, mean),
        patch: [
          { op: 'remove', path: `/surfaces/${surfaceId}/maps/base_color` },
          { op: 'replace', path: `/surfaces/${surfaceId}/transmission_tint`, value: mean },
        ],
        sideEffect: words.gradientGone,
      },
    },
  ];
}

function opacityMapFault(body: SeenBody, document: ShotDocument, scene: CompiledScene): GlassFault[] {
  const { surface, surfaceId } = body;
  const id = surface.maps.opacity;
  if (id === undefined || surface.opacity_cutoff > 0) return [];
  const texels = look(scene, textureOf(document, id));
  // a stencil is whole or absent; what lies between is a gradient
  const between = share(texels, ([, , , a]) => a > 0.05 && a < 0.95);
  if (between < MOST) return [];
  const { name } = document.textures[id];
  const about = [{ type: 'texture' as const, id, name }, surfaceReference(body)];
  const patch: Patch = [{ op: 'remove', path: `/surfaces/${surfaceId}/maps/opacity` }];
  if (surface.maps.base_color === undefined)
    patch.push({ op: 'add', path: `/surfaces/${surfaceId}/maps/base_color`, value: id });
  return [{ id: `opacityMap:${surfaceId}`, kind: 'opacityMap', severity: 'error', text: words.opacityMap(name, surface.name, between), about, cure: { title: words.moveToTint(name), patch, sideEffect: words.tintsNow } }]; // prettier-ignore
}

/** Objects of one mapped surface whose pictures stand upside down against the others'. */
function mappingFaults(body: SeenBody, document: ShotDocument, scene: CompiledScene): GlassFault[] {
  const { surface, surfaceId } = body;
  const id = surface.maps.base_color ?? surface.maps.opacity ?? surface.maps.transmission;
  if (id === undefined) return [];
  const users = scene.objectIds.flatMap((objectId, object) => {
    const direction = document.objects[objectId].surface === surfaceId ? growthOfV(scene, object) : null;
    return direction ? [{ objectId, direction }] : [];
  });
  if (users.length < 2) return [];
  const agree = (a: number[], b: number[]) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
  const against = (of: number[]) => users.filter(({ direction }) => agree(of, direction) < OPPOSITE);
  // the fewer are the odd ones; of as many on either side, those that came later
  const sides = users.map(({ direction }) => against(direction)).filter((odd) => odd.length > 0 && odd.length <= users.length / 2); // prettier-ignore
  const odd = sides[0] ?? [];
  return odd.map(({ objectId }): GlassFault => {
    const { name } = document.objects[objectId];
    const other = users.find((u) => !odd.includes(u))!;
    return {
      id: `mapping:${objectId}`,
      kind: 'mapping',
      severity: 'warning',
      text: words.mapping(name, document.objects[other.objectId].name, document.textures[id].name),
      about: [{ type: 'object', id: objectId, name }, { type: 'texture', id, name: document.textures[id].name }],
      cure: { title: words.flip(document.textures[id].name, name), patch: flipPatch(document, objectId, id), sideEffect: words.ownSurface(name) },
    }; // prettier-ignore
  });
}

/** A surface and a texture of its own for one object, its picture upside down. */
function flipPatch(document: ShotDocument, objectId: string, textureId: string): Patch {
  const surfaceId = document.objects[objectId].surface;
  const texture = document.textures[textureId];
  const [newTexture, newSurface] = [freeId(document.textures, `${textureId}-flipped`), freeId(document.surfaces, `${surfaceId}-flipped`)]; // prettier-ignore
  const surface = structuredClone(document.surfaces[surfaceId]);
  for (const slot of Object.keys(surface.maps) as (keyof typeof surface.maps)[])
    if (surface.maps[slot] === textureId) surface.maps[slot] = newTexture;
  const [[ou, ov], [su, sv]] = [texture.offset, texture.scale];
  return [
    { op: 'add', path: `/textures/${newTexture}`, value: { ...texture, name: `${texture.name}, flipped`, offset: [ou, ov + sv], scale: [su, -sv] } }, // prettier-ignore
    { op: 'add', path: `/surfaces/${newSurface}`, value: { ...surface, name: `${surface.name}, flipped` } },
    { op: 'replace', path: `/objects/${objectId}/surface`, value: newSurface },
  ];
}

/** Unit direction in the world in which V grows on the whole over an object; null where there is none. */
function growthOfV(scene: CompiledScene, object: number): number[] | null {
  const uvs = objectUvs(scene, object);
  if (!uvs) return null;
  const { indices, positions } = objectMesh(scene, object);
  const m = scene.objectTransforms.subarray(object * 12, object * 12 + 12);
  const sum = [0, 0, 0];
  let all = 0;
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t], indices[t + 1], indices[t + 2]];
    const edge = (to: number) => {
      const d = [0, 1, 2].map((k) => positions[to * 3 + k] - positions[a * 3 + k]);
      return [0, 4, 8].map((row) => m[row] * d[0] + m[row + 1] * d[1] + m[row + 2] * d[2]);
    };
    const [e1, e2] = [edge(b), edge(c)];
    const [u1, v1, u2, v2] = [uvs[b * 2] - uvs[a * 2], uvs[b * 2 + 1] - uvs[a * 2 + 1], uvs[c * 2] - uvs[a * 2], uvs[c * 2 + 1] - uvs[a * 2 + 1]]; // prettier-ignore
    const turn = u1 * v2 - u2 * v1;
    if (Math.abs(turn) < 1e-14) continue;
    const along = [0, 1, 2].map((k) => (u1 * e2[k] - u2 * e1[k]) / turn);
    const length = Math.hypot(...along) || 1;
    const area = Math.hypot(e1[1] * e2[2] - e1[2] * e2[1], e1[2] * e2[0] - e1[0] * e2[2], e1[0] * e2[1] - e1[1] * e2[0]); // prettier-ignore
    for (let k = 0; k < 3; k++) sum[k] += (area * along[k]) / length;
    all += area;
  }
  const length = Math.hypot(...sum);
  return all > 0 && length > STEADY * all ? sum.map((v) => v / length) : null;
}
