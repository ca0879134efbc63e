// Gradients at places where their colour follows from a proportion, and read back as a texture.
import { expect } from 'chai';
import { gradientAt, gradientPng, PLAIN_SPACE, readTexture, type Gradient } from '@dusting/core/formats';

const linear: Gradient = { kind: 'linear', from: [0.2, 0.5], to: [0.6, 0.5], start: [1, 0.5, 0], end: [0, 0.5, 1] };

describe('gradient', () => {
  it('runs evenly along its line, and holds its ends beyond', () => {
    for (const c of gradientAt(linear, 0.4, 0.9)) expect(c).to.be.closeTo(0.5, 1e-12);
    expect(gradientAt(linear, 0.1, 0)).to.deep.equal([1, 0.5, 0]);
    expect(gradientAt(linear, 0.9, 1)).to.deep.equal([0, 0.5, 1]);
  });

  it('runs in circles about its first place', () => {
    const radial: Gradient = { ...linear, kind: 'radial', from: [0.5, 0.5], to: [0.9, 0.5] };
    for (const angle of [0, 1, 2.5, 4]) {
      const at = gradientAt(radial, 0.5 + 0.1 * Math.cos(angle), 0.5 + 0.1 * Math.sin(angle));
      [0.75, 0.5, 0.25].forEach((c, k) => expect(at[k]).to.be.closeTo(c, 1e-12));
    }
    expect(gradientAt({ ...radial, to: radial.from }, 0.3, 0.3)).to.deep.equal(radial.end);
  });

  it('comes back from its file with 16 bits', () => {
    const dark: Gradient = { ...linear, from: [0, 0], to: [1, 0], start: [0, 0, 0], end: [0.01, 0.01, 0.01] };
    const { texels, width } = readTexture(gradientPng(dark, 64), 'ramp.png', { ...PLAIN_SPACE, encoding: 'srgb' });
    const channels = texels.length / (width * width);
    for (let x = 0; x < width; x++) expect(texels[x * channels]).to.be.closeTo((0.01 * (x + 0.5)) / 64, 2e-5);
  });
});
