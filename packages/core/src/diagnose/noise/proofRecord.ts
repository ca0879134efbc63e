import type { Picture } from '../../image/index.ts';
import { PROOF_ATTRIBUTE, type LensRecord, type NoiseCheck } from '../../render/index.ts';

/** What a proof says of its render beside its channels; nothing where a picture is none. */
export function proofRecord(picture: Picture): { lens?: LensRecord | null; noiseCheck?: NoiseCheck } {
  const text = picture.metadata[PROOF_ATTRIBUTE];
  return text ? (JSON.parse(text) as ReturnType<typeof proofRecord>) : {};
}
