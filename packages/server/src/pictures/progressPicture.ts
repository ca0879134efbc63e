import { fromHalf, toHalf } from '@dusting/core/formats';
import type { Region } from '@dusting/core/image';
import type { Database } from '../db/connect.ts';
import { coarseRegion, COARSE_STEP } from '../node/coarse.ts';
import { getCoarse, picturesSince, type Proof } from '../store/proofStore.ts';

interface Sums {
  region: Region;
  /** R, G, B and number of samples for each pixel. */
  data: Float32Array;
  order: number;
  coarse: Uint16Array | null;
}

/** Pictures of renders that are under way: sums are kept, and only what is new is fetched. */
export class ProgressPictures {
  private readonly active = new Map<number, Sums>();
  constructor(private readonly db: Database) {}

  /** RGB halves of the region as far as it is rendered; the coarse picture where it is not; null before there is either. */
  async read(proof: Proof): Promise<Uint16Array | null> {
    const { region } = proof;
    const sums = this.active.get(proof.id) ?? {
      region,
      data: new Float32Array(region.width * region.height * 4),
      order: 0,
      coarse: null,
    };
    this.active.set(proof.id, sums);
    while (this.active.size > 4) this.active.delete(this.active.keys().next().value!);
    if (!sums.coarse) {
      const bytes = await getCoarse(this.db, proof.id);
      if (bytes) sums.coarse = new Uint16Array(bytes.buffer);
    }
    for (const part of await picturesSince(this.db, proof.id, sums.order)) {
      if (part.doneOrder! <= sums.order) continue; // another request was quicker
      sums.order = part.doneOrder!;
      addPart(sums, part.region, new Float32Array(part.picture!.buffer), part.sampleCount);
    }
    return sums.coarse || sums.order > 0 ? toHalves(sums) : null;
  }
}

function addPart({ region, data }: Sums, part: Region, picture: Float32Array, samples: number): void {
  for (let y = 0; y < part.height; y++)
    for (let x = 0; x < part.width; x++) {
      const to = ((y + part.y - region.y) * region.width + x + part.x - region.x) * 4;
      const from = (y * part.width + x) * 3;
      for (let k = 0; k < 3; k++) data[to + k] += picture[from + k];
      data[to + 3] += samples;
    }
}

function toHalves({ region, data, coarse }: Sums): Uint16Array {
  const { width, height } = region;
  const halves = new Uint16Array(width * height * 3);
  const small = coarseRegion(region);
  for (let i = 0; i < width * height; i++) {
    const samples = data[i * 4 + 3];
    for (let k = 0; k < 3; k++) {
      let value = 0;
      if (samples > 0) value = data[i * 4 + k] / samples;
      else if (coarse) {
        const x = Math.min(small.width - 1, Math.floor((i % width) / COARSE_STEP));
        const y = Math.min(small.height - 1, Math.floor(Math.floor(i / width) / COARSE_STEP));
        value = fromHalf(coarse[(y * small.width + x) * 3 + k]);
      }
      halves[i * 3 + k] = toHalf(value);
    }
  }
  return halves;
}
