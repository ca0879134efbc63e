// What the layers of a frame are that another renderer wrote. Names differ from program to program and from house to
// house; the words in them hardly do. Common practice, no source: nothing here follows the list of one program.
import { Type, type Static } from '@sinclair/typebox';
import type { Picture } from '../image/index.ts';
import { COMPONENTS, PROOF_ATTRIBUTE } from '../render/index.ts';
import { sourceLayers, type SourceLayer } from './sourceLayers.ts';

/** Parts of the light that add up to the beauty picture. `diffuse` and `specular` hold direct and indirect light together. */
export const LIGHT_ROLES = [...COMPONENTS, 'diffuse', 'specular', 'otherLight'] as const;
/** Roles of one layer alone; any number of layers may be `otherLight` or `data`. */
export const LAYER_ROLES = [
  'beauty',
  ...LIGHT_ROLES,
  'albedo',
  'normal',
  'position',
  'depth',
  'uv',
  'occlusion',
  'shadow',
  'data',
] as const;
export type LayerRole = (typeof LAYER_ROLES)[number];
export const isLight = (role: LayerRole) => (LIGHT_ROLES as readonly string[]).includes(role);
export const isShared = (role: LayerRole) => role === 'otherLight' || role === 'data';

/** Role of each source layer. */
export const LayerMapping = Type.Record(Type.String(), Type.Union(LAYER_ROLES.map((role) => Type.Literal(role))));
export type LayerMapping = Static<typeof LayerMapping>;

type Word =
  | Exclude<LayerRole, 'otherLight' | 'data' | 'directDiffuse' | 'indirectDiffuse' | 'directSpecular' | 'indirectSpecular'>
  | 'direct' | 'indirect' | 'other' | 'plain'; // prettier-ignore
const WORDS: Record<Word, string> = {
  beauty: 'beauty rgba rgb combined composite final image main master',
  direct: 'direct dir',
  indirect: 'indirect ind gi bounce bounced',
  diffuse: 'diffuse diff dif',
  specular: 'specular spec reflection reflections reflect refl',
  transmission: 'transmission transmissive transmitted trans refraction refract refr',
  volume: 'volume volumes volumetric vol fog',
  emission: 'emission emissive emit',
  background: 'background bg environment env sky',
  other: 'coat sheen subsurface sss scatter scattering caustic caustics light lights lightgroup',
  albedo: 'albedo basecolor',
  normal: 'normal normals n',
  position: 'position pos p worldposition',
  depth: 'depth z zdepth',
  uv: 'uv uvs st texcoord',
  occlusion: 'occlusion ambientocclusion ao',
  shadow: 'shadow shadows',
  // a colour or a measure, not light
  plain: 'color colour filter raw variance error noise samples time id mask matte motion velocity vector cost',
};
const MEANING = new Map(
  Object.entries(WORDS).flatMap(([meaning, list]) => list.split(' ').map((w) => [w, meaning as Word] as const)),
);

/** The words of a name: "diffuseInd_v02" -> diffuse, ind, v. */
function wordsOf(name: string): string[] {
  return name
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase()
    .split(/[^a-z]+/)
    .filter(Boolean);
}

/** Whether a picture is a proof that this program wrote. */
export const isOwnProof = ({ metadata }: Pick<Picture, 'metadata'>) => PROOF_ATTRIBUTE in metadata;

const ownRole = (name: string): LayerRole =>
  name === '' ? 'beauty' : (LAYER_ROLES.find((role) => role === name) ?? 'data');

/** What a layer is, by the words of its name; `data` where they do not say. */
function roleByName({ name, channels }: SourceLayer): LayerRole {
  if (name === '') return 'beauty';
  const words = wordsOf(name);
  const is = new Set([...words.map((w) => MEANING.get(w)), MEANING.get(words.join(''))].filter((w) => w !== undefined));
  const colours = channels.length >= 3;
  if (is.has('albedo') || (is.has('diffuse') && /colou?r|filter/.test(name.toLowerCase())))
    return colours ? 'albedo' : 'data';
  if (is.has('plain') && !is.has('beauty')) return 'data';
  for (const role of ['occlusion', 'shadow', 'normal', 'position', 'uv', 'depth'] as const)
    if (is.has(role)) return role;
  if (!colours) return 'data';
  for (const role of ['volume', 'transmission'] as const) if (is.has(role)) return role;
  for (const kind of ['diffuse', 'specular'] as const) {
    if (!is.has(kind)) continue;
    if (is.has('indirect')) return kind === 'diffuse' ? 'indirectDiffuse' : 'indirectSpecular';
    if (is.has('direct')) return kind === 'diffuse' ? 'directDiffuse' : 'directSpecular';
    return kind;
  }
  for (const role of ['emission', 'background', 'beauty'] as const) if (is.has(role)) return role;
  return is.has('other') ? 'otherLight' : 'data';
}

/** The one that a sum holds already: "diffuse" beside "diffuse_direct" and "diffuse_indirect" is their sum. */
const PARTS: Partial<Record<LayerRole, LayerRole[]>> = {
  diffuse: ['directDiffuse', 'indirectDiffuse'],
  specular: ['directSpecular', 'indirectSpecular'],
};

/**
 * Proposes what each layer is.
 * @param known roles that users gave to layers of these names before; they go first
 */
export function proposeRoles(picture: Pick<Picture, 'channels' | 'metadata'>, known: LayerMapping = {}): LayerMapping {
  const layers = sourceLayers(picture);
  if (isOwnProof(picture)) return Object.fromEntries(layers.map(({ name }) => [name, ownRole(name)]));
  const mapping: LayerMapping = {};
  const taken = new Set<LayerRole>();
  const give = (name: string, role: LayerRole) => {
    // the first of two layers of one role has it; a second light still adds up
    const free = isShared(role) || !taken.has(role);
    mapping[name] = free ? role : isLight(role) ? 'otherLight' : 'data';
    taken.add(mapping[name]);
  };
  for (const { name } of layers) if (known[name]) give(name, known[name]);
  for (const layer of layers) if (!known[layer.name]) give(layer.name, roleByName(layer));
  for (const { name } of layers) {
    const parts = PARTS[mapping[name]];
    if (!known[name] && parts?.some((part) => taken.has(part))) mapping[name] = 'data';
  }
  if (!taken.has('beauty')) {
    const likely = layers.find((l) => l.channels.length >= 3 && mapping[l.name] === 'data') ?? layers[0];
    if (likely) mapping[likely.name] = 'beauty';
  }
  return mapping;
}
