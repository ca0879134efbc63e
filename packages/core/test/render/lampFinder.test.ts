// Every lamp that a ray meets is among those that are named for it (Kay & Kajiya 1986 for the boxes), and few others are.
import { expect } from 'chai';
import { hashUnit } from '@dusting/core/math';
import { LightSample, meetLight } from '@dusting/core/shade';
import { LampFinder } from '../../src/render/lampFinder.ts';
import { compileTest, GLOW, square } from '../scenes.ts';

const KINDS = ['sphere', 'rectangle', 'disc', 'point', 'sun'] as const;
const lamps = (count: number) =>
  Array.from({ length: count }, (_, i) => {
    const r = (k: number) => hashUnit(i * 16 + k) * 2 - 1;
    const [c, s] = [Math.cos(9 * r(3)), Math.sin(9 * r(3))];
    const transform = [c, 0, s, 6 * r(0), 0, 1, 0, 6 * r(1), -s, 0, c, 6 * r(2)];
    return { kind: KINDS[i % KINDS.length], radius: 0.9, width: 2.4, height: 1.6, angle: 20, strength: 1, transform };
  });

describe('lamps on the way of a ray', () => {
  for (const count of [4, 200])
    it(`${count} lamps: none that is met is left out`, () => {
      const { compiled } = compileTest({ objects: [{ mesh: square(1), surface: GLOW }], lights: lamps(count) });
      const { lights } = compiled;
      const finder = new LampFinder(lights);
      const out = new LightSample();
      let [met, named] = [0, 0];
      for (let i = 0; i < 3000; i++) {
        const r = (k: number) => hashUnit(i * 8 + k + 77777) * 2 - 1;
        const length = Math.hypot(r(3), r(4), r(5));
        const ray = {
          ox: 8 * r(0),
          oy: 8 * r(1),
          oz: 8 * r(2),
          dx: r(3) / length,
          dy: r(4) / length,
          dz: r(5) / length,
        };
        if (i % 10 === 0) Object.assign(ray, { dx: 0, dy: 0, dz: i % 20 === 0 ? 1 : -1 });
        finder.find(ray);
        const found = new Set(finder.found.subarray(0, finder.count));
        expect(found.size).to.equal(finder.count);
        named += finder.count;
        for (let light = 0; light < lights.count; light++) {
          out.distance = Infinity;
          if (!meetLight(lights.values, light, ray, out)) continue;
          met++;
          expect(found.has(light), `ray ${i}, light ${light}`).to.equal(true);
        }
      }
      expect(met).to.be.above(count);
      if (count > 100) expect(named / 3000, 'suns are always named').to.be.below(count / 5 + 25);
    });
});
