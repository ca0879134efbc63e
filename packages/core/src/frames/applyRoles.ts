import { InputError, matteLayers } from '../formats/index.ts';
import { MAIN_LAYER, type Channel, type Picture } from '../image/index.ts';
import { isOwnProof, isShared, type LayerMapping, type LayerRole } from './layerRoles.ts';
import { plainChannel, sourceName, sourceOf } from './sourceLayers.ts';
import { addSumGap, LIGHT_PREFIX } from './sumCheck.ts';

const VECTORS: LayerRole[] = ['normal', 'position'];

/**
 * The picture with its layers called by their roles, and, where it has parts of the light, a layer "sumGap" with what
 * they leave of the beauty picture. The numbers of the channels are shared with the source.
 */
export function applyRoles(picture: Picture, mapping: LayerMapping): Picture {
  const mattes = new Set(matteLayers(picture));
  const channels: Channel[] = [];
  for (const channel of picture.channels) {
    const { layer, channel: source } = sourceOf(channel);
    const role = mapping[layer] ?? 'data';
    const name = nameOf(layer, role, isOwnProof(picture) || mattes.has(layer));
    const short = shortName(role, source);
    channels.push({ ...channel, name: name === MAIN_LAYER ? short : `${name}.${short}` });
  }
  return addSumGap({ ...picture, channels });
}

/** @param mapping of all layers of one frame @throws InputError naming the layers that cannot both have one role */
export function checkRoles(mapping: LayerMapping): void {
  const owners = new Map<LayerRole, string>();
  for (const [layer, role] of Object.entries(mapping)) {
    if (isShared(role)) continue;
    const other = owners.get(role);
    if (other !== undefined)
      throw new InputError(
        `two layers cannot both be ${role}: ${sourceName(other)} and ${sourceName(layer)}. Choose another for one of them`,
      );
    owners.set(role, layer);
  }
  if (!owners.has('beauty')) throw new InputError('no layer is the beauty picture: choose which one is');
}

/** @param own the picture is a proof of ours: its data have names that are read as ours */
function nameOf(layer: string, role: LayerRole, own: boolean): string {
  if (role === 'beauty') return MAIN_LAYER;
  if (role === 'otherLight') return `${LIGHT_PREFIX}${layer}`;
  return role === 'data' ? (own ? layer : `source.${layer}`) : role;
}

function shortName(role: LayerRole, own: string): string {
  const plain = plainChannel(own);
  if (VECTORS.includes(role) && 'RGB'.includes(plain)) return 'XYZ'['RGB'.indexOf(plain)];
  if (role === 'uv' && 'RG'.includes(plain)) return 'UV'['RG'.indexOf(plain)];
  if (role === 'depth' && 'RYZz'.includes(plain)) return 'Z';
  return plain;
}
