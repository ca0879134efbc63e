import { ExrBands, partOf, type ExrBandOptions } from '../formats/index.ts';
import type { PackedPicture, Region } from '../image/index.ts';
import type { Film } from './film.ts';
import type { ProofBuilder } from './proofBuilder.ts';
import type { RenderStatistics } from './statistics.ts';

export interface FinishedFile {
  /** The layers that were held, and those of the errors. */
  picture: PackedPicture;
  statistics: RenderStatistics;
  /** The file, piece by piece and in their order. */
  pieces: Uint8Array[];
}

/**
 * A proof that becomes its file while its bands come in, so that little is held, and little is left to do after the last ray: only
 * the error layers wait for it, as the pixels that are rendered twice in the whole frame give one factor to all of the noise.
 */
export class ProofFile {
  private readonly file: ExrBands;

  /** @param held layers that are wanted as a picture, too, once all bands are there */
  constructor(
    private readonly region: Region,
    private readonly builder: ProofBuilder,
    options: ExrBandOptions,
    private readonly held: RegExp,
  ) {
    this.file = new ExrBands(region, options);
  }

  /** @param band as bandsOf cuts the region, each once, in any order; it may be filled again at once */
  addBand(band: Film): Promise<void> {
    this.builder.addBand(band);
    return this.file.add(band.region, this.builder.take(band.region, this.held));
  }

  /** @param record what the proof carries under PROOF_ATTRIBUTE, from its statistics */
  async finish(record: (statistics: RenderStatistics) => object): Promise<FinishedFile> {
    const { picture, statistics } = this.builder.finish(record);
    await this.file.add(this.region, picture.channels.filter(({ name }) => !this.file.has(partOf(name)))); // prettier-ignore
    return { picture, statistics, pieces: this.file.pieces(picture) };
  }
}
