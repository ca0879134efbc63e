// What can be asked for light at a vertex: each light, the environment, and a tree of the emissive triangles and, where
// lights are many, of them. At the first surface each of the `lightSamples` asks every unit (a tree of many lights as often
// as FEW_LIGHTS of them would be asked); further on one unit, chosen by the light that it may bring.
import { luminance } from '../color/index.ts';
import { LIGHT, LightPick, meanRadiance, POINT, setLightChance, SPOT, SUN, weighNode } from '../shade/index.ts';
import { FEW_LIGHTS, type CompiledScene } from './compile.ts';

export const SKY = -1;
export const TREE = -2;
/** Share of the choice of a unit that does not follow importance, so that none is left out. */
const EVEN = 0.1;

export class LightUnits {
  /** Number of a light, SKY or TREE. */
  readonly items: number[] = [];
  /** Light group of each unit; a tree counts as the group of the glowing surfaces. */
  readonly groups: Int32Array;
  /** Times that a light sample asked each unit at the last vertex: a number, or a chance. */
  readonly asked: Float64Array;
  /** Unit of each light, or that of the tree. */
  private readonly unitOf: Int32Array;
  /** Place in the tree of each light that stands there. */
  private readonly placeOf: Int32Array;
  private readonly skyUnit: number;
  private readonly treeUnit: number;
  private readonly treePicks: number;
  /** Of each unit but a tree: what it brings to a place at a distance of 1 metre, or from anywhere. */
  private readonly powers: Float64Array;
  /** Squared distance from which on that falls with the square, or 0 where it does not. */
  private readonly near: Float64Array;
  private readonly pick = new LightPick();

  constructor(private readonly scene: CompiledScene) {
    const { lights, treeLights, emitters } = scene;
    const inTree = new Set(treeLights);
    this.unitOf = new Int32Array(lights.count);
    for (let i = 0; i < lights.count; i++) if (!inTree.has(i)) this.unitOf[i] = this.items.push(i) - 1;
    this.skyUnit = scene.environment ? this.items.push(SKY) - 1 : -1;
    this.treeUnit = scene.lightTree ? this.items.push(TREE) - 1 : -1;
    this.placeOf = new Int32Array(lights.count);
    treeLights.forEach((light, i) => {
      this.unitOf[light] = this.treeUnit;
      this.placeOf[light] = emitters.densities.length + i;
    });
    this.groups = Int32Array.from(
      this.items,
      (item) =>
      item === SKY ? scene.environmentGroup : item === TREE ? scene.emitterGroup : lights.values[item * LIGHT.stride + LIGHT.group], // prettier-ignore
    );
    this.asked = new Float64Array(this.items.length);
    this.treePicks = Math.min(FEW_LIGHTS, treeLights.length + (emitters.densities.length > 0 ? 1 : 0)) || 1;
    this.powers = new Float64Array(this.items.length);
    this.near = new Float64Array(this.items.length);
    this.items.forEach((item, unit) => {
      if (item === SKY) this.powers[unit] = Math.PI * meanRadiance(scene.environment!);
      else if (item !== TREE) this.setPower(unit, item * LIGHT.stride);
    });
  }

  /** @param at first number of the light of the unit */
  private setPower(unit: number, at: number): void {
    const table = this.scene.lights.values;
    const kind = table[at + LIGHT.kind];
    const { radiance, density, radius } = LIGHT;
    const strength = luminance(table[at + radiance], table[at + radiance + 1], table[at + radiance + 2]);
    if (kind === SUN) this.powers[unit] = strength / (table[at + density] || 1);
    else {
      const area = table[at + LIGHT.area] || (kind === POINT || kind === SPOT ? 1 : Math.PI * table[at + radius] ** 2);
      this.powers[unit] = strength * area;
      this.near[unit] = area / 4;
    }
  }

  /** All of them are asked, as at the first surface. */
  askAll(): void {
    const { asked, items, treePicks } = this;
    for (let unit = 0; unit < items.length; unit++) asked[unit] = items[unit] === TREE ? treePicks : 1;
  }

  /** One of them is asked: the chance of each, by what it may bring to a vertex. */
  weigh(vertex: Float64Array): void {
    const { asked, items, near, powers, scene } = this;
    const table = scene.lights.values;
    let sum = 0;
    for (let unit = 0; unit < items.length; unit++) {
      if (items[unit] === TREE) weighNode(scene.lightTree!.nodes, 0, vertex, asked, unit);
      else if (near[unit] === 0) asked[unit] = powers[unit];
      else {
        const at = items[unit] * LIGHT.stride;
        const x = table[at + LIGHT.position] - vertex[0];
        const y = table[at + LIGHT.position + 1] - vertex[1];
        const z = table[at + LIGHT.position + 2] - vertex[2];
        const d2 = x * x + y * y + z * z;
        asked[unit] = isBeyond(table, at, d2) ? 0 : powers[unit] / Math.max(near[unit], d2);
      }
      sum += asked[unit];
    }
    for (let unit = 0; unit < items.length; unit++)
      asked[unit] = EVEN / items.length + (sum > 0 ? ((1 - EVEN) * asked[unit]) / sum : (1 - EVEN) / items.length);
  }

  /** Times that a light was asked at `vertex`, or its chance. */
  askedFor(light: number, vertex: Float64Array): number {
    const unit = this.unitOf[light];
    return unit === this.treeUnit ? this.askedInTree(this.placeOf[light], vertex) : this.asked[unit];
  }

  /** The same of item `item` of the tree. */
  askedInTree(item: number, vertex: Float64Array): number {
    setLightChance(this.scene.lightTree!, item, vertex, this.pick);
    return this.asked[this.treeUnit] * this.pick.chance;
  }

  /** The same of the environment. */
  askedForSky(): number {
    return this.asked[this.skyUnit];
  }

  /** Whether a light is meant for an object, for a path with so many events before it. */
  isMeant(light: number, object: number, events: number): boolean {
    const { links, values } = this.scene.lights;
    if (events > values[light * LIGHT.stride + LIGHT.mostEvents]) return false;
    return links.length === 0 || object < 0 || links[light * this.scene.objectIds.length + object] > 0;
  }
}

/** Whether no point of a light reaches a place. @param d2 squared distance of its middle */
function isBeyond(table: Float64Array, at: number, d2: number): boolean {
  const reach = table[at + LIGHT.reach];
  if (reach === Infinity) return false;
  const { edgeX: x, edgeY: y } = LIGHT;
  const flat = Math.hypot(table[at + x], table[at + x + 1], table[at + x + 2]) + Math.hypot(table[at + y], table[at + y + 1], table[at + y + 2]); // prettier-ignore
  return d2 > (reach + Math.max(flat, table[at + LIGHT.radius])) ** 2;
}
