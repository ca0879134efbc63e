/** A triangle mesh as glTF wants it: counter-clockwise from the front, metres, v downwards. */
export interface Shape {
  positions: number[];
  normals: number[];
  uvs: number[];
  indices: number[];
}

/**
 * Turns a closed or open outline about the Y axis.
 * @param profile points (radius, height); with the solid on the left of the way from one to the next
 * @param smooth angle in degrees below which neighbouring parts of the outline share a normal
 */
export function lathe(profile: [number, number][], segments = 72, smooth = 50): Shape {
  const shape: Shape = { positions: [], normals: [], uvs: [], indices: [] };
  const parts = profile.slice(1).map(([r, y], i) => {
    const dr = r - profile[i][0];
    const dy = y - profile[i][1];
    const length = Math.hypot(dr, dy) || 1;
    return [dy / length, -dr / length]; // outwards, (radius, height)
  });
  const closed = Math.hypot(profile[0][0] - profile.at(-1)![0], profile[0][1] - profile.at(-1)![1]) < 1e-9;
  const near = (a: number[], b: number[]) => a[0] * b[0] + a[1] * b[1] > Math.cos((smooth * Math.PI) / 180);
  parts.forEach((normal, p) => {
    const before = p > 0 ? parts[p - 1] : closed ? parts.at(-1)! : null;
    const after = p < parts.length - 1 ? parts[p + 1] : closed ? parts[0] : null;
    const blend = (other: number[] | null) =>
      other && near(normal, other) ? [normal[0] + other[0], normal[1] + other[1]] : normal;
    const first = shape.positions.length / 3;
    [
      [profile[p], blend(before)],
      [profile[p + 1], blend(after)],
    ].forEach(([[r, y], n], row) => {
      const length = Math.hypot(n[0], n[1]);
      for (let s = 0; s <= segments; s++) {
        const angle = (2 * Math.PI * s) / segments;
        const [c, d] = [Math.cos(angle), Math.sin(angle)];
        shape.positions.push(r * d, y, r * c);
        shape.normals.push((n[0] / length) * d, n[1] / length, (n[0] / length) * c);
        shape.uvs.push(s / segments, 1 - (p + row) / parts.length);
      }
    });
    for (let s = 0; s < segments; s++) {
      const a = first + s;
      const b = a + segments + 1;
      if (profile[p][0] > 0) shape.indices.push(a, a + 1, b);
      if (profile[p + 1][0] > 0) shape.indices.push(a + 1, b + 1, b);
    }
  });
  return shape;
}

/** A box from its lowest to its highest corner; UVs in metres, so that a texture keeps its size. */
export function box(low: [number, number, number], high: [number, number, number]): Shape {
  const shape: Shape = { positions: [], normals: [], uvs: [], indices: [] };
  for (let axis = 0; axis < 3; axis++)
    for (const side of [0, 1]) {
      const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
      const first = shape.positions.length / 3;
      for (const [a, b] of [
        [0, 0],
        [1, 0],
        [1, 1],
        [0, 1],
      ]) {
        const p = [0, 0, 0];
        p[axis] = side ? high[axis] : low[axis];
        p[u] = a ? high[u] : low[u];
        p[v] = b ? high[v] : low[v];
        shape.positions.push(...p);
        const n = [0, 0, 0];
        n[axis] = side ? 1 : -1;
        shape.normals.push(...n);
        shape.uvs.push(axis === 0 ? p[2] : p[0], axis === 1 ? p[2] : -p[1]);
      }
      const [a, b, c, d] = [first, first + 1, first + 2, first + 3];
      shape.indices.push(...(side ? [a, b, c, a, c, d] : [a, c, b, a, d, c]));
    }
  return shape;
}

/** Part of a cylinder wall, seen from outside, for a paper label; the picture fills it once. */
export function label(radius: number, low: number, high: number, halfAngle: number, segments = 24): Shape {
  const shape: Shape = { positions: [], normals: [], uvs: [], indices: [] };
  for (let s = 0; s <= segments; s++) {
    const angle = halfAngle * ((2 * s) / segments - 1);
    const [c, d] = [Math.cos(angle), Math.sin(angle)];
    for (const [y, v] of [
      [low, 1],
      [high, 0],
    ]) {
      shape.positions.push(radius * d, y, radius * c);
      shape.normals.push(d, 0, c);
      shape.uvs.push(s / segments, v);
    }
    if (s < segments) {
      const a = s * 2;
      shape.indices.push(a, a + 2, a + 3, a, a + 3, a + 1);
    }
  }
  return shape;
}

/** The same shape inside out: every face turned round, its normals with it. */
export function reversed(shape: Shape): Shape {
  const indices: number[] = [];
  for (let i = 0; i < shape.indices.length; i += 3)
    indices.push(shape.indices[i], shape.indices[i + 2], shape.indices[i + 1]);
  return { ...shape, normals: shape.normals.map((n) => -n), indices };
}

export function join(...shapes: Shape[]): Shape {
  const all: Shape = { positions: [], normals: [], uvs: [], indices: [] };
  for (const shape of shapes) {
    const first = all.positions.length / 3;
    all.positions.push(...shape.positions);
    all.normals.push(...shape.normals);
    all.uvs.push(...shape.uvs);
    all.indices.push(...shape.indices.map((i) => i + first));
  }
  return all;
}

/**
 * A sheet of quads, from corner to corner of a lattice, smooth where its places meet; columns run to the right of one who sees
 * its front with rows going up.
 */
export function grid(
  columns: number,
  rows: number,
  place: (i: number, j: number) => [number, number, number],
  uv: (i: number, j: number) => [number, number],
): Shape {
  const shape: Shape = { positions: [], normals: [], uvs: [], indices: [] };
  for (let j = 0; j <= rows; j++)
    for (let i = 0; i <= columns; i++) {
      shape.positions.push(...place(i, j));
      shape.uvs.push(...uv(i, j));
    }
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) {
      const a = j * (columns + 1) + i;
      shape.indices.push(a, a + 1, a + columns + 2, a, a + columns + 2, a + columns + 1);
    }
  const first = new Map<string, number>();
  const at = shape.positions.map(Math.fround);
  const root = Array.from({ length: at.length / 3 }, (_, v) => {
    const key = at.slice(v * 3, v * 3 + 3).join('/');
    if (!first.has(key)) first.set(key, v);
    return first.get(key)!;
  });
  const sums = new Float64Array(at.length);
  for (let t = 0; t < shape.indices.length; t += 3) {
    const [a, b, c] = shape.indices.slice(t, t + 3).map((v) => v * 3);
    const [e, f] = [0, 1].map((k) => [0, 1, 2].map((m) => at[[b, c][k] + m] - at[a + m]));
    const n = [e[1] * f[2] - e[2] * f[1], e[2] * f[0] - e[0] * f[2], e[0] * f[1] - e[1] * f[0]];
    for (const corner of [a, b, c]) n.forEach((value, k) => (sums[root[corner / 3] * 3 + k] += value));
  }
  root.forEach((v) => {
    const n = [...sums.slice(v * 3, v * 3 + 3)];
    const length = Math.hypot(...n) || 1;
    shape.normals.push(...n.map((value) => value / length));
  });
  return shape;
}
