import type { Region } from '../image/index.ts';

/** What a finding is about. The interface turns it into a link. */
export type Reference =
  /** By its path in the settings: depth.total. */
  | { type: 'setting'; path: string }
  /** Part of the scene, by its id in the document. */
  | { type: 'object' | 'surface' | 'light' | 'texture'; id: string; name: string }
  /** A file that was brought in, and where in it. */
  | { type: 'file'; place: string }
  /** Of the frame, in pixels from its top left corner. */
  | { type: 'pixel'; x: number; y: number }
  | { type: 'region'; region: Region };
