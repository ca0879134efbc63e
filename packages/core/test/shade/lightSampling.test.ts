// Solid angles with a closed form: a sphere 2 pi (1 - cos), a square over its middle 4 asin(...) (van Oosterom &
// Strackee 1983 gives the same for its triangles).
import { expect } from 'chai';
import { hashUnit, samplePoint } from '@dusting/core/math';
import {
  buildEmitters,
  buildLightTree,
  fillLight,
  LIGHT,
  LightPick,
  LightSample,
  type LightTree,
  meetLight,
  pickLight,
  sampleEmitter,
  sampleLight,
  setEmitterDensity,
  setLightChance,
  type LightBounds,
} from '@dusting/core/shade';
import { LIGHT_DEFAULTS, type Light } from '@dusting/core/scene';
import { plainBuffer } from '@dusting/core/trace';
import { chiSquare } from '../chiSquare.ts';

const tableOf = (light: Partial<Light>) => {
  const table = new Float64Array(LIGHT.stride);
  const placed = { name: 'x', kind: 'point' as const, transform: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 2], ...light };
  fillLight(table, 0, { ...LIGHT_DEFAULTS, ...placed }, 0);
  return table;
};
const met = new LightSample();
const out = new LightSample();
const point = new Float64Array(2);
const squareAngle = 4 * Math.asin(0.25 / (0.25 + 4)); // half side 0.5 at distance 2

/** By the point of the sequence that was drawn last. */
const choose = (table: Float64Array, from: number[]) => {
  [out.u, out.v] = point;
  return sampleLight(table, 0, from, out);
};
const meet = (table: Float64Array, [dx, dy, dz]: number[], reach = Infinity) => {
  met.distance = reach;
  return meetLight(table, 0, { ox: 0, oy: 0, oz: 0, dx, dy, dz }, met);
};
const chanceOf = (tree: LightTree, item: number, vertex: number[]) => {
  const pick = new LightPick();
  setLightChance(tree, item, Float64Array.from(vertex), pick);
  return pick.chance;
};

describe('light sampling', () => {
  const shapes: [string, Partial<Light>, number][] = [
    ['rectangle', { kind: 'rectangle', width: 1, height: 1 }, squareAngle],
    ['disc', { kind: 'disc', radius: 0.7 }, 2 * Math.PI * (1 - 2 / Math.hypot(2, 0.7))],
    ['sphere', { kind: 'sphere', radius: 0.7 }, 2 * Math.PI * (1 - Math.sqrt(1 - (0.7 / 2) ** 2))],
    ['sun', { kind: 'sun', angle: 10 }, 2 * Math.PI * (1 - Math.cos((5 * Math.PI) / 180))],
  ];
  for (const [name, light, angle] of shapes)
    it(`a ${name}: the mean of 1 / density is its solid angle, and a ray that meets it agrees on the density`, () => {
      const table = tableOf(light);
      let sum = 0;
      for (let i = 0; i < 4096; i++) {
        samplePoint(point, 5, i);
        expect(choose(table, [0, 0, 0])).to.equal(true);
        sum += 1 / out.density / 4096;
        const inward = 1e-9; // off the very edge
        if (meet(table, [out.dx, out.dy, out.dz + inward])) {
          expect(met.density).to.be.closeTo(out.density, 1e-6 * out.density);
          if (met.distance < Infinity) expect(met.distance).to.be.closeTo(out.distance, 1e-3);
        }
        expect(meet(table, [-out.dx, -out.dy, -out.dz])).to.equal(false);
      }
      expect(sum).to.be.closeTo(angle, 0.002 * angle);
    });

  for (const [name, light] of shapes)
    it(`a ${name}: sampled directions have its density (chi-square, 0.1 % level)`, () => {
      const table = tableOf(light);
      const edge = {
        rectangle: Math.atan(Math.SQRT1_2 / 2),
        disc: Math.atan(0.35),
        sphere: Math.asin(0.35),
        sun: Math.PI / 36,
      };
      const widest = 1.03 * edge[name as keyof typeof edge];
      const [rings, sectors, fine, count] = [6, 8, 24, 20_000];
      const seen = new Float64Array(rings * sectors);
      const expected = new Float64Array(rings * sectors);
      const binOf = (x: number, y: number, z: number) => {
        const ring = Math.min(rings - 1, Math.floor((Math.acos(z) / widest) * rings));
        return ring * sectors + Math.min(sectors - 1, Math.floor((Math.atan2(y, x) / (2 * Math.PI) + 0.5) * sectors));
      };
      for (let i = 0; i < count; i++) {
        point[0] = hashUnit(i * 2 + 7);
        point[1] = hashUnit(i * 2 + 8);
        choose(table, [0, 0, 0]);
        seen[binOf(out.dx, out.dy, out.dz)]++;
      }
      for (let r = 0; r < rings * fine; r++)
        for (let p = 0; p < sectors * fine; p++) {
          const t = (widest * (r + 0.5)) / rings / fine;
          const f = 2 * Math.PI * ((p + 0.5) / sectors / fine - 0.5);
          const d = [Math.sin(t) * Math.cos(f), Math.sin(t) * Math.sin(f), Math.cos(t)];
          const area = ((widest / rings / fine) * 2 * Math.PI * Math.sin(t)) / sectors / fine;
          if (meet(table, d)) expected[binOf(d[0], d[1], d[2])] += count * area * met.density;
        }
      // the grid cuts the edge of the light into steps
      const sum = expected.reduce((s, e) => s + e, 0);
      expect(sum).to.be.closeTo(count, 0.02 * count);
      chiSquare(
        seen,
        expected.map((e) => (e * count) / sum),
      );
    });

  it('a rectangle shines to one side, and something nearer hides it', () => {
    const table = tableOf({ kind: 'rectangle', width: 1, height: 1 });
    expect(choose(table, [0, 0, 4])).to.equal(false);
    expect(meet(table, [0, 0, 1], 1.9)).to.equal(false);
    expect(meet(table, [0, 0, 1], 2.1)).to.equal(true);
  });

  it('from inside a sphere it is not sampled', () => {
    expect(choose(tableOf({ kind: 'sphere', radius: 3 }), [0, 0, 0])).to.equal(false);
  });

  it('emissive triangles: the mean of 1 / density is the solid angle, seen from both sides', () => {
    const corners = [-0.5, -0.5, 2, 0.5, -0.5, 2, 0.5, 0.5, 2];
    const table = buildEmitters(
      [{ corners, object: 0, triangle: 0, radiance: [1, 1, 1], range: Infinity }],
      plainBuffer,
    );
    for (const from of [0, 4]) {
      let sum = 0;
      for (let i = 0; i < 4096; i++) {
        samplePoint(point, 6, i);
        [out.u, out.v] = point;
        expect(sampleEmitter(table, 0, [0, 0, from], out)).to.equal(true);
        sum += 1 / out.density / 4096;
        met.distance = out.distance;
        setEmitterDensity(table, 0, out, met);
        expect(met.density).to.equal(out.density);
      }
      expect(sum).to.be.closeTo(squareAngle / 2, 0.01 * squareAngle);
    }
  });
});

describe('choosing among many lights', () => {
  const bounds = Array.from({ length: 40 }, (_, i): LightBounds => {
    const at = [0, 1, 2].map((k) => 6 * hashUnit(i * 3 + k) - 3);
    const turn = 2 * Math.PI * hashUnit(i + 999);
    const kinds = [
      { spread: 1, reach: 0, bothSides: true },
      { spread: 1, reach: 0, bothSides: false },
      { spread: -1, reach: -1, bothSides: false },
    ];
    return {
      low: at.map((c) => c - 0.1),
      high: at.map((c) => c + 0.1),
      power: i === 7 ? 0 : 0.1 + hashUnit(i + 77),
      axis: [Math.cos(turn), 0, Math.sin(turn)],
      ...kinds[i % 3],
      range: Infinity,
    };
  });
  const tree = buildLightTree(bounds, plainBuffer);
  const pick = new LightPick();

  it('lights are met as often as their chance says (chi-square, 0.1 % level), and all chances sum to 1', () => {
    for (const [x, y, z] of [
      [0, 0, 0],
      [2.5, -2, 1],
      [20, 3, -9],
    ]) {
      const chances = bounds.map((_, i) => chanceOf(tree, i, [x, y, z, 0, 0.6, 0.8]));
      expect(chances.reduce((sum, c) => sum + c, 0)).to.be.closeTo(1, 1e-9);
      expect(chances[7]).to.equal(0);
      const counts = bounds.map(() => 0);
      const rounds = 20_000;
      for (let i = 0; i < rounds; i++) {
        pick.u = hashUnit(i + 31337);
        if (!pickLight(tree, Float64Array.of(x, y, z, 0, 0.6, 0.8), pick)) continue;
        counts[pick.item]++;
        if (i < 50) expect(pick.chance).to.be.closeTo(chances[pick.item], 1e-12);
      }
      const chi = chances.reduce((sum, c, i) => (c * rounds > 5 ? sum + (counts[i] - c * rounds) ** 2 / (c * rounds) : sum), 0); // prettier-ignore
      expect(chi).to.be.below(73.4); // 40 degrees of freedom
    }
  });

  it('a light that reaches the point is never left out', () => {
    bounds.forEach((light, i) => {
      if (light.power === 0) return;
      for (let k = 0; k < 60; k++) {
        const p = [0, 1, 2].map((c) => 8 * hashUnit(k * 3 + c + 5000) - 4);
        const middle = light.low.map((v, c) => (v + light.high[c]) / 2);
        const d = p.map((v, c) => v - middle[c]);
        const along = d.reduce((sum, v, c) => sum + v * light.axis[c], 0) / Math.hypot(...d);
        const shines = light.spread < 0 || along > 0 || light.bothSides;
        if (shines) expect(chanceOf(tree, i, [...p, 0, 0, 0])).to.be.above(0);
      }
    });
  });

  it('a light with a reach is chosen within it, and never beyond', () => {
    const short = buildLightTree(bounds.map((b, i) => ({ ...b, range: i % 2 === 0 ? 1.5 : Infinity })), plainBuffer); // prettier-ignore
    bounds.forEach(({ high, low, power }, i) => {
      if (power === 0) return;
      const away = (d: number) => low.map((v, k) => (v + high[k]) / 2 + (k === 1 ? d : 0));
      expect(chanceOf(short, i, [...away(1.4), 0, 0, 0]) > 0, `within, ${i}`).to.equal(chanceOf(tree, i, [...away(1.4), 0, 0, 0]) > 0); // prettier-ignore
      expect(chanceOf(short, i, [...away(1.75), 0, 0, 0]) > 0, `beyond, ${i}`).to.equal(i % 2 === 1 && chanceOf(tree, i, [...away(1.75), 0, 0, 0]) > 0); // prettier-ignore
    });
  });
});
