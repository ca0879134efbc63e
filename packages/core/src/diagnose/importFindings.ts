import type { Unsupported } from '../formats/index.ts';
import type { Finding } from './finding.ts';

/** What a scene holds that is not rendered as its files say. */
export const importFindings = (unsupported: Unsupported[]): Finding[] =>
  unsupported.map(({ effect, feature, place }) => ({
    id: `import-${feature}`,
    severity: 'warning',
    text: `${feature} (${place}): ${effect}.`,
    short: feature,
    about: [{ type: 'file', place }],
  }));
