import { luminance } from '../color/index.ts';
import { unpackPicture } from '../formats/index.ts';
import { findChannel, type Picture } from '../image/index.ts';
import type { RenderSettings } from '../scene/index.ts';
import { bandOf, bandsOf } from './bands.ts';
import type { Film } from './film.ts';
import type { FilmNames } from './filmNames.ts';
import { ProofBuilder } from './proofBuilder.ts';

/** A film that is whole as the picture that its proof holds. @param record what it carries under PROOF_ATTRIBUTE */
export function proofPicture(film: Film, settings: RenderSettings, names: FilmNames, record: object = {}): Picture {
  const builder = new ProofBuilder(film.region, settings, names, 0);
  for (const band of bandsOf(film.region)) builder.addBand(bandOf(film, band));
  return unpackPicture(builder.finish(() => record).picture);
}

/** Luminance of a layer's R, G, B, or null where they are missing. */
export function layerLuminance(picture: Picture, layer: string): Float32Array | null {
  const [r, g, b] = ['R', 'G', 'B'].map((c) => findChannel(picture, layer, c)?.data);
  if (!r || !g || !b) return null;
  const out = new Float32Array(r.length);
  for (let i = 0; i < out.length; i++) out[i] = luminance(r[i], g[i], b[i]);
  return out;
}
