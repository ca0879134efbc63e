import { expect } from 'chai';
import { SETTING_FIELDS, settingFields } from '../src/bench/settingFields.ts';
import { proposeValues, readValues } from '../src/plan/sweepValues.ts';

const [samples] = settingFields('pixelSamples');
const [filter] = settingFields('filter/kind');
const [shows] = settingFields('occlusion/clearSurfaces');

describe('values of a sweep', () => {
  it('are proposed about the present one, or are all that can be chosen, and read back', () => {
    expect(proposeValues(samples, 16)).to.equal('4, 8, 16, 32, 64');
    expect(readValues(samples, '4; 8 16')).to.deep.equal([4, 8, 16]);
    expect(readValues(filter, proposeValues(filter, 'box'))).to.include.members(['box', 'mitchell', 'sinc']);
    expect(readValues(shows, proposeValues(shows, true))).to.deep.equal([true, false]);
  });
  it('that are none are named', () => {
    expect(() => readValues(samples, '4, many')).to.throw('“4, many” is not a list of numbers');
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
});
