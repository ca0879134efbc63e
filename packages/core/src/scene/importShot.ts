import {
  encodeMesh,
  GLTF_MAPS,
  InputError,
  MESH_MEDIA_TYPE,
  PLAIN_SPACE,
  SCENE_LIMITS,
  readGltf,
  readObj,
  readTexture,
  type GltfScene,
  type GltfSurface,
  type GltfTexture,
  type SceneLimits,
  type TextureEncoding,
  type Unsupported,
  type MeshData,
} from '../formats/index.ts';
import { blankShot } from './blankShot.ts';
import {
  CAMERA_DEFAULTS,
  LIGHT_DEFAULTS,
  OBJECT_DEFAULTS,
  NO_SURFACE,
  SURFACE_DEFAULTS,
  type Light,
  type ShotDocument,
  type Surface,
} from './shotDocument.ts';
import { addBlob, isSceneFile, type Blobs, type ImportFile } from './importFiles.ts';
import { looseMap, showMeshWithMap } from './meshWithMap.ts';
import { giveOwnGroups } from './ownGroups.ts';
import { overlaySettings, readOverlay } from './overlaySettings.ts';
import { validateShot } from './validate.ts';

/** Maps that hold colours encoded for display; the others hold plain numbers. */
const ENCODED_MAPS = new Set(['base_color', 'opacity', 'emission_color', 'specular_color']);

export interface ImportedShot {
  document: ShotDocument;
  /** By SHA-256, hexadecimal. */
  blobs: Blobs;
  unsupported: Unsupported[];
}

/**
 * Makes a shot of the files that a user brings in together: one GLB, glTF or OBJ with what it refers to, and, if wanted, a
 * settings file (JSON, laid over the shot document as an RFC 7396 merge patch) with the pictures that it names. A mesh without a
 * camera and one picture that it does not refer to are taken for a mesh with its displacement map.
 * @param report what is being done, and which of how many
 * @throws InputError naming the file and the place; nothing is half done
 */
export async function importShot(
  files: ImportFile[],
  name?: string,
  limits: SceneLimits = SCENE_LIMITS,
  report: (stage: string) => void = () => {},
): Promise<ImportedShot> {
  const scenes = files.filter((f) => isSceneFile(f.name));
  if (scenes.length !== 1)
    throw new InputError(
      scenes.length === 0
        ? 'bring in a scene: a .glb, or a .gltf or .obj with its files'
        : `bring in one scene at a time: ${scenes.map((f) => f.name).join(', ')}`,
    );
  const [scene] = scenes;
  const settings = files.filter((f) => /\.json$/i.test(f.name));
  if (settings.length > 1) throw new InputError('bring in one settings file at a time');
  const resources = Object.fromEntries(files.filter((f) => f !== scene).map((f) => [f.name, f.bytes]));
  const overlay = settings.length > 0 ? readOverlay(settings[0]) : null;
  report(`reading ${scene.name}`);
  const gltf = /\.obj$/i.test(scene.name)
    ? readObj(scene.bytes, scene.name, resources)
    : await readGltf(scene.bytes, scene.name, resources, overlay?.motion ?? null, limits);
  const blobs: Blobs = new Map();
  const document = await toDocument(gltf, scene.name, name ?? scene.name.replace(/\.[^.]*$/, ''), blobs, report);
  const map = overlay || gltf.cameras.length > 0 || gltf.objects.length === 0 ? null : looseMap(files, gltf);
  if (map) await showMeshWithMap(document, blobs, map, gltf.unsupported);
  const merged = overlay ? await overlaySettings(document, overlay, settings[0], files, blobs) : document;
  if (Object.keys(merged.cameras).length === 0)
    throw new InputError(
      'the scene has no camera: add one and export it again, name one in a settings file, or bring in its displacement map beside it',
      scene.name,
    );
  if (!(merged.camera in merged.cameras)) merged.camera = Object.keys(merged.cameras)[0];
  const whole = validateShot(merged, settings[0]?.name ?? scene.name);
  giveOwnGroups(whole);
  if (!hasLight(whole))
    throw new InputError(
      'nothing in the scene gives light: add a light or an emissive surface, or an environment in a settings file',
      scene.name,
    );
  return { document: whole, blobs, unsupported: gltf.unsupported };
}

async function toDocument(
  gltf: GltfScene,
  file: string,
  name: string,
  blobs: Blobs,
  report: (stage: string) => void,
): Promise<ShotDocument> {
  const ids = new IdMaker();
  const document = blankShot(name);
  const textures = new Map<string, string>();
  // many surfaces may share one picture: it is read once
  const pictures = new Map<Uint8Array, { blob: string; width: number; height: number }>();
  const addPicture = async ({ bytes, mediaType, place }: GltfTexture) => {
    const { width, height } = readTexture(bytes, `${file}, ${place}`, PLAIN_SPACE);
    const picture = { blob: await addBlob(blobs, bytes, mediaType), width, height };
    pictures.set(bytes, picture);
    return picture;
  };
  const addTexture = async (texture: GltfTexture | null, encoding: TextureEncoding) => {
    if (!texture) return undefined;
    const { bytes, mediaType: _, name: textureName, place: __, ...placement } = texture;
    const space = { ...PLAIN_SPACE, encoding };
    const { blob, width, height } = pictures.get(bytes) ?? (await addPicture(texture));
    const key = JSON.stringify([blob, encoding, placement]);
    if (!textures.has(key)) {
      const id = ids.make('texture', textureName);
      textures.set(key, id);
      document.textures[id] = {
        name: textureName,
        blob,
        tiles: [],
        padding: 0,
        blend: 0,
        width,
        height,
        ...space,
        ...placement,
      };
    }
    return textures.get(key);
  };

  const surfaceIds: string[] = [];
  for (const [i, surface] of gltf.surfaces.entries()) {
    report(`surface ${i + 1} of ${gltf.surfaces.length}, with its textures`);
    const id = ids.make('surface', surface.name);
    surfaceIds.push(id);
    const maps: Surface['maps'] = {};
    for (const slot of GLTF_MAPS) {
      const texture = await addTexture(surface.maps[slot], ENCODED_MAPS.has(slot) ? 'srgb' : 'linear');
      if (texture) maps[slot] = texture;
    }
    document.surfaces[id] = surfaceFrom(surface, maps);
  }
  const meshIds = new Map<string, string>();
  for (const [i, object] of gltf.objects.entries()) {
    report(`object ${i + 1} of ${gltf.objects.length}`);
    const { key, name: meshName, data } = object.mesh;
    if (!meshIds.has(key)) {
      const id = ids.make('mesh', meshName);
      meshIds.set(key, id);
      if (!hasArea(data))
        gltf.unsupported.push({ feature: 'a mesh whose triangles have no area', place: `${file}, ${meshName}`, effect: 'nothing of it can be seen' }); // prettier-ignore
      const blob = await addBlob(blobs, encodeMesh(data), MESH_MEDIA_TYPE);
      document.meshes[id] = { name: meshName, blob, triangles: data.indices.length / 3 };
    }
    let surface = surfaceIds[object.surface];
    if (surface === undefined) {
      surface = NO_SURFACE;
      // glTF 2.0, 3.9.6: the material of a primitive that names none is white, metallic and fully rough
      document.surfaces[surface] ??= {
        ...structuredClone(SURFACE_DEFAULTS),
        name: 'without material',
        base_color: [1, 1, 1],
        base_metalness: 1,
        specular_roughness: 1,
      };
    }
    document.objects[ids.make('object', object.name)] = {
      ...structuredClone(OBJECT_DEFAULTS),
      name: object.name || key,
      mesh: meshIds.get(key)!,
      surface,
      transform: object.transform,
      laterTransforms: object.laterTransforms,
    };
  }
  for (const { name: cameraName, kind, verticalAngle, height, lens, transform } of gltf.cameras)
    document.cameras[ids.make('camera', cameraName)] = {
      ...CAMERA_DEFAULTS,
      name: cameraName,
      kind,
      verticalAngle,
      height,
      ...lens,
      transform,
    };
  const [first] = Object.keys(document.cameras);
  if (first) {
    document.camera = first;
    const aspect = gltf.cameras[0].aspect;
    for (const use of [document.preview, document.final])
      if (aspect) use.height = Math.max(1, Math.round(use.width / aspect));
  }
  for (const light of gltf.lights) {
    const strength = Math.max(...light.intensity);
    const value: Light = {
      ...structuredClone(LIGHT_DEFAULTS),
      name: light.name,
      kind: light.kind,
      color: strength > 0 ? light.intensity.map((c) => c / strength) : [1, 1, 1],
      strength,
      transform: light.transform,
      reach: light.reach,
    };
    if (light.kind === 'spot') Object.assign(value, { innerCone: light.innerCone, outerCone: light.outerCone });
    if (light.kind === 'sun') value.angle = 0;
    document.lights[ids.make('light', light.name)] = value;
  }
  return document;
}

function surfaceFrom(s: GltfSurface, maps: Surface['maps']): Surface {
  const strength = Math.max(...s.emission);
  const absorbs = s.thickness > 0 && Number.isFinite(s.attenuationDistance);
  return {
    ...structuredClone(SURFACE_DEFAULTS),
    name: s.name,
    base_color: s.baseColor,
    base_metalness: s.metalness,
    specular_weight: s.specular,
    specular_color: s.specularColor.map((c) => Math.min(1, c)),
    specular_roughness: s.roughness,
    specular_roughness_anisotropy: Math.min(1, s.anisotropy),
    specular_anisotropy_rotation: s.anisotropyRotation,
    specular_ior: s.ior === 0 ? 1.5 : s.ior,
    transmission_weight: s.transmission,
    transmission_color: absorbs ? s.attenuationColor : [1, 1, 1],
    transmission_depth: absorbs ? s.attenuationDistance : 0,
    transmission_tint: s.transmission > 0 ? s.baseColor : [1, 1, 1],
    // KHR_materials_dispersion: 20 / Abbe number
    transmission_dispersion_scale: Math.min(1, s.dispersion),
    transmission_dispersion_abbe_number: 20 / Math.max(1, s.dispersion),
    coat_weight: s.coat,
    coat_roughness: s.coatRoughness,
    coat_ior: 1.5, // KHR_materials_clearcoat
    emission_color: strength > 0 ? s.emission.map((e) => e / strength) : [1, 1, 1],
    emission_luminance: strength,
    geometry_thin_walled: s.transmission > 0 && s.thickness === 0,
    geometry_opacity: s.opacity,
    opacity_cutoff: s.cutoff,
    normal_strength: Math.min(10, Math.abs(s.normalStrength)),
    // where it comes from knows no length: it is off until one is given
    displacement_scale: maps.displacement ? 0 : SURFACE_DEFAULTS.displacement_scale,
    maps,
  };
}

/** Whether any light, emissive surface or environment can light the scene. */
export function hasLight(document: ShotDocument): boolean {
  const { color, strength, picture, gradient } = document.environment;
  const sky = gradient ? Object.values(gradient).flat() : color;
  const environment = strength > 0 && (picture ? color : sky).some((c) => c > 0);
  const lights = Object.values(document.lights).some((l) => l.strength > 0);
  return (
    environment ||
    lights ||
    Object.values(document.objects).some((o) => document.surfaces[o.surface].emission_luminance > 0)
  );
}

/** Readable ids that stay the same for the same file: "jar-wall", "jar-wall-2". */
class IdMaker {
  private readonly used = new Set<string>();
  /** The number that is tried next for a name: thousands of objects may bear the same. */
  private readonly next = new Map<string, number>();
  make(group: string, name: string): string {
    const slug =
      name
        .normalize('NFKD')
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-')
        .replace(/^-+|-+$/g, '')
        .slice(0, 60) || group;
    const key = `${group}/${slug}`;
    let id = slug;
    for (let n = this.next.get(key) ?? 2; this.used.has(`${group}/${id}`); n++) {
      id = `${slug}-${n}`;
      this.next.set(key, n + 1);
    }
    this.used.add(`${group}/${id}`);
    return id;
  }
}

/** Whether any triangle covers something: corners that coincide or lie in a line cover nothing. */
function hasArea({ positions, indices }: MeshData): boolean {
  const side = (a: number, b: number, k: number) => positions[b * 3 + k] - positions[a * 3 + k];
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = indices.subarray(i, i + 3);
    for (let k = 0; k < 3; k++) {
      const j = (k + 1) % 3;
      if (Math.abs(side(a, b, k) * side(a, c, j) - side(a, b, j) * side(a, c, k)) > 0) return true;
    }
  }
  return false;
}
