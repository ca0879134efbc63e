// A picture as its file holds it: half floats as their bits, so that the frames of a proof take as little memory as they can.
import type { Channel, Picture } from './picture.ts';

export interface PackedChannel {
  name: string;
  type: Channel['type'];
  /** Row by row: bits of half floats, single floats, whole numbers. */
  data: Uint16Array | Float32Array | Uint32Array;
}
export interface PackedPicture extends Omit<Picture, 'channels'> {
  channels: PackedChannel[];
}
