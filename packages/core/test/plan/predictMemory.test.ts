// Against what is counted of a frame of the other size, and against the channels of a proof that was put together.
import { expect } from 'chai';
import { FIREFLY_LAYERS } from '@dusting/core/diagnose';
import { predictMemory } from '@dusting/core/plan';
import { DEFLATED_SHARE, frameOf, proofMemory, proofPicture, renderHere, sceneMemory } from '@dusting/core/render';
import { compileTest, GLOW, square } from '../scenes.ts';

const names = { groups: [], objects: ['pane'], surfaces: ['glow'] };

describe('memory after a change of settings', () => {
  const scene = { objects: [{ mesh: square(1), surface: GLOW }] };
  const counted = (width: number, height: number) => {
    const { compiled, settings } = compileTest({ ...scene, settings: { width, height } });
    const memory = sceneMemory(compiled, proofMemory(frameOf(settings), settings, names, FIREFLY_LAYERS));
    return { memory, settings, whole: Object.values(memory).reduce((sum, bytes) => sum + bytes, 0) };
  };
  it('is that of a frame of the new size', () => {
    const [small, large] = [counted(20, 10), counted(64, 48)];
    expect(predictMemory(small.memory, large.settings, names)).to.equal(large.whole);
    expect(predictMemory(large.memory, large.settings, names)).to.equal(large.whole);
  });

  it('of a proof it is its channels deflated, what waits as it is, and a band of 32 rows of 221 doubles', () => {
    const { compiled, settings } = compileTest({ ...scene, settings: { width: 16, height: 40, pixelSamples: 8 } });
    const { channels } = proofPicture(renderHere(compiled, settings, frameOf(settings)), settings, names);
    const bytes = (of: typeof channels) => of.reduce((sum, { type }) => sum + (type === 'half' ? 2 : 4), 0);
    // depth alone is asked for here, and errors wait for the noise of the whole frame
    const waiting = channels.filter(({ name }) => /^(depth|error)\./.test(name));
    expect(waiting.length).to.be.above(10);
    const wanted = 16 * (40 * (bytes(channels) * DEFLATED_SHARE + bytes(waiting)) + 32 * 221 * 8);
    expect(proofMemory(frameOf(settings), settings, names, /^depth$/)).to.equal(Math.round(wanted));
  });
});
