import type { ImportFile } from '@dusting/core/scene';
import { buildLh010 } from './lh010.ts';
import { buildLh020 } from './lh020.ts';
import { buildLh030 } from './lh030.ts';
import { buildLh040 } from './lh040.ts';
import { buildLh050 } from './lh050.ts';
import { buildLh060 } from './lh060.ts';

export { buildLh010, buildLh020, buildLh030, buildLh040, buildLh050, buildLh060 };

/** The shots of "Late Harvest": name, and the files that are brought in through the import. */
export const DEMO_SHOTS: { name: string; build: () => Promise<ImportFile[]> }[] = [
  { name: 'LH-010', build: buildLh010 },
  { name: 'LH-020', build: buildLh020 },
  { name: 'LH-030', build: buildLh030 },
  { name: 'LH-040', build: buildLh040 },
  { name: 'LH-050', build: buildLh050 },
  { name: 'LH-060', build: buildLh060 },
];
