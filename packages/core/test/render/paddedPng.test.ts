// A map with its padding grown into it is the same to whoever looks it up; what a PNG does not hold is refused.
import { expect } from 'chai';
import { readTexture, writeHdr } from '@dusting/core/formats';
import { compileScene, frameOf, paddedFrom, paddedPng, renderHere } from '@dusting/core/render';
import { TEXTURE_DEFAULTS, type ShotDocument, type TextureRef } from '@dusting/core/scene';
import { paintMap, ring } from '../paintMap.ts';
import { makeShot, MATT } from '../scenes.ts';

const MAP = 'a'.repeat(64);
const SIZE = 64;
function shot(texture: Partial<TextureRef> = {}) {
  const made = makeShot({ view: 1.2, environment: { color: [1, 1, 1] }, settings: { width: 24, height: 24, pixelSamples: 4 }, objects: [{ mesh: ring(), surface: MATT }] }); // prettier-ignore
  made.blobs.set(
    MAP,
    paintMap(ring(), SIZE, (x) => 0.5 + x, { padding: 0 }),
  );
  made.document.textures.paint = { ...structuredClone(TEXTURE_DEFAULTS), name: 'paint.png', blob: MAP, width: SIZE, height: SIZE, encoding: 'srgb', padding: 8, ...texture } as TextureRef; // prettier-ignore
  made.document.surfaces.s0.maps.base_color = 'paint';
  return made;
}
const rendered = (document: ShotDocument, blobs: Map<string, Uint8Array>) => Float64Array.from(renderHere(compileScene(document, document.final, (id) => blobs.get(id)!), document.final, frameOf(document.final)).data); // prettier-ignore

describe('padding that is kept in a map', () => {
  it('renders as the padding that is computed, in both encodings; without padding it looks otherwise', () => {
    for (const encoding of ['srgb', 'linear'] as const) {
      const { blobs, document } = shot({ encoding });
      const bytes = paddedPng(document, 'paint', (id) => blobs.get(id)!);
      expect(paddedFrom(document, 'paint')).to.deep.equal([MAP, document.meshes.m0.blob]);
      const kept = structuredClone(document);
      Object.assign(kept.textures.paint, { blob: 'b'.repeat(64), padding: 0 });
      const [computed, baked] = [rendered(document, blobs), rendered(kept, new Map([...blobs, ['b'.repeat(64), bytes]]))]; // prettier-ignore
      const off = computed.reduce((most, v, i) => Math.max(most, Math.abs(v - baked[i]) / (1 + Math.abs(v))), 0);
      expect(off, encoding).to.be.below(1e-3);
      const bare = structuredClone(document);
      bare.textures.paint.padding = 0;
      const without = rendered(bare, blobs);
      expect(computed.some((v, i) => Math.abs(v - without[i]) > 0.01)).to.equal(true);
    }
  });

  it('has one channel where the map is gray, and 16 bits', () => {
    const { blobs, document } = shot();
    const bytes = paddedPng(document, 'paint', (id) => blobs.get(id)!);
    expect([bytes[24], bytes[25]], 'depth and color type of the header (PNG, 11.2.2)').to.deep.equal([16, 0]);
    expect(readTexture(bytes, 'x.png', document.textures.paint).width).to.equal(SIZE);
  });

  it('tiles, and values beyond 0 to 1, are refused with the reason', () => {
    const tiled = shot({ tiles: [{ number: 1001, blob: MAP, width: SIZE, height: SIZE }] });
    expect(() => paddedPng(tiled.document, 'paint', (id) => tiled.blobs.get(id)!)).to.throw(/each tile has a file of its own/); // prettier-ignore
    const bright = shot({ encoding: 'linear' });
    bright.blobs.set(MAP, writeHdr(4, 4, new Float32Array(48).fill(7)));
    expect(() => paddedPng(bright.document, 'paint', (id) => bright.blobs.get(id)!)).to.throw(/a value of 7 does not fit a PNG/); // prettier-ignore
  });
});
