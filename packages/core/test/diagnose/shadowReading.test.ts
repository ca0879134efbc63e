// Pictures whose two parts, edge and floor are known beforehand; the split against every other one (Otsu 1979: the variance between
// both parts is largest at it).
import { expect } from 'chai';
import { lightness } from '@dusting/core/color';
import type { Picture } from '@dusting/core/image';
import { contextOf, explained } from '../diagnosisBench.ts';
import { makeShot, MATT, square } from '../scenes.ts';
import { shadowReading } from '../../src/diagnose/shadow/shadowReading.ts';

const [WIDTH, HEIGHT] = [40, 20];
/** Luminance of a lightness above 8 (CIE 1976). */
const fromLightness = (l: number) => ((l + 16) / 116) ** 3;
/** L* of a picture that is lit at 60 on the left and at 40 on the right, with a slope of some pixels between them. */
const plane = (slope: number, of = (x: number) => x) => Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => of(60 - 20 * Math.min(1, Math.max(0, ((i % WIDTH) - 19) / slope)))); // prettier-ignore

describe('shadow of a frame without a scene', () => {
  it('lit and dark part, their difference, share and edge', () => {
    for (const slope of [1, 4, 8]) {
      const found = shadowReading(plane(slope), WIDTH);
      expect(found.lit - found.dark).to.be.closeTo(20, 20 * (slope / 40));
      expect(found.share).to.be.closeTo(0.5, 0.1);
      expect(found.floor).to.be.closeTo(40, 1e-3);
      expect(found.edge).to.be.closeTo(slope, 0.15 * slope);
    }
  });
  it('no other split has more variance between its parts', () => {
    const values = Float32Array.from({ length: 200 }, (_, i) => ((i * 7919) % 61) + (i % 3 === 0 ? 40 : 0));
    const { dark, lit, share } = shadowReading(values, 20);
    const best = share * (1 - share) * (lit - dark) ** 2;
    for (const level of new Set(values)) {
      const [low, high] = [values.filter((v) => v <= level), values.filter((v) => v > level)];
      const mean = (v: Float32Array) => v.reduce((sum, x) => sum + x, 0) / Math.max(1, v.length);
      const between = (low.length * high.length * (mean(low) - mean(high)) ** 2) / values.length ** 2;
      expect(between).to.be.at.most(best + 1e-6);
    }
  });
  const pictureOf = (light: Float32Array, albedo: Float32Array | null): Picture => {
    const dataWindow = { x: 0, y: 0, width: WIDTH, height: HEIGHT };
    const planes = (layer: string, data: Float32Array) => [...'RGB'].map((c) => ({ name: `${layer}${c}`, type: 'float' as const, data })); // prettier-ignore
    return { width: WIDTH, height: HEIGHT, dataWindow, displayWindow: dataWindow, metadata: {}, channels: [...planes('', albedo ? light.map((v, i) => v * albedo[i]) : light), ...(albedo ? planes('albedo.', albedo) : [])] }; // prettier-ignore
  };
  const light = plane(2, fromLightness);
  it('is named with its depth; a dark texture is no shadow where the albedo is known', async () => {
    const { blobs, document } = makeShot({ objects: [{ mesh: square(2), surface: MATT }], lights: [], settings: { width: 8, height: 8 } }); // prettier-ignore
    const region = { x: 0, y: 0, width: WIDTH, height: HEIGHT };
    const said = async (picture: Picture) => (await explained('shadow', contextOf(document, blobs, { picture, region, scene: null }))).summary; // prettier-ignore
    expect(await said(pictureOf(light, null))).to.match(/5\d % of this region is darker by (19|20)\.\d L\*: it lies at 40\.\d L\*, and the edge between both parts is (1\.9|2(\.\d)?) px wide/); // prettier-ignore
    expect(await said(pictureOf(light.map(() => 0.4), light))).to.match(/0\.0\d L\* darker than the rest, its textures evened out: no shadow stands out/); // prettier-ignore
    // a layer of what shadows keep away: the dark part would be as light as the rest
    const whole = Math.max(...light);
    const kept = [...'RGB'].map((c) => ({ name: `shadow.${c}`, type: 'float' as const, data: light.map((v) => whole - v) })); // prettier-ignore
    const layered = pictureOf(light, null);
    const text = await said({ ...layered, channels: [...layered.channels, ...kept] });
    expect(Number(/By its shadow layer, shadows take ([\d.]+) L\*/.exec(text)![1])).to.be.closeTo(lightness(2 * whole) - lightness(2 * fromLightness(40)), 2.5); // prettier-ignore
    expect(text).to.match(
      /noise is about [\d.]+ L\* \([\d.]+ L\* to [\d.]+ L\*\) at the shadow check, estimated from the pixels/,
    );
    expect(await said({ ...pictureOf(light, null), channels: [] }).catch((e: Error) => e.message)).to.match(/needs a beauty picture in color/); // prettier-ignore
  });
});
