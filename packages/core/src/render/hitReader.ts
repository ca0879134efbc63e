import { SURFACE, type Ray, type SurfacePoint } from '../shade/index.ts';
import { blendAffine, invertAffineInto } from '../math/index.ts';
import type { Hit } from '../trace/index.ts';
import type { CompiledScene } from './compile.ts';
import { FACES_TURNED, MESH, OBJECT, rayOffset, SINGLE_SIDED } from './compileGeometry.ts';

/** A ray with its time (0..1 over the shutter interval) and the width of the cone about it, metres. */
export interface TracedRay extends Ray {
  time: number;
  width: number;
}

/** Turns a hit into a point to be shaded: position, normals, tangent and UVs, interpolated in double precision. */
export class HitReader {
  private readonly moving = new Float64Array(12);
  private readonly inverse = new Float64Array(12);
  /** Corners of a deforming triangle at the time of the ray, and their normals: 9 numbers each. */
  private readonly corners = new Float64Array(9);
  private readonly cornerNormals = new Float64Array(9);
  constructor(private readonly scene: CompiledScene) {}

  /**
   * Fills the geometry of `point`; prepare() has to follow.
   * @param ray its width is that of the cone about it at the hit, metres: for the width of texture look-ups
   * @param always whether UVs are read even where the surface does not depend on the place
   */
  // prettier-ignore
  place(hit: Hit, ray: TracedRay, point: SurfacePoint, always: boolean): void {
    const { dx, dy, dz, time, width } = ray;
    const { meshes, positions, normals, uvs, indices, objects, objectTransforms, objectInverses, objectStretches, surfaces } = this.scene;
    const object = hit.instance;
    const entry = object * OBJECT.stride;
    const mesh = objects[entry + OBJECT.mesh] * MESH.stride;
    const vertex = meshes[mesh + MESH.vertex];
    const corner = meshes[mesh + MESH.index] + hit.triangle * 3;
    const a = vertex + indices[corner], b = vertex + indices[corner + 1], c = vertex + indices[corner + 2];
    const u = hit.u, v = hit.v, w = 1 - u - v;

    const deforms = meshes[mesh + MESH.keys] > 1;
    const p = deforms ? this.blend(positions, mesh, a, b, c, time, this.corners) : positions;
    const pa = deforms ? 0 : a * 3, pb = deforms ? 3 : b * 3, pc = deforms ? 6 : c * 3;
    const ax = p[pa], ay = p[pa + 1], az = p[pa + 2];
    const e1x = p[pb] - ax, e1y = p[pb + 1] - ay, e1z = p[pb + 2] - az;
    const e2x = p[pc] - ax, e2y = p[pc + 1] - ay, e2z = p[pc + 2] - az;
    let px = ax + u * e1x + v * e2x, py = ay + u * e1y + v * e2y, pz = az + u * e1z + v * e2z;
    const near = Math.abs(px) + Math.abs(py) + Math.abs(pz);
    const size = Math.abs(e1x) + Math.abs(e1y) + Math.abs(e1z) + Math.abs(e2x) + Math.abs(e2y) + Math.abs(e2z);
    const turned = objects[entry + OBJECT.flags] & FACES_TURNED;
    const side = turned ? -1 : 1;
    let gx = side * (e1y * e2z - e1z * e2y), gy = side * (e1z * e2x - e1x * e2z), gz = side * (e1x * e2y - e1y * e2x);
    let nx = gx, ny = gy, nz = gz;
    if (meshes[mesh + MESH.normals] === 1) {
      const q = deforms ? this.blend(normals, mesh, a, b, c, time, this.cornerNormals) : normals;
      nx = w * q[pa] + u * q[pb] + v * q[pc];
      ny = w * q[pa + 1] + u * q[pb + 1] + v * q[pc + 1];
      nz = w * q[pa + 2] + u * q[pb + 2] + v * q[pc + 2];
      // the normals of a mesh may be the wrong way round as well, or not
      if (turned && nx * gx + ny * gy + nz * gz < 0) { nx = -nx; ny = -ny; nz = -nz; }
    }
    let tx = 0, ty = 0, tz = 0, vx = 0, vy = 0, vz = 0, spread = 0, volume = 1;
    const { values } = point;
    const look = objects[entry + OBJECT.surface] * SURFACE.stride;
    const usesUvs = always || surfaces.values[look + SURFACE.mapped] > 0 || surfaces.values[look + SURFACE.anisotropy] > 0;
    const sets = usesUvs ? meshes[mesh + MESH.uvSets] : 0;
    for (let set = 0; set < sets; set++) {
      const o = (meshes[mesh + MESH.uvs] + set * meshes[mesh + MESH.vertices] - vertex) * 2;
      const au = uvs[o + a * 2], av = uvs[o + a * 2 + 1];
      const d1u = uvs[o + b * 2] - au, d1v = uvs[o + b * 2 + 1] - av;
      const d2u = uvs[o + c * 2] - au, d2v = uvs[o + c * 2 + 1] - av;
      values.uv[set * 2] = au + u * d1u + v * d2u;
      values.uv[set * 2 + 1] = av + u * d1v + v * d2v;
      if (set > 0) continue;
      const turn = d1u * d2v - d1v * d2u;
      spread = Math.abs(turn);
      const sign = turn < 0 ? -1 : 1;
      tx = sign * (d2v * e1x - d1v * e2x); ty = sign * (d2v * e1y - d1v * e2y); tz = sign * (d2v * e1z - d1v * e2z);
      vx = sign * (d1u * e2x - d2u * e1x); vy = sign * (d1u * e2y - d2u * e1y); vz = sign * (d1u * e2z - d2u * e1z);
    }
    for (let k = sets * 2; k < 4; k++) values.uv[k] = k > 1 && sets > 0 ? values.uv[k - 2] : 0;
    if (objects[entry + OBJECT.still] === 0) {
      const moves = objects[entry + OBJECT.keys] > 0;
      if (moves) {
        blendAffine(this.scene.objectKeys, objects[entry + OBJECT.firstKey] * 12, objects[entry + OBJECT.keys], time, this.moving);
        invertAffineInto(this.moving, this.inverse);
      }
      const m = moves ? 0 : object * 12;
      const t = moves ? this.moving : objectTransforms;
      const x = px, y = py, z = pz, ux = tx, uy = ty, uz = tz, qx = vx, qy = vy, qz = vz;
      px = t[m] * x + t[m + 1] * y + t[m + 2] * z + t[m + 3];
      py = t[m + 4] * x + t[m + 5] * y + t[m + 6] * z + t[m + 7];
      pz = t[m + 8] * x + t[m + 9] * y + t[m + 10] * z + t[m + 11];
      if (sets > 0) {
        tx = t[m] * ux + t[m + 1] * uy + t[m + 2] * uz;
        ty = t[m + 4] * ux + t[m + 5] * uy + t[m + 6] * uz;
        tz = t[m + 8] * ux + t[m + 9] * uy + t[m + 10] * uz;
        vx = t[m] * qx + t[m + 1] * qy + t[m + 2] * qz;
        vy = t[m + 4] * qx + t[m + 5] * qy + t[m + 6] * qz;
        vz = t[m + 8] * qx + t[m + 9] * qy + t[m + 10] * qz;
        // cofactors are the determinant times the transposed inverse: what the area below is short of
        volume = Math.abs(
          t[m] * (t[m + 5] * t[m + 10] - t[m + 6] * t[m + 9]) - t[m + 1] * (t[m + 4] * t[m + 10] - t[m + 6] * t[m + 8]) +
          t[m + 2] * (t[m + 4] * t[m + 9] - t[m + 5] * t[m + 8]),
        );
      }
      // normals go by the transposed inverse, which also keeps the front side under mirroring
      const i = moves ? this.inverse : objectInverses;
      const hx = gx, hy = gy, hz = gz, sx = nx, sy = ny, sz = nz;
      gx = i[m] * hx + i[m + 4] * hy + i[m + 8] * hz;
      gy = i[m + 1] * hx + i[m + 5] * hy + i[m + 9] * hz;
      gz = i[m + 2] * hx + i[m + 6] * hy + i[m + 10] * hz;
      nx = i[m] * sx + i[m + 4] * sy + i[m + 8] * sz;
      ny = i[m + 1] * sx + i[m + 5] * sy + i[m + 9] * sz;
      nz = i[m + 2] * sx + i[m + 6] * sy + i[m + 10] * sz;
    }
    point.offset = rayOffset(near, size, objectStretches[object], Math.abs(px) + Math.abs(py) + Math.abs(pz));
    const area = Math.sqrt(gx * gx + gy * gy + gz * gz);
    const g = 1 / area;
    point.object = object;
    point.px = px; point.py = py; point.pz = pz;
    point.gx = gx * g; point.gy = gy * g; point.gz = gz * g;
    point.tangentX = tx; point.tangentY = ty; point.tangentZ = tz;
    point.acrossX = vx; point.acrossY = vy; point.acrossZ = vz;
    point.turn = spread;
    const length = Math.sqrt(nx * nx + ny * ny + nz * nz);
    const n = 1 / length;
    if (length > 0 && gx * nx + gy * ny + gz * nz > 0) {
      point.nx = nx * n; point.ny = ny * n; point.nz = nz * n;
    } else { // stored normals that oppose the winding are not believed: the winding says which side is the front
      point.nx = point.gx; point.ny = point.gy; point.nz = point.gz;
    }
    // the area of the cone's cut with the surface, in UV
    const cosine = Math.abs(point.gx * dx + point.gy * dy + point.gz * dz);
    values.spacing = Math.sqrt(spread);
    values.stretch = objectStretches[object];
    values.footprint = spread > 0 ? width * Math.sqrt(spread / (area * volume * Math.max(0.05, cosine))) : 0;
  }

  /** How much of the light a surface stops at a hit, 0..1. Fills `point` on the way. */
  // prettier-ignore
  opacity(hit: Hit, ray: TracedRay, point: SurfacePoint): number {
    const { dx, dy, dz } = ray;
    const { objects } = this.scene;
    const entry = hit.instance * OBJECT.stride;
    this.place(hit, ray, point, false);
    if (objects[entry + OBJECT.flags] & SINGLE_SIDED && point.gx * dx + point.gy * dy + point.gz * dz > 0) return 0;
    return point.values.readOpacity(objects[entry + OBJECT.surface]);
  }

  /** Whether a hit is on the back of its surface. */
  isBack(hit: Hit): boolean {
    const turned = (this.scene.objects[hit.instance * OBJECT.stride + OBJECT.flags] & FACES_TURNED) !== 0;
    return hit.front === turned;
  }

  /** Values of three vertices of a deforming mesh at the time of a ray, between its keys. */
  // prettier-ignore
  private blend(values: Float32Array, mesh: number, a: number, b: number, c: number, time: number, out: Float64Array): Float64Array {
    const { meshes } = this.scene;
    const keys = meshes[mesh + MESH.keys];
    const place = Math.min(1, Math.max(0, time)) * (keys - 1);
    const key = Math.min(keys - 2, Math.floor(place));
    const step = meshes[mesh + MESH.vertices] * 3;
    for (let corner = 0; corner < 3; corner++) {
      const at = (corner === 0 ? a : corner === 1 ? b : c) * 3 + key * step;
      for (let k = 0; k < 3; k++)
        out[corner * 3 + k] = values[at + k] + (place - key) * (values[at + step + k] - values[at + k]);
    }
    return out;
  }

  /** Number of the surface of an object in the tables of shading. */
  surfaceOf(object: number): number {
    return this.scene.objects[object * OBJECT.stride + OBJECT.surface];
  }

  /** Whether the surface of an object bounds a medium. */
  bounds(object: number): boolean {
    const { values } = this.scene.surfaces;
    const at = this.surfaceOf(object) * SURFACE.stride;
    return values[at + SURFACE.transmission] > 0 && values[at + SURFACE.thin] === 0;
  }
}
