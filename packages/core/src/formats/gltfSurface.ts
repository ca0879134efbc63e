// Materials of glTF 2.0 and its extensions to plain values.
import type { Material, Texture, TextureInfo } from '@gltf-transform/core';
import type {
  Anisotropy,
  Clearcoat,
  Dispersion,
  EmissiveStrength,
  IOR,
  Specular,
  Transform,
  Transmission,
  Volume,
} from '@gltf-transform/extensions';
import { InputError } from './inputError.ts';

/** Something that the file uses and that is not carried over. */
export interface Unsupported {
  feature: string;
  place: string;
  effect: string;
}
export interface GltfTexture {
  name: string;
  bytes: Uint8Array;
  mediaType: string;
  wrapU: GltfWrap;
  wrapV: GltfWrap;
  filter: 'nearest' | 'mip';
  uvSet: number;
  offset: number[];
  scale: number[];
  rotation: number; // degrees, KHR_texture_transform
  place: string;
}
export type GltfWrap = 'repeat' | 'mirror' | 'clamp';
export interface GltfSurface {
  name: string;
  baseColor: number[]; // linear RGB
  opacity: number;
  /** 0: opacity is a share; above: a hole where it is less. */
  cutoff: number;
  metalness: number;
  roughness: number;
  anisotropy: number;
  anisotropyRotation: number; // degrees
  specular: number;
  specularColor: number[];
  ior: number;
  transmission: number;
  /** 0: a thin wall; otherwise the closed surface of a volume. */
  thickness: number;
  attenuationColor: number[];
  /** Metres; Infinity: no absorption. */
  attenuationDistance: number;
  /** 20 / Abbe number; 0: none. */
  dispersion: number;
  coat: number;
  coatRoughness: number;
  /** Radiance, W/(m2 sr). */
  emission: number[];
  normalStrength: number;
  maps: Record<GltfMap, GltfTexture | null>;
}
export const GLTF_MAPS = [
  'base_color',
  'opacity',
  'emission_color',
  'metalness_roughness',
  'normal',
  'transmission',
  'specular',
  'specular_color',
  'coat',
  'coat_roughness',
  'bump',
  'displacement',
] as const;
export type GltfMap = (typeof GLTF_MAPS)[number];

export function surfaceOf(material: Material, place: string, unsupported: Unsupported[]): GltfSurface {
  const transmission = material.getExtension<Transmission>('KHR_materials_transmission');
  const volume = material.getExtension<Volume>('KHR_materials_volume');
  const specular = material.getExtension<Specular>('KHR_materials_specular');
  const coat = material.getExtension<Clearcoat>('KHR_materials_clearcoat');
  const anisotropy = material.getExtension<Anisotropy>('KHR_materials_anisotropy');
  const strength =
    material.getExtension<EmissiveStrength>('KHR_materials_emissive_strength')?.getEmissiveStrength() ?? 1;
  const skip = (present: unknown, feature: string) =>
    present && unsupported.push({ feature, place, effect: 'ignored: the plain value is used' });
  skip(material.getOcclusionTexture(), 'occlusion map');
  skip(volume?.getThicknessTexture(), 'thickness map');
  skip(coat?.getClearcoatNormalTexture(), 'coat normal map');
  skip(anisotropy?.getAnisotropyTexture(), 'anisotropy map');
  const texture = (value: Texture | null | undefined, info: TextureInfo | null | undefined, slot: string) =>
    value ? textureOf(value, info ?? null, `${place}, ${slot}`, unsupported) : null;
  const baseMap = texture(material.getBaseColorTexture(), material.getBaseColorTextureInfo(), 'base colour');
  const alpha = material.getAlphaMode();
  return {
    name: material.getName() || place,
    baseColor: material.getBaseColorFactor().slice(0, 3),
    opacity: alpha === 'OPAQUE' ? 1 : material.getAlpha(),
    cutoff: alpha === 'MASK' ? Math.max(1e-6, Math.min(1, material.getAlphaCutoff())) : 0,
    metalness: material.getMetallicFactor(),
    roughness: material.getRoughnessFactor(),
    anisotropy: anisotropy?.getAnisotropyStrength() ?? 0,
    anisotropyRotation: ((anisotropy?.getAnisotropyRotation() ?? 0) * 180) / Math.PI,
    specular: specular?.getSpecularFactor() ?? 1,
    specularColor: specular?.getSpecularColorFactor() ?? [1, 1, 1],
    ior: material.getExtension<IOR>('KHR_materials_ior')?.getIOR() ?? 1.5,
    transmission: transmission?.getTransmissionFactor() ?? 0,
    thickness: volume?.getThicknessFactor() ?? 0,
    attenuationColor: volume?.getAttenuationColor() ?? [1, 1, 1],
    attenuationDistance: volume?.getAttenuationDistance() ?? Infinity,
    dispersion: material.getExtension<Dispersion>('KHR_materials_dispersion')?.getDispersion() ?? 0,
    coat: coat?.getClearcoatFactor() ?? 0,
    coatRoughness: coat?.getClearcoatRoughnessFactor() ?? 0,
    emission: material.getEmissiveFactor().map((e) => e * strength),
    normalStrength: material.getNormalScale(),
    maps: {
      base_color: baseMap,
      opacity: alpha === 'OPAQUE' ? null : baseMap,
      emission_color: texture(material.getEmissiveTexture(), material.getEmissiveTextureInfo(), 'emission'),
      metalness_roughness: texture(
        material.getMetallicRoughnessTexture(),
        material.getMetallicRoughnessTextureInfo(),
        'metalness and roughness',
      ),
      normal: texture(material.getNormalTexture(), material.getNormalTextureInfo(), 'normal'),
      transmission: texture(
        transmission?.getTransmissionTexture(),
        transmission?.getTransmissionTextureInfo(),
        'transmission',
      ),
      specular: texture(specular?.getSpecularTexture(), specular?.getSpecularTextureInfo(), 'specular'),
      specular_color: texture(
        specular?.getSpecularColorTexture(),
        specular?.getSpecularColorTextureInfo(),
        'specular colour',
      ),
      coat: texture(coat?.getClearcoatTexture(), coat?.getClearcoatTextureInfo(), 'coat'),
      coat_roughness: texture(
        coat?.getClearcoatRoughnessTexture(),
        coat?.getClearcoatRoughnessTextureInfo(),
        'coat roughness',
      ),
      bump: null,
      displacement: null,
    },
  };
}

const NEAREST = 9728;

function textureOf(texture: Texture, info: TextureInfo | null, place: string, unsupported: Unsupported[]): GltfTexture {
  const bytes = texture.getImage();
  if (!bytes) throw new InputError('the picture of this texture is missing', place);
  const wrap = (mode: number | undefined): GltfWrap =>
    mode === 33071 ? 'clamp' : mode === 33648 ? 'mirror' : 'repeat';
  const transform = info?.getExtension<Transform>('KHR_texture_transform');
  const uvSet = transform?.getTexCoord() ?? info?.getTexCoord() ?? 0;
  if (uvSet > 1)
    unsupported.push({ feature: `UV set ${uvSet}`, place, effect: 'the second set is used: at most two are read' });
  return {
    name: texture.getName() || texture.getURI() || place,
    bytes,
    mediaType: texture.getMimeType(),
    wrapU: wrap(info?.getWrapS()),
    wrapV: wrap(info?.getWrapT()),
    filter: info?.getMagFilter() === NEAREST ? 'nearest' : 'mip',
    uvSet: Math.min(1, uvSet),
    offset: [...(transform?.getOffset() ?? [0, 0])],
    scale: [...(transform?.getScale() ?? [1, 1])],
    rotation: ((transform?.getRotation() ?? 0) * 180) / Math.PI,
    place,
  };
}
