// A place on a surface with its normals, and a frame about the shading normal.
export class ShadingFrame {
  // position, geometric and shading normal (both on the viewer's side after prepare), tangent
  px = 0;
  py = 0;
  pz = 0;
  gx = 0;
  gy = 0;
  gz = 1;
  nx = 0;
  ny = 0;
  nz = 1;
  /** How far a ray sets out from the surface, against meeting it again; metres. */
  offset = 0;
  /** Direction of growing u, for surfaces with a direction of their own; 0 where the mesh has no UVs. */
  tangentX = 0;
  tangentY = 0;
  tangentZ = 0;
  /** The same of v. Both are the change of place with u and v times turn, the area of the triangle's half in UV. */
  acrossX = 0;
  acrossY = 0;
  acrossZ = 0;
  turn = 0;
  protected tx = 1;
  protected ty = 0;
  protected tz = 0;
  protected bx = 0;
  protected by = 1;
  protected bz = 0;
  /** Direction that was sampled or evaluated last, unit length. */
  wx = 0;
  wy = 0;
  wz = 0;
  /** The same in the frame. */
  protected lx = 0;
  protected ly = 0;
  protected lz = 1;

  /** Turns the shading normal to one that is given in the frame; the frame has to be made anew. */
  protected tilt(normal: Float64Array): void {
    const x = normal[0];
    const y = normal[1];
    const z = normal[2];
    const nx = x * this.tx + y * this.bx + z * this.nx;
    const ny = x * this.ty + y * this.by + z * this.ny;
    const nz = x * this.tz + y * this.bz + z * this.nz;
    const scale = 1 / Math.sqrt(nx * nx + ny * ny + nz * nz);
    this.nx = nx * scale;
    this.ny = ny * scale;
    this.nz = nz * scale;
  }

  /**
   * Tilts the shading normal by a slope over u and v (Blinn 1978, "Simulation of wrinkled surfaces"): the normal of a
   * surface raised along its own normal, to first order.
   */
  protected tiltBySlope(slope: Float64Array): void {
    const { nx, ny, nz, tangentX: ux, tangentY: uy, tangentZ: uz, acrossX: vx, acrossY: vy, acrossZ: vz } = this;
    const volume = nx * (uy * vz - uz * vy) + ny * (uz * vx - ux * vz) + nz * (ux * vy - uy * vx);
    if (volume === 0) return;
    // both axes are longer by `turn` than the change of place
    const a = (slope[0] * this.turn) / volume;
    const b = (slope[1] * this.turn) / volume;
    const x = nx - a * (vy * nz - vz * ny) - b * (ny * uz - nz * uy);
    const y = ny - a * (vz * nx - vx * nz) - b * (nz * ux - nx * uz);
    const z = nz - a * (vx * ny - vy * nx) - b * (nx * uy - ny * ux);
    const scale = 1 / Math.sqrt(x * x + y * y + z * z);
    this.nx = x * scale;
    this.ny = y * scale;
    this.nz = z * scale;
  }

  /** A frame about the shading normal: at an angle from the tangent where that matters, or any. */
  protected makeFrame(along: boolean, angle: number): void {
    if (along) {
      const { nx, ny, nz } = this;
      const d = this.tangentX * nx + this.tangentY * ny + this.tangentZ * nz;
      const x = this.tangentX - d * nx;
      const y = this.tangentY - d * ny;
      const z = this.tangentZ - d * nz;
      const length = Math.sqrt(x * x + y * y + z * z);
      if (length > 0) {
        const c = Math.cos(angle) / length;
        const t = Math.sin(angle) / length;
        const ux = ny * z - nz * y;
        const uy = nz * x - nx * z;
        const uz = nx * y - ny * x;
        this.tx = c * x + t * ux;
        this.ty = c * y + t * uy;
        this.tz = c * z + t * uz;
        this.bx = ny * this.tz - nz * this.ty;
        this.by = nz * this.tx - nx * this.tz;
        this.bz = nx * this.ty - ny * this.tx;
        return;
      }
    }
    // without a special case (Duff et al. 2017, "Building an Orthonormal Basis, Revisited")
    const sign = this.nz >= 0 ? 1 : -1;
    const a = -1 / (sign + this.nz);
    const b = this.nx * this.ny * a;
    this.tx = 1 + sign * this.nx * this.nx * a;
    this.ty = sign * b;
    this.tz = -sign * this.nx;
    this.bx = b;
    this.by = sign + this.ny * this.ny * a;
    this.bz = -this.ny;
  }

  /** The back becomes the front; the tangent stays. */
  protected turnOver(): void {
    this.gx = -this.gx;
    this.gy = -this.gy;
    this.gz = -this.gz;
    this.nx = -this.nx;
    this.ny = -this.ny;
    this.nz = -this.nz;
    this.bx = -this.bx;
    this.by = -this.by;
    this.bz = -this.bz;
  }

  /** Sets wx.. from the direction in the frame. */
  protected toWorld(): void {
    const { lx, ly, lz } = this;
    this.wx = lx * this.tx + ly * this.bx + lz * this.nx;
    this.wy = lx * this.ty + ly * this.by + lz * this.ny;
    this.wz = lx * this.tz + ly * this.bz + lz * this.nz;
  }

  /** Sets the direction in the frame from wx.. */
  protected toFrame(): void {
    const { wx, wy, wz } = this;
    this.lx = wx * this.tx + wy * this.ty + wz * this.tz;
    this.ly = wx * this.bx + wy * this.by + wz * this.bz;
    this.lz = wx * this.nx + wy * this.ny + wz * this.nz;
  }

  /** A direction about the normal by two random numbers, of density cosine / pi. */
  protected sampleCosine(by: Float64Array): void {
    const r = Math.sqrt(by[0]);
    const angle = 2 * Math.PI * by[1];
    this.lx = r * Math.cos(angle);
    this.ly = r * Math.sin(angle);
    this.lz = Math.sqrt(Math.max(0, 1 - by[0]));
    this.toWorld();
  }
}
