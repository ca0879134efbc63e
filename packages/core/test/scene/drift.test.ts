// Differences between preview and final, by hand.
import { expect } from 'chai';
import { NO_CLAMP, drift, FINAL_DEFAULTS, finalLoses, PREVIEW_DEFAULTS, SURFACE_DEFAULTS } from '@dusting/core/scene';

describe('drift', () => {
  const changed = (change: object) => ({ surfaces: { wood: structuredClone(SURFACE_DEFAULTS) }, preview: structuredClone(PREVIEW_DEFAULTS), final: { ...structuredClone(FINAL_DEFAULTS), ...change } }); // prettier-ignore

  it('lists what differs, by what it does, and nothing else', () => {
    expect(drift(changed({})).map(({ effect, path }) => `${effect} ${path}`)).to.deep.equal(['noise pixelSamples', 'size width', 'size height']); // prettier-ignore
    const depth = { ...FINAL_DEFAULTS.depth, total: 8 };
    expect(drift(changed({ depth, width: 320, height: 180, pixelSamples: 4 }))).to.deep.equal([{ path: 'depth/total', preview: 12, final: 8, effect: 'light' }]); // prettier-ignore
    expect(drift(changed({ occlusion: { ...FINAL_DEFAULTS.occlusion, samples: 4 } }))[0].effect).to.equal('layer');
    // where a surface multiplies the layer into its base, the picture changes
    const multiplied = changed({ occlusion: { ...FINAL_DEFAULTS.occlusion, samples: 4 } });
    multiplied.surfaces.wood.occlusion_strength = 0.5;
    expect(drift(multiplied)[0].effect).to.equal('light');
    expect(drift(changed({ clay: true }))[0]).to.deep.equal({
      path: 'clay',
      preview: false,
      final: true,
      effect: 'light',
    });
  });

  it('says by which the final shows less: lower limits, tighter clamps, shadows that close; 0 is off', () => {
    const lost = (change: object) => finalLoses(drift(changed(change))).map(({ path }) => path);
    expect(lost({ outlierGroups: 9 })).to.deep.equal(['outlierGroups']);
    expect(lost({ clay: true })).to.deep.equal(['clay']);
    expect(lost({ depth: { ...FINAL_DEFAULTS.depth, total: 8, diffuse: 6 } })).to.deep.equal(['depth/total']);
    expect(lost({ clamp: { ...NO_CLAMP, direct: 4 } })).to.deep.equal(['clamp/direct']);
    const tight = changed({ clamp: { ...NO_CLAMP, indirect: 10 } });
    tight.preview.clamp = { ...NO_CLAMP, direct: 4, indirect: 4 };
    expect(finalLoses(drift(tight))).to.deep.equal([]);
    expect(lost({ rayDistance: 5, clearShadows: 'tinted' })).to.deep.equal(['rayDistance']);
  });
});
