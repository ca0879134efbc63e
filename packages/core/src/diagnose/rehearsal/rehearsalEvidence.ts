// What changes that were tried out on a region show.
import { number, text, type PicturesEvidence, type TableEvidence } from '../evidence.ts';
import { packPicture } from '../packPicture.ts';
import { differenceOf, type Rehearsal } from './rehearse.ts';

/** The title of the region without a change. */
export const AS_IT_IS = 'as it is';
const COLUMNS = ['change', 'mean difference', 'tiles changed by more than 1 L*', 'change of the mean luminance', 'rays, times those now']; // prettier-ignore

export function rehearsalTable(id: string, title: string, before: Rehearsal, changes: Rehearsal[]): TableEvidence {
  return {
    type: 'table',
    id,
    title,
    source: 'rendered: this region with one thing changed, with the same random numbers',
    columns: COLUMNS,
    rows: changes.map((change) => {
      const { changed, mean } = differenceOf(before, change);
      return [
        text(change.title),
        number(mean, 'L*'),
        number(changed, 'share'),
        number(before.luminance > 0 ? change.luminance / before.luminance - 1 : 0, 'share'),
        number(before.rays > 0 ? change.rays / before.rays : 1),
      ];
    }),
  };
}

export function rehearsedPictures(id: string, title: string, rehearsed: Rehearsal[]): PicturesEvidence {
  return {
    type: 'pictures',
    id,
    title,
    source: 'rendered at few samples, with the same random numbers',
    pictures: rehearsed.map((one) => ({ label: one.title, ...packPicture(one.picture, one.region) })),
  };
}
