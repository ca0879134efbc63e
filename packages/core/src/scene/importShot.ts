import {
  encodeMesh,
  InputError,
  MESH_MEDIA_TYPE,
  readGltf,
  readTexture,
  type GltfScene,
  type GltfSurface,
  type GltfTexture,
  type TextureEncoding,
  type Unsupported,
} from '../formats/index.ts';
import { FINAL_DEFAULTS, PREVIEW_DEFAULTS } from './settings.ts';
import { SURFACE_DEFAULTS, type Light, type ShotDocument, type Surface } from './shotDocument.ts';
import { mergeShot } from './patch.ts';
import { validateShot } from './validate.ts';

export interface ImportFile {
  name: string;
  bytes: Uint8Array;
}
export interface StoredBlob {
  bytes: Uint8Array;
  mediaType: string;
}
export interface ImportedShot {
  document: ShotDocument;
  /** By SHA-256, hexadecimal. */
  blobs: Map<string, StoredBlob>;
  unsupported: Unsupported[];
}

/**
 * Makes a shot of the files that a user brings in together: one GLB or glTF with what it refers to, and, if wanted, a
 * settings file (JSON, laid over the shot document as an RFC 7396 merge patch) with its environment picture.
 * @throws InputError naming the file and the place; nothing is half done
 */
export async function importShot(files: ImportFile[], name?: string): Promise<ImportedShot> {
  const scenes = files.filter((f) => /\.(glb|gltf)$/i.test(f.name));
  if (scenes.length !== 1)
    throw new InputError(
      scenes.length === 0
        ? 'bring in a scene: a .glb, or a .gltf with its files'
        : `bring in one scene at a time: ${scenes.map((f) => f.name).join(', ')}`,
    );
  const [scene] = scenes;
  const settings = files.filter((f) => /\.json$/i.test(f.name));
  if (settings.length > 1) throw new InputError('bring in one settings file at a time');
  const resources = Object.fromEntries(files.filter((f) => f !== scene).map((f) => [f.name, f.bytes]));
  const gltf = await readGltf(scene.bytes, scene.name, resources);
  const blobs: ImportedShot['blobs'] = new Map();
  const document = await toDocument(gltf, scene.name, name ?? scene.name.replace(/\.[^.]*$/, ''), blobs);
  const merged = settings.length > 0 ? await overlaySettings(document, settings[0], files, blobs) : document;
  if (Object.keys(merged.cameras).length === 0)
    throw new InputError('the scene has no camera: add one and export it again', scene.name);
  if (!hasLight(merged))
    throw new InputError(
      'nothing in the scene gives light: add a light or an emissive surface, or an environment in a settings file',
      scene.name,
    );
  return { document: validateShot(merged, settings[0]?.name ?? scene.name), blobs, unsupported: gltf.unsupported };
}

async function toDocument(
  gltf: GltfScene,
  file: string,
  name: string,
  blobs: ImportedShot['blobs'],
): Promise<ShotDocument> {
  const ids = new IdMaker();
  const document: ShotDocument = {
    format: 'dusting-shot',
    version: 1,
    name,
    camera: 'none',
    cameras: {},
    meshes: {},
    objects: {},
    surfaces: {},
    textures: {},
    lights: {},
    environment: { color: [0, 0, 0], strength: 1, rotation: 0, picture: null },
    noise: { limit: 1, stops: 1 },
    preview: structuredClone(PREVIEW_DEFAULTS),
    final: structuredClone(FINAL_DEFAULTS),
  };
  const textures = new Map<string, string>();
  const addTexture = async (texture: GltfTexture | null, encoding: TextureEncoding) => {
    if (!texture) return undefined;
    const place = `${file}, ${texture.place}`;
    const { width, height } = readTexture(texture.bytes, place, encoding);
    const blob = await addBlob(blobs, texture.bytes, texture.mediaType);
    const { wrapU, wrapV } = texture;
    const key = [blob, encoding, wrapU, wrapV].join();
    if (!textures.has(key)) {
      const id = ids.make('texture', texture.name);
      textures.set(key, id);
      document.textures[id] = { name: texture.name, blob, width, height, encoding, wrapU, wrapV };
    }
    return textures.get(key);
  };

  const surfaceIds: string[] = [];
  for (const surface of gltf.surfaces) {
    const id = ids.make('surface', surface.name);
    surfaceIds.push(id);
    document.surfaces[id] = surfaceOf(surface, {
      base_color: await addTexture(surface.baseColorTexture, 'srgb'),
      emission_color: await addTexture(surface.emissionTexture, 'srgb'),
      metalness_roughness: await addTexture(surface.metalRoughTexture, 'linear'),
    });
  }
  const meshIds = new Map<string, string>();
  for (const object of gltf.objects) {
    const { key, name: meshName, data } = object.mesh;
    if (!meshIds.has(key)) {
      const id = ids.make('mesh', meshName);
      meshIds.set(key, id);
      const blob = await addBlob(blobs, encodeMesh(data), MESH_MEDIA_TYPE);
      document.meshes[id] = { name: meshName, blob, triangles: data.indices.length / 3 };
    }
    let surface = surfaceIds[object.surface];
    if (surface === undefined) {
      surface = 'without-material';
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
      name: object.name || key,
      mesh: meshIds.get(key)!,
      surface,
      transform: object.transform,
    };
  }
  for (const { name: cameraName, kind, verticalAngle, height, transform } of gltf.cameras)
    document.cameras[ids.make('camera', cameraName)] = { name: cameraName, kind, verticalAngle, height, transform };
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
      name: light.name,
      kind: light.kind,
      color: strength > 0 ? light.intensity.map((c) => c / strength) : [1, 1, 1],
      strength,
      transform: light.transform,
    };
    if (light.kind === 'spot') Object.assign(value, { innerCone: light.innerCone, outerCone: light.outerCone });
    if (light.kind === 'sun') value.angle = 0;
    document.lights[ids.make('light', light.name)] = value;
  }
  return document;
}

function surfaceOf(s: GltfSurface, maps: Surface['maps']): Surface {
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
    specular_ior: s.ior === 0 ? 1.5 : s.ior,
    transmission_weight: s.transmission,
    transmission_color: absorbs ? s.attenuationColor : [1, 1, 1],
    transmission_depth: absorbs ? s.attenuationDistance : 0,
    transmission_tint: s.transmission > 0 ? s.baseColor : [1, 1, 1],
    emission_color: strength > 0 ? s.emission.map((e) => e / strength) : [1, 1, 1],
    emission_luminance: strength,
    geometry_thin_walled: s.transmission > 0 && s.thickness === 0,
    maps: Object.fromEntries(Object.entries(maps).filter(([, id]) => id !== undefined)),
  };
}

async function overlaySettings(
  document: ShotDocument,
  file: ImportFile,
  files: ImportFile[],
  blobs: ImportedShot['blobs'],
): Promise<ShotDocument> {
  let overlay: { environment?: { color?: number[]; picture?: unknown } };
  try {
    overlay = JSON.parse(new TextDecoder().decode(file.bytes));
  } catch (error) {
    throw new InputError(`the settings file is not valid JSON (${(error as Error).message})`, file.name);
  }
  const picture = overlay?.environment?.picture;
  if (typeof picture === 'string') {
    const found = files.find((f) => f.name === picture);
    if (!found)
      throw new InputError(
        `it names the environment picture ${picture}, which is missing: bring in both together`,
        file.name,
      );
    const { width, height } = readTexture(found.bytes, found.name, 'srgb');
    const blob = await addBlob(blobs, found.bytes, 'image/x-exr');
    overlay.environment = { color: [1, 1, 1], ...overlay.environment };
    overlay.environment.picture = { name: found.name, blob, width, height };
  }
  return mergeShot(document, overlay);
}

/** Whether any light, emissive surface or environment can light the scene. */
export function hasLight(document: ShotDocument): boolean {
  const { color, strength, picture } = document.environment;
  const environment = strength > 0 && (picture !== null || color.some((c) => c > 0));
  const lights = Object.values(document.lights).some((l) => l.strength > 0);
  return (
    environment ||
    lights ||
    Object.values(document.objects).some((o) => document.surfaces[o.surface].emission_luminance > 0)
  );
}

async function addBlob(blobs: ImportedShot['blobs'], bytes: Uint8Array, mediaType: string): Promise<string> {
  const digest = await crypto.subtle.digest('SHA-256', bytes as Uint8Array<ArrayBuffer>);
  const id = [...new Uint8Array(digest)].map((b) => b.toString(16).padStart(2, '0')).join('');
  blobs.set(id, { bytes, mediaType });
  return id;
}

/** Readable ids that stay the same for the same file: "jar-wall", "jar-wall-2". */
class IdMaker {
  private readonly used = new Set<string>();
  make(group: string, name: string): string {
    const slug =
      name
        .normalize('NFKD')
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-')
        .replace(/^-+|-+$/g, '')
        .slice(0, 60) || group;
    let id = slug;
    for (let n = 2; this.used.has(`${group}/${id}`); n++) id = `${slug}-${n}`;
    this.used.add(`${group}/${id}`);
    return id;
  }
}
