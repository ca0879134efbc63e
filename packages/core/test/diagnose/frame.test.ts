// Frames without statistics, made of renders whose statistics are known: what is told of them is held against those.
import { expect } from 'chai';
import { diagnoseFrame, diagnoseNoise, type NoiseInput } from '@dusting/core/diagnose';
import { hasStatistics } from '@dusting/core/predict';
import { InputError } from '@dusting/core/formats';
import type { Picture } from '@dusting/core/image';
import { frameOf, proofPicture, renderHere } from '@dusting/core/render';
import { compileTest, GLASS, GLOW, MATT, sphere, square, type TestScene } from '../scenes.ts';

const names = { groups: [], objects: [], surfaces: [] };
function proofOf(scene: TestScene): NoiseInput {
  const { compiled, settings } = compileTest(scene);
  const region = frameOf(settings);
  const picture = proofPicture(renderHere(compiled, settings, region), settings, names);
  return { picture, settings, region, use: 'final', noise: { limit: 0.5, stops: 1 }, seconds: 10 };
}
/** As another renderer would have written it. */
function bare(picture: Picture, kept = /^(R|G|B|(direct|indirect|transmission|emission|background)\w*\..)$/): Picture {
  return { ...picture, channels: picture.channels.filter((c) => kept.test(c.name)), metadata: {} };
}

const settings = { width: 64, height: 48, pixelSamples: 16, lightSamples: 1 };
const SCENES: Record<string, TestScene> = {
  'a matt ball below a wide lamp': {
    objects: [
      { mesh: sphere(1), surface: MATT },
      { mesh: square(2.5, 4), surface: { ...GLOW, emission_luminance: 4 }, transform: [1, 0, 0, 0, 0, 0, -1, 3, 0, 1, 0, 0] }, // prettier-ignore
      { mesh: square(20, -1.5), surface: MATT },
    ],
    view: 4,
    settings,
  },
  'rough glass before a glow': {
    objects: [
      { mesh: square(8), surface: { ...GLASS, specular_roughness: 0.7, specular_weight: 0, geometry_thin_walled: true } }, // prettier-ignore
      { mesh: square(1.2, -1.5), surface: { ...GLOW, emission_luminance: 2 } },
      { mesh: square(60, -4), surface: { ...MATT, base_color: [0, 0, 0] } },
    ],
    view: 1,
    settings,
  },
};

describe('noise of a frame without statistics', () => {
  for (const [name, scene] of Object.entries(SCENES))
    it(`${name}: the noise is within what is told, the leading part is the measured one`, () => {
      const input = proofOf(scene);
      const measured = diagnoseNoise(input);
      expect(hasStatistics(bare(input.picture))).to.equal(false);
      const told = diagnoseFrame({ ...input, picture: bare(input.picture) });
      const { noise } = measured.measured;
      expect(noise, 'there is noise to tell').to.be.above(0.2);
      expect(noise).to.be.within(0.8 * told.measured.noiseLow, 1.1 * told.measured.noiseHigh);
      expect(told.causes[0].id).to.equal(measured.causes[0].id);
      expect(told.causes.reduce((sum, c) => sum + c.share!, 0)).to.be.closeTo(1, 0.01);
      expect(told.remedies).to.deep.equal([]);
    });

  it('says how sure it is, what it takes, and what cannot be said', () => {
    const input = proofOf(SCENES['rough glass before a glow']);
    const picture = bare(input.picture);
    const { noise, noiseLow, noiseHigh } = diagnoseFrame({ ...input, picture }).measured;
    expect(noiseLow).to.be.below(noise);
    expect(noiseHigh).to.be.above(noise);
    const far = diagnoseFrame({ ...input, picture, noise: { limit: noise / 3, stops: 1 } });
    expect(far.summary).to.contain('About 9.0 times the samples').and.to.contain('of transmission');
    expect(diagnoseFrame({ ...input, picture, noise: { limit: noise * 1.01, stops: 1 } }).summary).to.contain(
      'as far as can be estimated',
    );
    expect(diagnoseFrame({ ...input, picture, noise: { limit: noise * 9, stops: 1 } }).summary).not.to.contain(
      'as far as',
    );
    expect(diagnoseFrame({ ...input, picture, noise: { limit: noise / 1.1, stops: 1 } }).summary).to.contain(
      'may be within the limit',
    );
    const beauty = diagnoseFrame({
      ...input,
      picture: bare(input.picture, /^[RGB]$/),
      noise: { limit: noise / 3, stops: 1 },
    });
    expect(beauty.summary).to.contain('no layers for the parts of the light');
    expect(beauty.causes).to.deep.equal([]);
    expect(() => diagnoseFrame({ ...input, picture: bare(input.picture, /^A$/) })).to.throw(InputError, 'no colours');
    const outside = { x: 90, y: 0, width: 5, height: 5 };
    expect(() => diagnoseFrame({ ...input, picture, region: outside })).to.throw(InputError, 'outside');
  });

  it('layers that hold direct and indirect light together, and others, keep their names', () => {
    const input = proofOf(SCENES['rough glass before a glow']);
    const channels = bare(input.picture).channels.map((c) => ({ ...c, name: c.name.replace(/^transmission/, 'light.gauze').replace(/^indirectDiffuse/, 'diffuse') })); // prettier-ignore
    const told = diagnoseFrame({ ...input, picture: { ...input.picture, channels } });
    expect([told.causes[0].title, told.causes[0].id]).to.deep.equal(['Noise of the gauze', 'gauze']);
    const map = told.evidence.find((e) => e.type === 'map')!;
    expect(map.values.some((v) => v > 0)).to.equal(true);
    expect(new Set(map.leading)).to.deep.equal(new Set([-1]));
  });
});
