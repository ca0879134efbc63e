// Wavefront OBJ and MTL (the format's specification, appendices B1 and B2) to the same plain values that glTF is read
// into. Ours, because the usual readers triangulate, and subdivision needs the faces as they are: polygons are cut into
// triangles, and their sizes are kept. Free-form curves and surfaces, lines and points are listed.
import { InputError } from './inputError.ts';
import type { GltfObject, GltfScene } from './gltf.ts';
import type { GltfSurface, Unsupported } from './gltfSurface.ts';
import { readMtl } from './mtl.ts';
import { textOf } from './textOf.ts';
import { cutPolygon } from './polygon.ts';

const MOST_CORNERS = 255;

/** One object and material of the file, while its faces are gathered. */
interface Group {
  name: string;
  material: string | null;
  corners: Map<string, number>;
  positions: number[];
  uvs: number[];
  normals: number[];
  indices: number[];
  faceSizes: number[];
}

/**
 * @param resources MTL files and pictures by the names that the file refers to them with
 * @throws InputError naming the file and the line
 */
export function readObj(bytes: Uint8Array, file: string, resources: Record<string, Uint8Array> = {}): GltfScene {
  const unsupported: Unsupported[] = [];
  const skipped = new Map<string, number>();
  const surfaces: GltfSurface[] = [];
  const groups = new Map<string, Group>();
  const [v, vt, vn]: number[][] = [[], [], []];
  let name = 'object';
  let material: string | null = null;
  let line = 0;
  const fail = (what: string): never => {
    throw new InputError(what, `${file}, line ${line}`);
  };
  const numbers = (words: string[], least: number, into: number[]) => {
    for (let i = 0; i < least; i++) {
      const value = Number(words[i]);
      if (words[i] === undefined || !Number.isFinite(value)) fail(`it needs ${least} numbers: "${words.join(' ')}"`);
      into.push(value);
    }
  };
  const resolve = (word: string, count: number) => {
    const n = Number(word);
    const index = n < 0 ? count + n : n - 1;
    if (!Number.isInteger(n) || n === 0 || index < 0 || index >= count) fail(`"${word}" points past what is there (${count})`); // prettier-ignore
    return index;
  };
  for (const text of textOf(bytes).replaceAll('\\\n', ' ').split('\n')) {
    line++;
    const [key, ...words] = text.split('#', 1)[0].trim().split(/\s+/);
    if (key === 'v') numbers(words, 3, v);
    else if (key === 'vt') numbers(words[1] === undefined ? [words[0], '0'] : words, 2, vt);
    else if (key === 'vn') numbers(words, 3, vn);
    else if (key === 'o' || key === 'g') name = words.join(' ') || name;
    else if (key === 'usemtl') material = words.join(' ');
    else if (key === 'mtllib') {
      const found = resources[words.join(' ')];
      if (found) surfaces.push(...readMtl(found, words.join(' '), resources, unsupported));
      else unsupported.push({ feature: words.join(' '), place: file, effect: 'missing: its materials are grey' });
    } else if (key === 'f') {
      if (words.length < 3 || words.length > MOST_CORNERS) fail(`a face of ${words.length} corners is not read`);
      addFace(groupOf(groups, name, material), words.map((word) => cornerOf(word))); // prettier-ignore
    } else if (key !== '' && key !== 's') skipped.set(key, (skipped.get(key) ?? 0) + 1);
  }
  for (const [key, count] of skipped) unsupported.push({ feature: `"${key}"`, place: `${file}, ${count} lines`, effect: 'left out' }); // prettier-ignore
  const objects = [...groups.values()].map((group, i): GltfObject => ({
    name: group.name,
    mesh: { key: `${file}/${i}`, name: group.name, data: meshOf(group) },
    surface: surfaces.findIndex((s) => s.name === group.material),
    transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0],
    laterTransforms: [],
  }));
  if (objects.length === 0) throw new InputError('it holds no faces', file);
  return { objects, surfaces, cameras: [], lights: [], unsupported };

  function cornerOf(word: string): number[] {
    const [p, t, n] = word.split('/');
    return [resolve(p, v.length / 3), t ? resolve(t, vt.length / 2) : -1, n ? resolve(n, vn.length / 3) : -1];
  }

  function addFace(group: Group, corners: number[][]): void {
    const ids = corners.map(([p, t, n]) => {
      const key = `${p}/${t}/${n}`;
      let id = group.corners.get(key);
      if (id === undefined) {
        group.corners.set(key, (id = group.positions.length / 3));
        group.positions.push(v[p * 3], v[p * 3 + 1], v[p * 3 + 2]);
        // V is counted upwards here
        group.uvs.push(t < 0 ? NaN : vt[t * 2], t < 0 ? NaN : 1 - vt[t * 2 + 1]);
        group.normals.push(...(n < 0 ? [NaN, NaN, NaN] : vn.slice(n * 3, n * 3 + 3)));
      }
      return id;
    });
    const points = corners.flatMap(([p]) => v.slice(p * 3, p * 3 + 3));
    for (const corner of cutPolygon(points)) group.indices.push(ids[corner]);
    group.faceSizes.push(ids.length);
  }
}

function groupOf(groups: Map<string, Group>, name: string, material: string | null): Group {
  const key = `${name}\n${material}`;
  let group = groups.get(key);
  if (!group) {
    group = { name, material, corners: new Map(), positions: [], uvs: [], normals: [], indices: [], faceSizes: [] };
    groups.set(key, group);
  }
  return group;
}

/** UVs and normals count where every corner has them. */
function meshOf({ positions, uvs, normals, indices, faceSizes }: Group): GltfObject['mesh']['data'] {
  const whole = (values: number[]) => (values.some(Number.isNaN) ? null : Float32Array.from(values));
  return {
    positions: Float32Array.from(positions),
    normals: whole(normals),
    uvs: whole(uvs),
    indices: Uint32Array.from(indices),
    ...(faceSizes.some((size) => size > 3) && { faceSizes: Uint8Array.from(faceSizes) }),
  };
}
