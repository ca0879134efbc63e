import type { SurfacePoint } from '../shade/index.ts';
import { IDENTITY_FLAG, type Hit } from '../trace/index.ts';
import type { CompiledScene } from './compile.ts';

/** Turns a hit into a point to be shaded: position, normals and UV, interpolated in double precision. */
export class HitReader {
  constructor(private readonly scene: CompiledScene) {}

  // prettier-ignore
  read(hit: Hit, dx: number, dy: number, dz: number, point: SurfacePoint): void {
    const { meshes, positions, normals, uvs, indices, objects, objectTransforms, rays } = this.scene;
    const object = hit.instance;
    const mesh = objects[object * 4] * 4;
    const vertex = meshes[mesh];
    const corner = meshes[mesh + 1] + hit.triangle * 3;
    const a = vertex + indices[corner], b = vertex + indices[corner + 1], c = vertex + indices[corner + 2];
    const u = hit.u, v = hit.v, w = 1 - u - v;

    const ax = positions[a * 3], ay = positions[a * 3 + 1], az = positions[a * 3 + 2];
    const e1x = positions[b * 3] - ax, e1y = positions[b * 3 + 1] - ay, e1z = positions[b * 3 + 2] - az;
    const e2x = positions[c * 3] - ax, e2y = positions[c * 3 + 1] - ay, e2z = positions[c * 3 + 2] - az;
    let px = ax + u * e1x + v * e2x, py = ay + u * e1y + v * e2y, pz = az + u * e1z + v * e2z;
    let gx = e1y * e2z - e1z * e2y, gy = e1z * e2x - e1x * e2z, gz = e1x * e2y - e1y * e2x;
    let nx = gx, ny = gy, nz = gz;
    if (meshes[mesh + 2]) {
      nx = w * normals[a * 3] + u * normals[b * 3] + v * normals[c * 3];
      ny = w * normals[a * 3 + 1] + u * normals[b * 3 + 1] + v * normals[c * 3 + 1];
      nz = w * normals[a * 3 + 2] + u * normals[b * 3 + 2] + v * normals[c * 3 + 2];
    }
    if (!(rays.instances[object * 4 + 1] & IDENTITY_FLAG)) {
      const m = object * 12;
      const t = objectTransforms;
      const x = px, y = py, z = pz;
      px = t[m] * x + t[m + 1] * y + t[m + 2] * z + t[m + 3];
      py = t[m + 4] * x + t[m + 5] * y + t[m + 6] * z + t[m + 7];
      pz = t[m + 8] * x + t[m + 9] * y + t[m + 10] * z + t[m + 11];
      // normals go by the transposed inverse, which also keeps the front side under mirroring
      const i = rays.transforms;
      const hx = gx, hy = gy, hz = gz, sx = nx, sy = ny, sz = nz;
      gx = i[m] * hx + i[m + 4] * hy + i[m + 8] * hz;
      gy = i[m + 1] * hx + i[m + 5] * hy + i[m + 9] * hz;
      gz = i[m + 2] * hx + i[m + 6] * hy + i[m + 10] * hz;
      nx = i[m] * sx + i[m + 4] * sy + i[m + 8] * sz;
      ny = i[m + 1] * sx + i[m + 5] * sy + i[m + 9] * sz;
      nz = i[m + 2] * sx + i[m + 6] * sy + i[m + 10] * sz;
    }
    const g = 1 / Math.sqrt(gx * gx + gy * gy + gz * gz);
    point.px = px; point.py = py; point.pz = pz;
    point.gx = gx * g; point.gy = gy * g; point.gz = gz * g;
    const length = Math.sqrt(nx * nx + ny * ny + nz * nz);
    const n = 1 / length;
    if (length > 0 && gx * nx + gy * ny + gz * nz > 0) {
      point.nx = nx * n; point.ny = ny * n; point.nz = nz * n;
    } else { // stored normals that oppose the winding are not believed: the winding says which side is the front
      point.nx = point.gx; point.ny = point.gy; point.nz = point.gz;
    }
    let s = 0, t = 0;
    if (meshes[mesh + 3]) {
      s = w * uvs[a * 2] + u * uvs[b * 2] + v * uvs[c * 2];
      t = w * uvs[a * 2 + 1] + u * uvs[b * 2 + 1] + v * uvs[c * 2 + 1];
    }
    point.prepare(objects[object * 4 + 1], dx, dy, dz, s, t);
  }
}
