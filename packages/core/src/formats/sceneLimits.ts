import type { JSONDocument } from '@gltf-transform/core';
import { InputError } from './inputError.ts';

type GltfJson = JSONDocument['json'];

/** What a scene file may announce before it is believed. */
export interface SceneLimits {
  /** Objects, instances counted one by one. */
  objects: number;
  /** Nodes below each other. */
  nesting: number;
  /** Bytes of all accessors, unpacked. */
  bytes: number;
}
export const SCENE_LIMITS: SceneLimits = { objects: 200_000, nesting: 1000, bytes: 2 ** 31 };

/** Limits for scenes that are larger by a factor; nodes stand no deeper for that. */
export const scaledLimits = (scale: number): SceneLimits => ({ ...SCENE_LIMITS, objects: SCENE_LIMITS.objects * scale, bytes: SCENE_LIMITS.bytes * scale }); // prettier-ignore

const COMPONENT_BYTES: Record<number, number> = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 };
const ELEMENTS: Record<string, number> = { SCALAR: 1, VEC2: 2, VEC3: 3, VEC4: 4, MAT2: 4, MAT3: 9, MAT4: 16 };

/** Bytes of one element of an accessor; NaN for types that there are not. */
export const elementBytes = ({ componentType, type }: { componentType: number; type: string }): number =>
  COMPONENT_BYTES[componentType] * ELEMENTS[type];

/**
 * Counts what a file announces, from its description alone: a few bytes can stand for millions of instances, or for an
 * accessor of zeros that needs gigabytes.
 * @throws InputError with the count, the limit and how to raise it
 */
export function checkSceneLimits(json: GltfJson, name: string, limits: SceneLimits): void {
  const refuse = (what: string, limit: string) => {
    throw new InputError(
      `${what}, and at most ${limit} are taken in. Split the scene, or start with a larger DUSTING_IMPORT_SCALE (2 doubles what may come in)`,
      name,
    );
  };
  const number = (n: number) => n.toLocaleString('en-US');
  const accessors = json.accessors ?? [];
  let bytes = 0;
  accessors.forEach((accessor, i) => {
    if (!Number.isInteger(accessor.count) || accessor.count < 0)
      throw new InputError('its count must be a whole number', `${name}, accessors/${i}`);
    bytes += accessor.count * elementBytes(accessor);
  });
  if (bytes > limits.bytes)
    refuse(`its accessors announce ${number(Math.round(bytes / 2 ** 20))} MB`, `${number(limits.bytes / 2 ** 20)} MB`);

  let objects = 0;
  for (const node of json.nodes ?? []) {
    if (node.mesh === undefined) continue;
    const batch = node.extensions?.EXT_mesh_gpu_instancing as { attributes?: Record<string, number> } | undefined;
    const counts = Object.values(batch?.attributes ?? {}).map((index) => accessors[index]?.count ?? 0);
    objects += (json.meshes?.[node.mesh]?.primitives?.length ?? 0) * (batch ? Math.max(0, ...counts) : 1);
  }
  if (objects > limits.objects) refuse(`it places ${number(objects)} objects`, number(limits.objects));
  const nesting = nestingOf(json, name);
  if (nesting > limits.nesting) refuse(`its nodes stand ${number(nesting)} deep`, number(limits.nesting));
}

/** How many nodes stand below each other at most. @throws InputError where they go round in a circle */
function nestingOf(json: GltfJson, name: string): number {
  const nodes = json.nodes ?? [];
  const parents = new Int32Array(nodes.length).fill(-1);
  nodes.forEach(({ children = [] }, i) => {
    for (const child of children) {
      if (parents[child] === undefined) throw new InputError(`its child ${child} is missing`, `${name}, nodes/${i}`);
      // glTF 2.0, 3.5.2: a node has one parent at most
      if (parents[child] >= 0) throw new InputError('two nodes claim it as their child', `${name}, nodes/${child}`);
      parents[child] = i;
    }
  });
  // 0: not known yet; a node's depth is looked up once
  const depths = new Int32Array(nodes.length);
  let most = 0;
  for (let i = 0; i < nodes.length; i++) {
    const chain: number[] = [];
    let at = i;
    for (; at >= 0 && depths[at] === 0; at = parents[at]) {
      if (chain.length > nodes.length) throw new InputError('its nodes go round in a circle', `${name}, nodes/${i}`);
      chain.push(at);
    }
    let depth = at < 0 ? 0 : depths[at];
    for (const node of chain.reverse()) depths[node] = ++depth;
    most = Math.max(most, depth);
  }
  return most;
}
