// Against what is counted of a frame of the other size; own rule: the scene does not grow with the frame.
import { expect } from 'chai';
import { predictMemory } from '@dusting/core/plan';
import { sceneMemory } from '@dusting/core/render';
import { compileTest, GLOW, square } from '../scenes.ts';

describe('memory after a change of settings', () => {
  const scene = { objects: [{ mesh: square(1), surface: GLOW }] };
  const counted = (width: number, height: number) => {
    const { compiled } = compileTest({ ...scene, settings: { width, height } });
    return sceneMemory(compiled, { x: 0, y: 0, width, height });
  };
  it('is that of a frame of the new size', () => {
    const [small, large] = [counted(20, 10), counted(64, 48)];
    const whole = Object.values(large).reduce((sum, bytes) => sum + bytes, 0);
    expect(predictMemory(small, { width: 20, height: 10 }, { width: 64, height: 48 })).to.equal(whole);
    expect(predictMemory(large, { width: 64, height: 48 }, { width: 64, height: 48 })).to.equal(whole);
  });
});
