import { eventsNeeded, type InterfaceMap } from './interfaceMap.ts';
import type { Depths } from '../limits/depthLimits.ts';

/** Share of the glass pixels whose look leaves the last glass, and meets what is behind lit, within depth limits. */
export function coverage(map: InterfaceMap, { specular, total, transmission }: Depths): number {
  let complete = 0;
  for (let i = 0; i < map.first.length; i++) {
    if (map.first[i] < 0) continue;
    const needed = eventsNeeded(map, i);
    if (needed.transmission <= transmission && needed.specular <= specular && needed.total <= total) complete++;
  }
  return map.glass > 0 ? complete / map.glass : 1;
}

/** Which limit stops the looks that are not complete: the total depth first, as in the render. Pixels. */
export function stoppedBy(
  map: InterfaceMap,
  { specular, total, transmission }: Depths,
): Record<'total' | 'transmission' | 'specular', number> {
  const stopped = { total: 0, transmission: 0, specular: 0 };
  for (let i = 0; i < map.first.length; i++) {
    if (map.first[i] < 0) continue;
    const needed = eventsNeeded(map, i);
    if (
      needed.total > total &&
      Math.min(needed.transmission, transmission) + Math.min(needed.specular, specular) >= total
    )
      stopped.total++; // prettier-ignore
    else if (needed.transmission > transmission) stopped.transmission++;
    else if (needed.specular > specular) stopped.specular++;
    else if (needed.total > total) stopped.total++;
  }
  return stopped;
}

/** Interfaces that the looks of the glass pixels need: counts of pixels by their number. */
export function interfaceCounts(map: InterfaceMap): number[] {
  const counts: number[] = [];
  for (let i = 0; i < map.first.length; i++)
    if (map.first[i] >= 0) counts[map.passes[i]] = (counts[map.passes[i]] ?? 0) + 1;
  return Array.from(counts, (count) => count ?? 0);
}

/** The least transmission depth, with as much more in total, at which a share of the glass pixels is complete; null beyond 64. */
export function depthFor(map: InterfaceMap, from: Depths, share: number): number | null {
  for (let depth = 0; depth <= 64; depth++) if (coverage(map, withDepth(from, depth)) >= share) return depth;
  return null;
}

/** The limits with another transmission depth, and a total depth and reflections that never stop it. */
export const withDepth = (from: Depths, transmission: number): Depths => ({ ...from, transmission, specular: Math.max(from.specular, transmission), total: Infinity }); // prettier-ignore
