import { moveShot, scaleShot, type ShotDocument } from '../../scene/index.ts';
import type { Remedy } from '../remedy.ts';
import type { PlaceAndScale } from './placeAndScale.ts';
import { words } from './words.ts';

/** Metres from the origin: beyond it single precision is coarser than 0.1 mm (2^10 m: 2^-13 m). */
const FAR_AWAY = 1000;

/** What brings a scene to where and to the size that numbers are good for: nothing on the picture moves. */
export function wholeMoves(
  scale: PlaceAndScale,
  document: ShotDocument,
): (Omit<Remedy, 'effects'> & { text: string })[] {
  const { away, middle, spacing, spacingPixels, median, unit } = scale;
  const found: (Omit<Remedy, 'effects'> & { text: string })[] = [];
  if (away > FAR_AWAY)
    found.push({ id: 'origin', title: words.toOrigin, patch: moveShot(document, middle.map((v) => -Math.round(v))), sideEffect: words.sameView, text: words.farAway(away, spacing, spacingPixels) }); // prettier-ignore
  if (unit)
    found.push({ id: 'unit', title: words.toUnit(unit.name), patch: scaleShot(document, unit.factor), sideEffect: words.sameView, text: words.unlikely(median, unit.name, median * unit.factor) }); // prettier-ignore
  return found;
}
