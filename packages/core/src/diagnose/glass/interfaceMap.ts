// Interfaces, lengths and transmittance along the ray through each pixel of a region, and what these rays reveal about the glass
// objects themselves.
import type { Region } from '../../image/index.ts';
import { GlassWalk, objectSize, STEP, WALK_END, WAY, type CompiledScene } from '../../render/index.ts';
import type { RenderSettings } from '../../scene/index.ts';

/** Air between two bodies is a gap where it is thinner than this share of the smaller one's size. Common practice, no source. */
const GAP_SHARE = 0.02;
/** A wall is thin to rays where it is no thicker than so many of their offsets. */
const THIN_OFFSETS = 4;

/** Of the pixels of a region, row by row. */
export interface InterfaceMap {
  region: Region;
  /** Pixels that show glass first. */
  glass: number;
  /** Object seen first where it is glass; -1 elsewhere. */
  first: Int32Array;
  /** Interfaces refracted through, and total reflections, until the last glass is left. */
  passes: Uint8Array;
  reflections: Uint8Array;
  /** WALK_END of each walk. */
  end: Uint8Array;
  /** What is left of the light by tints, transmission weights and absorption, RGB; and by the reflections of the interfaces. */
  colour: [Float32Array, Float32Array, Float32Array];
  fresnel: Float32Array;
  bodies: Map<number, GlassBody>;
  pairs: GlassPair[];
  /** Pixels whose look through glass passes an object that the camera itself would see, by object. */
  missed: Map<number, number>;
}

/** A glass object, by the walks that met it. */
export interface GlassBody {
  /** Pixels that show it first, and that look through it anywhere. */
  first: number;
  pixels: number;
  /** Interfaces of it that were refracted through, over those pixels. */
  interfaces: number;
  /** Pixels where it reflected a look through totally. */
  reflected: number;
  /** Metres inside of it over those pixels, and their number with a length. */
  length: number;
  lengths: number;
  /** Walls thinner than a ray's offset can tell apart, in pixels. */
  thin: number;
  /** Times that it was left without having been entered, and those of them inside of another body: it may line that one. */
  inverted: number;
  lining: number;
}

/** Two bodies that lie against each other. */
export interface GlassPair {
  a: number;
  b: number;
  /** Pixels with a thin layer of air between them, and its mean thickness along the rays, metres. */
  gaps: number;
  gap: number;
  /** Pixels where one is left before the other that was entered later: they overlap, neither lies inside the other. */
  overlaps: number;
}

/**
 * @param pause is awaited after each row
 * @param report share of the work that is done, 0..1
 */
export async function interfaceMap(
  scene: CompiledScene,
  settings: RenderSettings,
  region: Region,
  pause: () => Promise<void> = async () => {},
  report: (share: number) => void = () => {},
): Promise<InterfaceMap> {
  const pixels = region.width * region.height;
  const plane = () => new Float32Array(pixels);
  const map: InterfaceMap = {
    region,
    glass: 0,
    first: new Int32Array(pixels).fill(-1),
    passes: new Uint8Array(pixels),
    reflections: new Uint8Array(pixels),
    end: new Uint8Array(pixels),
    colour: [plane(), plane(), plane()],
    fresnel: plane(),
    bodies: new Map(),
    pairs: [],
    missed: new Map(),
  };
  const walk = new GlassWalk(scene, settings);
  const reader = new WalkReader(scene, map);
  for (let y = 0, i = 0; y < region.height; y++) {
    for (let x = 0; x < region.width; x++, i++) {
      if (!walk.walk(region.x + x, region.y + y)) continue;
      map.glass++;
      map.first[i] = walk.object[0];
      map.passes[i] = walk.passes;
      map.reflections[i] = walk.reflections;
      map.end[i] = walk.end;
      for (let k = 0; k < 3; k++) map.colour[k][i] = walk.tint[k] * walk.absorbed[k];
      map.fresnel[i] = walk.fresnel;
      if (walk.missed >= 0) map.missed.set(walk.missed, (map.missed.get(walk.missed) ?? 0) + 1);
      reader.read(walk);
    }
    report((y + 1) / region.height);
    await pause();
  }
  return map;
}

/** Events that pixel i needs: of transmission, of reflection, and in all; a surface at the end takes one more to be lit. */
export function eventsNeeded({ end, passes, reflections }: InterfaceMap, i: number) {
  const last = end[i] === WALK_END.surface ? 1 : 0;
  return { transmission: passes[i], specular: reflections[i], total: passes[i] + reflections[i] + last };
}

class WalkReader {
  private readonly pairs = new Map<string, GlassPair>();
  private readonly sizes: Float64Array;
  /** Bodies that the walk is in, in the order it entered them. */
  private readonly inside: number[] = [];
  /** Bodies that it left without having entered them: entering one pays that back, as in MediumStack. */
  private readonly owed: number[] = [];
  private readonly seen = new Set<number>();
  private readonly touched = new Set<string>();

  constructor(
    private readonly scene: CompiledScene,
    private readonly map: InterfaceMap,
  ) {
    this.sizes = Float64Array.from(scene.objectIds, (_, object) => objectSize(scene, object));
  }

  read(walk: GlassWalk): void {
    const { inside, owed, seen, touched } = this;
    inside.length = owed.length = 0;
    seen.clear();
    touched.clear();
    this.body(walk.object[0]).first++;
    for (let step = 0; step < walk.count; step++) {
      const object = walk.object[step];
      const body = this.body(object);
      const isNew = !seen.has(object);
      seen.add(object);
      if (isNew) body.pixels++;
      if (walk.kind[step] === STEP.through) body.interfaces++;
      if (walk.kind[step] === STEP.reflected && this.isFirst(`reflected ${object}`)) body.reflected++;
      this.readMedium(walk, step);
      if (walk.way[step] === WAY.in && walk.kind[step] !== STEP.reflected) this.enter(object);
      if (walk.way[step] === WAY.out && walk.kind[step] !== STEP.reflected) this.leave(object, body);
    }
  }

  /** The stretch before a step: inside of a body, or in air between two. */
  private readMedium(walk: GlassWalk, step: number): void {
    const medium = walk.medium[step];
    const distance = walk.distance[step];
    if (medium >= 0) {
      const around = this.body(medium);
      around.length += distance;
      around.lengths++;
      if (distance < THIN_OFFSETS * this.scene.objectOffsets[medium]) around.thin++;
      return;
    }
    const [a, b] = step > 0 ? [walk.object[step - 1], walk.object[step]] : [0, 0];
    if (a === b || walk.way[step] !== WAY.in || walk.way[step - 1] !== WAY.out) return;
    if (distance > GAP_SHARE * Math.min(this.sizes[a], this.sizes[b])) return;
    const pair = this.pair(a, b);
    if (!this.isFirst(`gap ${pair.a} ${pair.b}`)) return;
    pair.gap += (distance - pair.gap) / ++pair.gaps;
  }

  private enter(object: number): void {
    const debt = this.owed.indexOf(object);
    if (debt >= 0) this.owed.splice(debt, 1);
    else this.inside.push(object);
  }

  private leave(object: number, body: GlassBody): void {
    const { inside } = this;
    const at = inside.lastIndexOf(object);
    if (at < 0) {
      this.owed.push(object);
      body.inverted++;
      if (inside.length > 0) body.lining++;
      return;
    }
    for (const later of inside.slice(at + 1)) {
      const pair = this.pair(object, later);
      if (this.isFirst(`overlap ${pair.a} ${pair.b}`)) pair.overlaps++;
    }
    inside.splice(at, 1);
  }

  /** Whether this walk says something for the first time: pixels are counted. */
  private isFirst(what: string): boolean {
    if (this.touched.has(what)) return false;
    this.touched.add(what);
    return true;
  }

  private body(object: number): GlassBody {
    const { bodies } = this.map;
    let body = bodies.get(object);
    if (!body) bodies.set(object, (body = { first: 0, pixels: 0, interfaces: 0, reflected: 0, length: 0, lengths: 0, thin: 0, inverted: 0, lining: 0 })); // prettier-ignore
    return body;
  }

  private pair(one: number, other: number): GlassPair {
    const [a, b] = one < other ? [one, other] : [other, one];
    let pair = this.pairs.get(`${a} ${b}`);
    if (!pair) {
      pair = { a, b, gaps: 0, gap: 0, overlaps: 0 };
      this.pairs.set(`${a} ${b}`, pair);
      this.map.pairs.push(pair);
    }
    return pair;
  }
}
