// Fireflies whose cause lies in a picture: a small sun in the environment, and single overexposed texels of an emission
// texture. A sun is moved into a light of the same irradiance, by conservation of energy.
import { expect } from 'chai';
import { DIAGNOSES, effectOf, explain, measureEffects } from '@dusting/core/diagnose';
import { writeExr } from '@dusting/core/formats';
import { compileScene, filmStatistics, frameOf, renderHere } from '@dusting/core/render';
import { patchShot, TEXTURE_DEFAULTS, type ShotDocument, type TextureRef } from '@dusting/core/scene';
import { environmentSpots } from '../../src/diagnose/fireflies/environmentSpots.ts';
import { sunCure } from '../../src/diagnose/fireflies/sunCure.ts';
import { contextOf, renderShot } from '../diagnosisBench.ts';
import { GLASS, GLOW, makeShot, MATT, slab, square, type TestObject } from '../scenes.ts';

type Paint = (x: number, y: number) => number[];
const PICTURE = 'e'.repeat(64);

function picture(width: number, height: number, paint: Paint): Uint8Array {
  const all = { x: 0, y: 0, width, height };
  const channels = [...'RGB'].map((name, k) => ({ name, type: 'float' as const, data: Float32Array.from({ length: width * height }, (_, i) => paint(i % width, Math.floor(i / width))[k]) })); // prettier-ignore
  return writeExr({ width, height, dataWindow: all, displayWindow: all, channels, metadata: {} });
}

const floor: TestObject = { mesh: square(4), surface: { ...MATT, name: 'limewash' } };
const hidden = { seenByCamera: false };
const settings = { width: 48, height: 36, pixelSamples: 16 };
const [WIDTH, HEIGHT] = [128, 64];

/** A floor under a sky with what is painted into it; +Z of the scene, where the floor looks, is the left edge of the picture. */
function underSky(paint: Paint, more: TestObject[] = [], environment = {}) {
  const { blobs, document } = makeShot({ objects: [floor, ...more], view: 1.2, settings });
  blobs.set(PICTURE, picture(WIDTH, HEIGHT, paint));
  Object.assign(document.environment, { color: [1, 1, 1], picture: { name: 'sky.exr', blob: PICTURE, width: WIDTH, height: HEIGHT } }, environment); // prettier-ignore
  return { blobs, document };
}
const compiledOf = ({ blobs, document }: ReturnType<typeof underSky>) => compileScene(document, document.final, (id) => blobs.get(id)!); // prettier-ignore

async function diagnosed({ blobs, document }: { blobs: Map<string, Uint8Array>; document: ShotDocument }) {
  const module = DIAGNOSES.fireflies!;
  const context = contextOf(document, blobs);
  const found = await explain(module, context);
  const tried = (id: string) => {
    const remedy = found.remedies.find((r) => r.id === id)!;
    const patch = [...remedy.patch, { op: 'replace' as const, path: '/final/seed', value: 7 }];
    const { picture } = renderShot(patchShot(document, patch), blobs);
    const measured = measureEffects(module, picture, context.region, { seconds: 10, stops: 1 });
    return (['fireflies', 'luminance'] as const).map((measure) => ({ effect: effectOf(remedy, measure)!, measured: measured[measure]! })); // prettier-ignore
  };
  return { found, tried };
}

describe('fireflies out of pictures', () => {
  const sun: Paint = (x, y) => (x === 4 && y === 26 ? [9000, 8000, 6000] : [0.05, 0.06, 0.08]);
  const pane = { mesh: slab(6, 0.6, 0.7), surface: { ...GLASS, name: 'pane' }, flags: hidden };

  describe('a small sun of the environment behind a pane', () => {
    let answer: Awaited<ReturnType<typeof diagnosed>>;
    before(async () => (answer = await diagnosed(underSky(sun, [pane]))));

    it('is the cause, and nothing else is', () => {
      expect(answer.found.causes.map(({ id }) => id)).to.deep.equal(['environmentSpot']);
      expect(answer.found.summary).to.contain('from the environment through pane onto o0');
    });

    it('moved into a sun, it leaves as many fireflies and as much light as was predicted', () => {
      const [fireflies, luminance] = answer.tried('environmentSun');
      expect(fireflies.effect.now).to.be.above(20);
      expect(fireflies.measured).to.be.within(fireflies.effect.low, fireflies.effect.high);
      expect(luminance.measured).to.be.within(0.97 * luminance.effect.low, 1.03 * luminance.effect.high);
    });
  });

  it('without the pane, the sun is chosen by what look-ups find of it: no fireflies', async () => {
    const { found } = await diagnosed(underSky(sun));
    expect(found.summary).to.match(/^No fireflies/);
  });

  for (const [name, paint, more] of [
    ['a sun of one texel', sun, {}],
    ['a wide one, with a hue, turned', ((x, y) => (Math.hypot(x - 120, y - 24) < 3 ? [400, 300, 100] : [0.3, 0.4, 0.6])) as Paint, { rotation: 30, color: [1, 0.8, 0.5], strength: 2 }], // prettier-ignore
    ['two suns', ((x, y) => ((x === 6 || x === 126) && y === 28 ? [3000, 3000, 3000] : [0.1, 0.1, 0.1])) as Paint, {}],
  ] as const)
    it(`${name}: the floor is as bright under the suns and the darkened sky, within 1 %`, () => {
      const shot = underSky(paint, [], more);
      const mean = (document: ShotDocument) => {
        const film = renderHere(compiledOf({ ...shot, document }), document.final, frameOf(document.final));
        return filmStatistics(film, 1).meanLuminance;
      };
      shot.document.final.pixelSamples = 64;
      const cure = sunCure(compiledOf(shot), shot.document)!;
      expect(cure.lost).to.equal(0);
      expect(cure.suns).to.equal(name === 'two suns' ? 2 : 1);
      expect(mean(patchShot(shot.document, cure.patch)) / mean(shot.document)).to.be.closeTo(1, 0.01);
    });

  it('a disc is found with its width; a bright half of the sky is no spot, and an even sky has none', () => {
    const spotsOf = (paint: Paint) => environmentSpots(compiledOf(underSky(paint)).environment!, [1, 1, 1]);
    const disc = spotsOf((x, y) => (Math.hypot(x - 63.5, y - 31.5) < 3 ? [1000, 1000, 1000] : [0.1, 0.1, 0.1]));
    // six texels across, and a little more by the look-ups between them
    expect(disc.spots.map(({ angle }) => (angle * WIDTH) / 360)[0]).to.be.within(6, 6.6);
    const wide = spotsOf((x, y) => (Math.hypot(x - 63.5, y - 31.5) < 6 ? [1000, 1000, 1000] : [0.1, 0.1, 0.1]));
    expect(wide.spots).to.deep.equal([]);
    expect(wide.left).to.be.above(0.5);
    expect(spotsOf((x) => (x < 64 ? [5, 5, 5] : [0.01, 0.01, 0.01])).spots).to.deep.equal([]);
    expect(spotsOf(() => [1, 1, 1]).spots).to.deep.equal([]);
  });

  it('single overexposed texels of an emission texture: named; lights stand in for it, and say how well their power is known', async () => {
    const lamp = { mesh: square(1), surface: { ...GLOW, emission_luminance: 1 }, transform: [1, 0, 0, 0, 0, -1, 0, 0, 0, 0, -1, 0.8], flags: hidden }; // prettier-ignore
    const { blobs, document } = makeShot({ objects: [floor, lamp], view: 1.2, settings });
    blobs.set(
      PICTURE,
      picture(64, 64, (x, y) => (x === 20 && y === 40 ? [20000, 20000, 20000] : [0.5, 0.5, 0.5])),
    );
    document.textures.panel = { ...TEXTURE_DEFAULTS, name: 'panel.exr', blob: PICTURE, width: 64, height: 64, encoding: 'linear', filter: 'nearest' } as TextureRef; // prettier-ignore
    document.surfaces.s1.maps.emission_color = 'panel';
    const { found, tried } = await diagnosed({ blobs, document });
    expect(found.causes.map(({ id }) => id)).to.deep.equal(['texel']);
    expect(found.remedies.find(({ id }) => id === 'standIn')!.sideEffect).to.match(/Its power is known to \d/);
    for (const { effect, measured } of tried('standIn')) {
      expect(measured, effect.measure).to.be.within(0.97 * effect.low, 1.03 * effect.high);
    }
  });
});
