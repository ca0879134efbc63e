import type { ImportFile } from '@dusting/core/scene';
import { buildLh010 } from './lh010.ts';

export { buildLh010 };

/** The shots of "Late Harvest": name, and the files that are brought in through the import. */
export const DEMO_SHOTS: { name: string; build: () => Promise<ImportFile[]> }[] = [
  { name: 'LH-010', build: buildLh010 },
];
