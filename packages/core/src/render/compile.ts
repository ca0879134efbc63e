import { decodeMesh, InputError, readTexture } from '../formats/index.ts';
import type { RenderSettings, ShotDocument } from '../scene/index.ts';
import {
  ALBEDO_STRIDE,
  ALBEDOS,
  buildEmitters,
  buildLightTree,
  buildTextures,
  emitterBounds,
  fillSurface,
  isUnseen,
  LIGHT,
  lightBounds,
  placeTextures,
  SUN,
  SURFACE,
  texelsKey,
  turnEnvironment,
  type EmitterTable,
  type EnvironmentMap,
  type LightTree,
  type SurfaceTable,
  type TextureStore,
} from '../shade/index.ts';
import { buildRayScene, moveInstances, plainBuffer, type MakeBuffer, type RayScene } from '../trace/index.ts';
import type { BlobReader } from './blobReader.ts';
import { CAMERA, fillCamera } from './camera.ts';
import {
  asksRays,
  compileObjects,
  layOutGeometry,
  meshesOf,
  type Geometry,
  type ObjectTables,
} from './compileGeometry.ts';
import { paddedPictures, paddingKey } from './paddedPictures.ts';
import { withPixelLevels } from './pixelLevels.ts';
import { buildShapes, planShapes, type BaseShapes, type ShapePlan } from './shapes.ts';
import {
  compileEnvironment,
  compileLights,
  EMITTER_GROUP,
  groupIndex,
  lightGroups,
  type LightTable,
} from './compileLights.ts';

/** A shot as flat arrays. With shared buffers it goes to other threads without a copy. */
export interface CompiledScene extends Geometry, ObjectTables {
  rays: RayScene;
  surfaces: SurfaceTable;
  textures: TextureStore;
  lights: LightTable;
  emitters: EmitterTable;
  /** Over the emitters and, where there are many, the lights with a place: item `emitters + i` is light treeLights[i]. */
  lightTree: LightTree | null;
  treeLights: Int32Array;
  environment: EnvironmentMap | null;
  environmentGroup: number;
  environmentSeen: boolean;
  /** What the camera sees where it meets nothing, instead of the environment. */
  background: Float64Array | null;
  /** Group of the emissive surfaces. */
  emitterGroup: number;
  groups: string[];
  camera: Float64Array;
  clearShadows: RenderSettings['clearShadows'];
  objectIds: string[];
  surfaceIds: string[];
}

/** Up to so many lights with a place are asked one by one at the first surface; more are chosen from a tree. */
export const FEW_LIGHTS = 8;

/** What a scene was compiled from. */
export interface CompileSource {
  document: ShotDocument;
  settings: RenderSettings;
}

/** @throws InputError for a scene without surfaces, or a damaged blob */
export function compileScene(
  document: ShotDocument,
  settings: RenderSettings,
  readBlob: BlobReader,
  makeBuffer: MakeBuffer = plainBuffer,
): CompiledScene {
  return compile({ document, settings }, readBlob, makeBuffer, null);
}

/**
 * The same after a change: what does not depend on it is taken over. Where objects were moved, shown or hidden, the upper
 * level of the hierarchy is written anew in the memory of the scene before, so nothing may render that one meanwhile.
 * A change of which objects there are builds the hierarchies anew, a change of meshes the geometry too.
 */
export function recompileScene(
  scene: CompiledScene,
  before: CompileSource,
  after: CompileSource,
  readBlob: BlobReader,
  makeBuffer: MakeBuffer = plainBuffer,
): CompiledScene {
  return compile(after, readBlob, makeBuffer, { scene, source: before, renders: false });
}

/** The same while the scene before may go on rendering: nothing is written in its memory. */
export function compileBeside(
  scene: CompiledScene,
  before: CompileSource,
  after: CompileSource,
  readBlob: BlobReader,
  makeBuffer: MakeBuffer = plainBuffer,
): CompiledScene {
  return compile(after, readBlob, makeBuffer, { scene, source: before, renders: true });
}

/** A scene that another is made from, and whether it may go on rendering. */
interface Previous {
  scene: CompiledScene;
  source: CompileSource;
  renders: boolean;
}

/** What the hierarchies of the meshes are built for. */
function shapeOf({ document }: CompileSource): unknown[] {
  const { keys, ofObject } = planShapes(document);
  return Object.entries(document.objects).map(([id, o], i) => [id, keys[ofObject[i]], o.laterTransforms.length]);
}

/** With the levels that hang on how large objects are seen. */
function levelled({ document, settings }: CompileSource, readBlob: BlobReader): CompileSource {
  const meshOf = (id: string) => decodeMesh(readBlob(document.meshes[document.objects[id].mesh].blob));
  return { document: withPixelLevels(document, settings, meshOf), settings };
}

function same(a: unknown, b: unknown): boolean {
  return a === b || JSON.stringify(a) === JSON.stringify(b);
}

function compile(
  given: CompileSource,
  readBlob: BlobReader,
  makeBuffer: MakeBuffer,
  from: Previous | null,
): CompiledScene {
  const source = levelled(given, readBlob);
  const previous = from && { ...from, source: levelled(from.source, readBlob) };
  const { document, settings } = source;
  const objectIds = Object.keys(document.objects);
  if (objectIds.length === 0) throw new InputError('the scene has no surface to render', document.name);
  const shaped = previous !== null && same(shapeOf(previous.source), shapeOf(source));
  const kept = (part: 'textures' | 'surfaces') =>
    previous && same(previous.source.document[part], document[part]) ? previous.scene : null;
  const surfaceIds = Object.keys(document.surfaces);
  const texelsStay = previous !== null && same(texelsKeys(previous.source.document), texelsKeys(document));
  const textures =
    texelsStay && kept('textures') && !previous.renders
      ? previous.scene.textures
      : texelsStay
        ? placeTextures(previous.scene.textures, Object.values(document.textures), makeBuffer)
        : loadTextures(document, readBlob, makeBuffer);
  const plan = planShapes(document);
  // a scene with fewer objects keeps the shapes of those that left
  const geometry: Geometry =
    previous &&
    same(previous.source.document.meshes, document.meshes) &&
    plan.keys.every((key) => previous.scene.shapeKeys.includes(key))
      ? previous.scene
      : shapeGeometry(document, plan, textures, readBlob, makeBuffer, previous?.scene ?? null);
  const shapes = plan.ofObject.map((shape) => geometry.shapeKeys.indexOf(plan.keys[shape]));
  const surfaces = (texelsStay && kept('surfaces')?.surfaces) || compileSurfaces(document, makeBuffer);
  const groups = lightGroups(document);
  const placed = compileObjects(document, settings, surfaces, geometry, shapes, makeBuffer);
  const lights = compileLights(document, objectIds, groups, makeBuffer);
  const local = Array.from({ length: lights.count }, (_, i) => i).filter(
    (i) => lights.values[i * LIGHT.stride + LIGHT.kind] !== SUN,
  );
  const treeLights = Int32Array.from(local.length > FEW_LIGHTS ? local : []);
  const bounds = [...placed.emitting.map(emitterBounds), ...[...treeLights].map((i) => lightBounds(lights.values, i))];
  const camera = new Float64Array(makeBuffer(CAMERA.stride * 8));
  fillCamera(camera, document.cameras[document.camera], settings);
  let rays = shaped ? previous.scene.rays : null;
  const moved = rays !== null && (!same(previous!.source.document.objects, document.objects) || !samePassage(previous!.source, source)); // prettier-ignore
  if (!rays || (moved && previous!.renders)) rays = buildRayScene(meshesOf(geometry), placed.instances, makeBuffer);
  else if (moved) moveInstances(rays, placed.instances);
  const { background, seenByCamera, group } = document.environment;
  return {
    rays,
    meshes: geometry.meshes,
    positions: geometry.positions,
    normals: geometry.normals,
    uvs: geometry.uvs,
    indices: geometry.indices,
    centres: geometry.centres,
    reaches: geometry.reaches,
    shapeKeys: geometry.shapeKeys,
    ...placed.tables,
    surfaces,
    textures,
    lights,
    emitters: buildEmitters(placed.emitting, makeBuffer),
    lightTree: bounds.some((b) => b.power > 0) ? buildLightTree(bounds, makeBuffer) : null,
    treeLights,
    environment: keptEnvironment(previous, document) ?? compileEnvironment(document, readBlob, makeBuffer),
    environmentGroup: groupIndex(groups, group),
    environmentSeen: seenByCamera,
    background: background && Float64Array.from(background),
    emitterGroup: groupIndex(groups, EMITTER_GROUP),
    groups,
    camera,
    clearShadows: settings.clearShadows,
    objectIds,
    surfaceIds,
  };
}

/** What was subdivided for a scene stays beside its geometry, in the thread that made it: copies to others would be large. */
const BASES = new WeakMap<Float32Array, BaseShapes>();

function shapeGeometry(
  document: ShotDocument,
  plan: ShapePlan,
  textures: TextureStore,
  readBlob: BlobReader,
  makeBuffer: MakeBuffer,
  before: Geometry | null,
): Geometry {
  const bases = (before && BASES.get(before.positions)) ?? new Map();
  const geometry = layOutGeometry(plan.keys, buildShapes(document, plan, textures, readBlob, bases), makeBuffer);
  if (bases.size > 0) BASES.set(geometry.positions, bases);
  return geometry;
}

/** Places of textures and what their texels depend on. */
function texelsKeys(document: ShotDocument): unknown {
  return Object.entries(document.textures).map(([id, ref]) => [id, texelsKey(ref), paddingKey(document, id)]);
}

/** The environment of the scene before, where it is the same or only turned. */
function keptEnvironment(previous: Previous | null, { environment }: ShotDocument): EnvironmentMap | null {
  const before = previous?.source.document.environment;
  // the sky of a gradient does not turn
  if (!before || !previous.scene.environment || (environment.gradient && !environment.picture)) return null;
  const light = ({ ceiling, color, strength, picture, gradient }: typeof before) => [ceiling, color, strength, picture, gradient]; // prettier-ignore
  return same(light(before), light(environment)) ? turnEnvironment(previous.scene.environment, environment.rotation) : null; // prettier-ignore
}

/** Whether the same objects let rays through: their masks depend on it. */
function samePassage(a: CompileSource, b: CompileSource): boolean {
  const of = ({ document, settings }: CompileSource) => Object.values(document.objects).map((o) => [asksRays(document, o, settings), isUnseen(document.surfaces[o.surface])]); // prettier-ignore
  return same(of(a), of(b));
}

function compileSurfaces(document: ShotDocument, makeBuffer: MakeBuffer): SurfaceTable {
  const surfaceIds = Object.keys(document.surfaces);
  const textureIds = Object.keys(document.textures);
  const surfaces: SurfaceTable = {
    values: new Float64Array(makeBuffer(surfaceIds.length * SURFACE.stride * 8)),
    albedos: new Float32Array(makeBuffer(surfaceIds.length * ALBEDOS.count * ALBEDO_STRIDE * 4)),
  };
  surfaceIds.forEach((id, i) =>
    fillSurface(surfaces, i, document.surfaces[id], (map) => (map === undefined ? -1 : textureIds.indexOf(map))),
  );
  return surfaces;
}

export function loadTextures(document: ShotDocument, readBlob: BlobReader, makeBuffer: MakeBuffer): TextureStore {
  const sources = Object.entries(document.textures).map(([id, ref]) => ({
    ref,
    pictures: paddedPictures(document, id, readBlob, (ref.tiles.length > 0 ? ref.tiles : [ref]).map(({ blob }) => readTexture(readBlob(blob), ref.name, ref))), // prettier-ignore
  }));
  return buildTextures(sources, makeBuffer);
}
