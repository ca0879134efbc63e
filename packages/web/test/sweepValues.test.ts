import { expect } from 'chai';
import { frameShot, LIGHT_DEFAULTS, parameterAt, type ShotDocument } from '@dusting/core/scene';
import { SETTING_FIELDS, settingFields } from '../src/slip/settingFields.ts';
import { axisWords, draftAxis, SETTINGS_PART, sweptKeys, sweptParts, sweptUnder } from '../src/plan/sweepParameters.ts';
import { proposeValues, readValues } from '../src/plan/sweepValues.ts';

const setting = (path: string) => parameterAt(['final', ...path.split('/')])!;
const samples = setting('pixelSamples');
const filter = setting('filter/kind');
const shows = setting('occlusion/clearSurfaces');

describe('values of a sweep', () => {
  it('are proposed about the present one, or are all that can be chosen, and read back', () => {
    expect(proposeValues(samples, 16)).to.equal('4, 8, 16, 32, 64');
    expect(readValues(samples, '4; 8 16')).to.deep.equal([4, 8, 16]);
    expect(readValues(filter, proposeValues(filter, 'box'))).to.include.members(['box', 'mitchell', 'sinc']);
    expect(readValues(shows, proposeValues(shows, true))).to.deep.equal([true, false]);
  });
  it('that are none are named', () => {
    expect(() => readValues(samples, '4, many')).to.throw('“4, many” is not a list of numbers');
    expect(() => readValues(samples, '4, 0')).to.throw('pixel samples: 0 is not within 1 to 65536');
    expect(() => readValues(filter, 'box, round')).to.throw('“round” is none of box, triangle');
  });
  it('every setting is a field, once', () => {
    const paths = SETTING_FIELDS.map((f) => f.path);
    expect(new Set(paths).size).to.equal(paths.length);
    expect(paths).to.include.members(['seed', 'depth/total', 'adaptive/least', 'clearShadows']);
    expect(settingFields('depth').map((f) => f.path))
      .to.include('depth/diffuse')
      .and.to.have.length(5);
  });

  it('run over what the scene is made of: of each part what has a value now', () => {
    const shot = frameShot('sill', { width: 8, height: 8 });
    const document: ShotDocument = { ...shot, lights: { window: { ...LIGHT_DEFAULTS, kind: 'rectangle', name: 'window', exposure: 1, width: 2 } } }; // prettier-ignore
    const labels = sweptParts(document).flatMap(({ items }) => items.map(({ label }) => label));
    expect(labels).to.include.members(['settings', 'window', 'environment']);
    const under = sweptUnder('lights/window', document, 'final').map(({ value }) => value);
    expect(under).to.include.members(['strength', 'exposure', 'width', 'castsShadows']);
    expect(under, 'a colour and a name are no axis, and a window has no cone').not.to.include.oneOf(['color', 'name', 'innerCone']); // prettier-ignore
    const draft = draftAxis(document, 'preview', 'lights/window', 'exposure');
    expect(draft.text).to.equal('-1, 0, 1, 2, 3');
    expect(sweptKeys(draft, 'preview')).to.deep.equal(['lights', 'window', 'exposure']);
    expect(axisWords(['lights', 'window', 'exposure'], document)).to.equal('window: stops');
    expect(axisWords(sweptKeys(draftAxis(document, 'preview', SETTINGS_PART), 'preview'), document)).to.equal('width');
  });
});
