// What clear surfaces do to a layer: what vanishes behind them, the layer with and without them, and what contrast makes of it.
import { lightness } from '../../color/index.ts';
import { OCCLUSION_COMPOSITE_DEFAULTS, occlusionFactor } from '../../image/index.ts';
import type { ShotDocument } from '../../scene/index.ts';
import { number, type PicturesEvidence, type TableEvidence } from '../evidence.ts';
import { packGray } from '../packPicture.ts';
import { layerOf, type LayerWish, type OcclusionSketch } from './occlusionSketch.ts';
import { words } from './words.ts';

const CONTRASTS = [0.5, 1, 2, 4];
/** A pixel is darkened by glass where its layer differs by so much. No source. */
const DIFFERS = 0.02;

export interface Hidden {
  id: string;
  name: string;
  /** Of the looks that show a surface. */
  share: number;
}

/** Objects that stand behind clear surfaces, those that cover most first. @param ids of the objects, by their numbers */
export function hiddenBehind({ behind, seen }: OcclusionSketch, document: ShotDocument, ids: string[]): Hidden[] {
  const counts = new Map<number, number>();
  for (const look of seen) if (behind[look] >= 0) counts.set(behind[look], (counts.get(behind[look]) ?? 0) + 1);
  return [...counts]
    .map(([object, count]) => ({
      id: ids[object],
      name: document.objects[ids[object]].name,
      share: count / seen.length,
    })) // prettier-ignore
    .sort((a, b) => b.share - a.share);
}

/** Empty where clear surfaces make no difference. @param wish of the layer, at a distance at which it reads */
export function clearEvidence(
  sketch: OcclusionSketch,
  wish: LayerWish,
  source: string,
): (PicturesEvidence | TableEvidence)[] {
  const [counted, passed] = [true, false].map((clearSurfaces) => layerOf(sketch, { ...wish, clearSurfaces }));
  const differing = sketch.seen.filter((look) => Math.abs(counted[look] - passed[look]) > DIFFERS);
  if (differing.length === 0) return [];
  const meanOf = (layer: Float32Array, contrast: number) => differing.reduce((sum, look) => sum + lightness(occlusionFactor(layer[look], { ...OCCLUSION_COMPOSITE_DEFAULTS, contrast }, 0)), 0) / differing.length; // prettier-ignore
  const { columns, rows } = sketch;
  return [
    {
      type: 'pictures',
      id: 'clear',
      title: words.clearPictures,
      source,
      pictures: [
        { label: words.clearCounts, ...packGray(counted, columns, rows) },
        { label: words.clearPasses, ...packGray(passed, columns, rows) },
      ],
    },
    {
      type: 'table',
      id: 'contrast',
      title: words.contrastTable(differing.length / sketch.seen.length),
      source: words.contrastSource,
      columns: words.contrastColumns,
      rows: CONTRASTS.map((contrast) => {
        const [opaque, clear] = [meanOf(counted, contrast), meanOf(passed, contrast)];
        return [number(contrast), number(opaque, 'L*'), number(clear, 'L*'), number(clear - opaque, 'L*')];
      }),
    },
  ];
}
