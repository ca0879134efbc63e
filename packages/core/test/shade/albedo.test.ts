// The integral of the Fresnel equations over the hemisphere for n = 1.5: 0.0918 (Egan & Hilgeman 1979; from memory).
import { expect } from 'chai';
import { ALBEDO_STRIDE, fresnelDielectric } from '@dusting/core/shade';
import { albedoAt, fillAlbedoTable, meanAlbedo } from '../../src/shade/albedoTable.ts';

describe('albedo of the reflecting layer', () => {
  const table = new Float32Array(ALBEDO_STRIDE);
  fillAlbedoTable(table, 0, 1.5);

  it('smooth: the Fresnel reflectance at every angle, 9.2 % over the hemisphere', () => {
    for (const cosine of [0.05, 0.2, 0.5, 0.9, 1])
      expect(albedoAt(table, 0, cosine, 0)).to.be.closeTo(fresnelDielectric(cosine, 1.5), 0.004);
    expect(meanAlbedo(table, 0, 0)).to.be.closeTo(0.0918, 0.001);
  });
  it('rough: less than smooth everywhere, since single scattering loses light, and most at grazing angles', () => {
    expect(albedoAt(table, 0, 1, 0.8)).to.be.within(0.015, 0.04);
    expect(albedoAt(table, 0, 0.1, 0.8)).to.be.below(albedoAt(table, 0, 0.1, 0) / 2);
    expect(meanAlbedo(table, 0, 1)).to.be.within(0.02, 0.0918);
  });
});
