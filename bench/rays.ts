// Ray queries on half a million triangles: the kernel against the plain form, a library in plain JavaScript, and, where
// Debian's native library and a compiler are installed, that.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { BufferAttribute, BufferGeometry, Ray, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import type { MeshData } from '@dusting/core/formats';
import { hashUnit } from '@dusting/core/math';
import {
  ALL_RAYS,
  buildRayScene,
  emptyHit,
  moveInstances,
  openRayQuery,
  plainBuffer,
  type RayQuery,
} from '@dusting/core/trace';
import { line, measure, milliseconds, million } from './measure.ts';
import { pitted } from './scenes.ts';

const RAYS = 100_000;

export async function benchRays(): Promise<void> {
  const mesh = pitted(500);
  const instances = [{ mesh: 0, transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0] }];
  const rays = new Float32Array(RAYS * 6);
  for (let i = 0; i < RAYS; i++)
    for (let k = 0; k < 3; k++) {
      const from = hashUnit(i * 7 + k) * 2 - 1;
      rays[i * 6 + k] = from * 2;
      rays[i * 6 + 3 + k] = hashUnit(i * 7 + 3 + k) * 2 - 1 - from;
    }
  const scenes = (['kernel', 'plain'] as const).map((form) => buildRayScene([mesh], instances, plainBuffer, form));
  const hit = emptyHit();
  // prettier-ignore
  const closestAt = (query: RayQuery, o: number) =>
    query.closestHit(rays[o], rays[o + 1], rays[o + 2], rays[o + 3], rays[o + 4], rays[o + 5], 0, Infinity, ALL_RAYS, 0, 0, hit);
  // prettier-ignore
  const blocked = (query: RayQuery, o: number) =>
    query.anyHit(rays[o], rays[o + 1], rays[o + 2], rays[o + 3], rays[o + 4], rays[o + 5], 0, Infinity, ALL_RAYS, 0);
  const ours = scenes.flatMap((scene) => {
    const query = openRayQuery(scene);
    return [false, true].map((any) => () => {
      let hits = 0;
      for (let o = 0; o < rays.length; o += 6) if (any ? blocked(query, o) : closestAt(query, o)) hits++;
      return hits;
    });
  });
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(mesh.positions, 3));
  geometry.setIndex(new BufferAttribute(mesh.indices, 1));
  const tree = new MeshBVH(geometry);
  const ray = new Ray(new Vector3(), new Vector3());
  const theirs = () => {
    let hits = 0;
    for (let o = 0; o < rays.length; o += 6) {
      ray.origin.fromArray(rays, o);
      ray.direction.fromArray(rays, o + 3);
      if (tree.raycastFirst(ray, 2)) hits++;
    }
    return hits;
  };
  const build = () => buildRayScene([mesh], instances, plainBuffer, 'kernel');
  const move = () => moveInstances(scenes[0], instances);
  const [closest, any, plainClosest, plainAny, other, built, moved] = await measure([...ours, theirs, build, move]);
  const rate = (seconds: number) => million(RAYS / seconds);
  console.log(`${mesh.indices.length / 3} triangles\n`);
  line('kernel : plain form, closest hit', plainClosest / closest, `${rate(closest)} : ${rate(plainClosest)}`);
  line('kernel : plain form, any hit', plainAny / any, `${rate(any)} : ${rate(plainAny)}`);
  line('kernel : three-mesh-bvh, closest hit', other / closest, `${rate(closest)} : ${rate(other)}`);
  // it has no query for any hit: its nearest one is what takes its place
  line('kernel, any hit : three-mesh-bvh, closest hit', other / any, `${rate(any)} : ${rate(other)}`);
  const native = nativeSeconds(mesh, rays);
  if (native) {
    line('kernel : native library, closest hit', native[0] / closest, `${rate(closest)} : ${rate(native[0])}`);
    line('kernel : native library, any hit', native[1] / any, `${rate(any)} : ${rate(native[1])}`);
  } else console.log('native library: not installed (libembree-dev and g++)');
  line('build : one closest hit for each triangle', built / ((closest / RAYS) * 500_000), milliseconds(built));
  line('moving an object : build', moved / built, milliseconds(moved));
}

/** Seconds of the native library for closest and any hit, or null where it cannot be built. */
function nativeSeconds(mesh: MeshData, rays: Float32Array): number[] | null {
  if (!existsSync('/usr/include/embree3/rtcore.h')) return null;
  const folder = mkdtempSync(join(tmpdir(), 'rays-'));
  try {
    const [program, data] = [join(folder, 'rays'), join(folder, 'data')];
    const source = fileURLToPath(new URL('native/rays.cpp', import.meta.url));
    if (spawnSync('g++', ['-O3', '-march=native', '-o', program, source, '-lembree3']).status !== 0) return null;
    const counts = new Uint32Array([mesh.positions.length / 3, mesh.indices.length / 3, rays.length / 6]);
    writeFileSync(data, Buffer.concat([counts, mesh.positions, mesh.indices, rays].map((part) => new Uint8Array(part.buffer)))); // prettier-ignore
    const { stdout, status } = spawnSync(program, [data], { encoding: 'utf8' });
    return status === 0 ? stdout.trim().split(' ').map(Number) : null;
  } finally {
    rmSync(folder, { recursive: true });
  }
}
