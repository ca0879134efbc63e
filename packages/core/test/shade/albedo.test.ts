// The weak white furnace test (Heitz 2014, "Understanding the masking-shadowing function", eq. 80) and single scattering by
// quadrature, which the tables have to give; the published table of lost energy (Kulla & Conty 2017) was not looked up.
// The integral of the Fresnel equations over the hemisphere for n = 1.5: 0.0918 (Egan & Hilgeman 1979; from memory).
import { expect } from 'chai';
import { correlatedOverSingle, fresnelDielectric, ggxDensity, ggxMasking } from '@dusting/core/shade';
import { AlbedoPlace, mirrorAlbedos, reflectionAlbedos } from '../../src/shade/albedoTable.ts';

describe('albedo of the reflecting layer', () => {
  const table = reflectionAlbedos(1.5);

  const place = new AlbedoPlace();
  const albedoAt = (cosine: number, roughness: number) => {
    place.setCosine(cosine);
    place.setRoughness(roughness);
    return place.read(table, 0);
  };
  const meanAlbedo = (roughness: number) => {
    place.setRoughness(roughness);
    return place.readMean(table, 0);
  };
  it('smooth: the Fresnel reflectance at every angle, 9.2 % over the hemisphere', () => {
    for (const cosine of [0.05, 0.2, 0.5, 0.9, 1])
      expect(albedoAt(cosine, 0)).to.be.closeTo(fresnelDielectric(cosine, 1.5), 0.004);
    expect(meanAlbedo(0)).to.be.closeTo(0.0918, 0.001);
  });
  it('rough: less than smooth everywhere, since single scattering loses light, and most at grazing angles', () => {
    expect(albedoAt(1, 0.8)).to.be.within(0.015, 0.04);
    expect(albedoAt(0.1, 0.8)).to.be.below(albedoAt(0.1, 0) / 2);
    expect(meanAlbedo(1)).to.be.within(0.02, 0.0918);
  });

  /** Over directions of reflection, of the density of facets with masking, and with shadowing too. */
  const quadrature = (cosine: number, alpha: number) => {
    const view = [Math.sqrt(1 - cosine * cosine), 0, cosine];
    let [masked, shadowed] = [0, 0];
    const [rings, sectors] = [2400, 150];
    for (let j = 0; j < rings; j++)
      for (let i = 0; i < sectors; i++) {
        // by facets: z of the half vector evenly in its square, so that narrow lobes are met
        const hz = Math.sqrt((j + 0.5) / rings);
        const f = (2 * Math.PI * (i + 0.5)) / sectors;
        const s = Math.sqrt(1 - hz * hz);
        const h = [s * Math.cos(f), s * Math.sin(f), hz];
        const along = view[0] * h[0] + view[2] * h[2];
        if (along <= 0) continue;
        const out = view.map((v, k) => 2 * along * h[k] - v);
        // d h = d(hz^2) d f / (2 hz); reflection: d out = 4 along d h
        const weight = ((ggxDensity(h[0], h[1], h[2], alpha, alpha) * along) / cosine / (2 * hz) / rings) * ((2 * Math.PI) / sectors); // prettier-ignore
        const g1 = ggxMasking(view[0], view[1], view[2], alpha, alpha);
        masked += weight * g1;
        if (out[2] > 0) shadowed += weight * g1 * correlatedOverSingle(view[0], view[1], view[2], out[0], out[1], out[2], alpha, alpha); // prettier-ignore
      }
    return { masked, shadowed };
  };
  const mirrors = mirrorAlbedos();
  for (const [cosine, roughness] of [[0.9, 0.5], [0.5, 0.7], [0.3, 1], [0.95, 0.9]])
    it(`facets at cosine ${cosine}, roughness ${roughness}: masked to 1 in all, and the table holds what is not shadowed`, () => {
      const { masked, shadowed } = quadrature(cosine, roughness ** 2);
      expect(masked).to.be.closeTo(1, 0.01);
      place.setCosine(cosine);
      place.setRoughness(roughness);
      expect(place.read(mirrors, 0)).to.be.closeTo(shadowed, 0.012);
    }); // prettier-ignore
});
