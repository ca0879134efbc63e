// What blocks the rays of an occlusion layer, and what the layer shows.
import type { ShotDocument } from '../../scene/index.ts';
import type { LayerWish, OcclusionSketch } from './occlusionSketch.ts';

export interface Blocker {
  /** In the document. */
  id: string;
  name: string;
  surface: string;
  /** Of all rays of the region that something blocks within the distance. */
  share: number;
  kind: 'solid' | 'clear' | 'hidden';
}

/** Objects that block rays, those that block most first. @param ids of the objects, by their numbers */
export function blockersOf(sketch: OcclusionSketch, wish: LayerWish, document: ShotDocument, ids: string[]): Blocker[] {
  const { any, blocker, rays, seen } = sketch;
  const reach = wish.distance || Infinity;
  const counts = new Map<number, number>();
  let all = 0;
  for (const look of seen)
    for (let k = look * rays; k < (look + 1) * rays; k++) {
      if (blocker[k] < 0 || any[k] >= reach) continue;
      all++;
      counts.set(blocker[k], (counts.get(blocker[k]) ?? 0) + 1);
    }
  return [...counts]
    .map(([object, count]): Blocker => {
      const id = ids[object];
      const { name, seenByCamera, surface } = document.objects[id];
      const clear = document.surfaces[surface].transmission_weight > 0;
      return { id, name, surface, share: count / all, kind: clear ? 'clear' : seenByCamera ? 'solid' : 'hidden' };
    })
    .sort((a, b) => b.share - a.share);
}
