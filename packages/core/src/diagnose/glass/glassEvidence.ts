// What the glass diagnosis shows.
import { luminance } from '../../color/index.ts';
import type { RenderedRegion } from '../contract.ts';
import { number, text, type Cell, type ChecklistEvidence, type CurvesEvidence, type Evidence } from '../evidence.ts';
import { within, type Depths } from '../limits/depthLimits.ts';
import { tileMap } from '../tileMap.ts';
import { coverage, interfaceCounts, withDepth } from './glassCoverage.ts';
import { FAULT_KINDS } from './glassDefaults.ts';
import { objectReference, type GlassFault, type SeenBody } from './glassFaults.ts';
import { eventsNeeded, type InterfaceMap } from './interfaceMap.ts';
import { wallTransmittance } from './wallTransmittance.ts';
import { words } from './words.ts';

const MOST_ROWS = 12;
/** Depths of the curves: what limits are usually set to lies below. */
const DEEPEST = 32;
const LAYERS = [0, 1, 2, 3, 4, 6, 8, 12, 16];

export function interfaceMapOf(map: InterfaceMap, names: string[]): Evidence {
  const seen = [...map.bodies.keys()].sort((a, b) => map.bodies.get(b)!.first - map.bodies.get(a)!.first).slice(0, 8);
  const categories = seen.map((object, i) => ({ label: names[object], colour: `series${i}` }));
  return tileMap(map.region, { id: 'map', title: words.map, source: words.mapSource, unit: 'count', categories }, (pixels) => {
    const glass = pixels.filter((i) => map.first[i] >= 0);
    const events = glass.reduce((all, i) => all + eventsNeeded(map, i).total, 0) / (glass.length || 1);
    const counts = seen.map((object) => glass.filter((i) => map.first[i] === object).length);
    return { value: events, leading: glass.length > 0 ? counts.indexOf(Math.max(...counts)) : -1 };
  }); // prettier-ignore
}

export function interfaceHistogram(map: InterfaceMap, depth: Depths): Evidence {
  const counts = interfaceCounts(map);
  return {
    type: 'histogram',
    id: 'interfaces',
    title: words.histogram,
    source: words.mapSource,
    x: { label: words.interfaces, unit: 'count', scale: 'linear' },
    counted: words.pixels,
    edges: [...counts.map((_, i) => i - 0.5), counts.length - 0.5],
    counts,
    markers: [{ axis: 'x', value: depth.transmission + 0.5, label: `transmission ${depth.transmission}` }],
  };
}

export function coverageCurves(map: InterfaceMap, depth: Depths, recommended: number | null): CurvesEvidence {
  const steps = Array.from({ length: DEEPEST + 1 }, (_, d) => d);
  const curve = (label: string, of: (d: number) => Depths) => ({ label, steps: true, points: steps.map((d): [number, number] => [d, coverage(map, of(d))]) }); // prettier-ignore
  const markers: CurvesEvidence['markers'] = [{ axis: 'x', value: depth.transmission, label: words.set(depth.transmission) }]; // prettier-ignore
  if (recommended !== null && recommended !== depth.transmission)
    markers.push({ axis: 'x', value: recommended, label: words.recommended(recommended) });
  return {
    type: 'curves',
    id: 'coverage',
    title: words.coverage,
    source: words.mapSource,
    x: { label: words.depthAxis, unit: 'count', scale: 'linear' },
    y: { label: words.coverageAxis, unit: 'share', scale: 'linear' },
    curves: [
      curve(words.totalOpen, (d) => withDepth(depth, d)),
      curve(words.totalAt(depth.total), (d) => ({ ...depth, transmission: d })),
    ],
    markers,
  };
}

/** Time of the region by its depth: as its rays, of which the render with open limits kept account. */
export function timeCurve(opened: RenderedRegion, depth: Depths, seconds: number): CurvesEvidence {
  const rows = opened.statistics.paths!.depths;
  const now = Math.max(1, within(rows, depth).rays);
  const steps = Array.from({ length: DEEPEST / 2 + 1 }, (_, i) => 2 * i);
  const at = (d: number) => within(rows, { ...depth, transmission: d, total: depth.total + Math.max(0, d - depth.transmission) }).rays; // prettier-ignore
  return {
    type: 'curves',
    id: 'time',
    title: words.time,
    source: words.timeSource(opened.settings.pixelSamples),
    x: { label: words.depthAxis, unit: 'count', scale: 'linear' },
    y: { label: words.timeAxis, unit: 's', scale: 'linear' },
    curves: [{ label: words.timeAxis, points: steps.map((d): [number, number] => [d, (seconds * at(d)) / now]) }],
    markers: [{ axis: 'x', value: depth.transmission, label: words.set(depth.transmission) }],
  };
}

export function bodyTable(map: InterfaceMap, bodies: SeenBody[]): Evidence {
  return {
    type: 'table',
    id: 'bodies',
    title: words.bodies,
    source: words.bodiesSource,
    columns: words.bodyColumns,
    rows: bodies.slice(0, MOST_ROWS).map((body): Cell[] => {
      const { object, surface, walks } = body;
      const length = walks.lengths > 0 ? walks.length / walks.lengths : 0;
      const mean = [0, 0, 0];
      let count = 0;
      for (let i = 0; i < map.first.length; i++)
        if (map.first[i] === object) {
          count++;
          for (let k = 0; k < 3; k++) mean[k] += map.colour[k][i] * map.fresnel[i];
        }
      const [r, g, b] = mean.map((v) => v / (count || 1));
      return [
        { type: 'link', text: body.name, to: objectReference(body) },
        number(surface.specular_ior),
        number(walks.pixels, 'count'),
        number(Math.round((10 * walks.interfaces) / walks.pixels) / 10, 'count'),
        number(length, 'm'),
        { type: 'swatch', rgb: wallTransmittance(surface, length).rgb },
        count > 0 ? { type: 'swatch', rgb: [r, g, b] } : text('–'),
        count > 0 ? number(luminance(r, g, b), 'share') : text('–'),
      ];
    }),
  };
}

/** Luminance that is left behind so many walls of each surface. */
export function layerCurves(bodies: SeenBody[]): CurvesEvidence {
  const surfaces = bodies
    .filter((body, i) => bodies.findIndex((b) => b.surfaceId === body.surfaceId) === i)
    .slice(0, 6);
  return {
    type: 'curves',
    id: 'layers',
    title: words.layers,
    source: words.layersSource,
    x: { label: words.layersAxis, unit: 'count', scale: 'linear' },
    y: { label: words.leftAxis, unit: 'share', scale: 'linear' },
    curves: surfaces.map((body) => {
      const { rgb: one } = wallTransmittance(
        body.surface,
        body.walks.lengths > 0 ? body.walks.length / body.walks.lengths : 0,
      );
      return { label: body.surface.name, points: LAYERS.map((n): [number, number] => [n, luminance(one[0] ** n, one[1] ** n, one[2] ** n)]) }; // prettier-ignore
    }),
    markers: [],
  };
}

export function checksOf(faults: GlassFault[]): ChecklistEvidence {
  const own = (kind: string) => faults.filter((fault) => fault.kind === kind);
  return {
    type: 'checklist',
    id: 'checks',
    title: words.checks,
    source: words.checksSource,
    checks: FAULT_KINDS.flatMap((kind): ChecklistEvidence['checks'] => {
      const found = own(kind);
      if (found.length === 0)
        return kind === 'shadows' ? [] : [{ text: words.passed[kind], state: 'passed', about: [] }];
      return found.map(({ about, severity, text: said }) => ({ text: said, state: severity === 'note' ? ('unknown' as const) : ('failed' as const), about })); // prettier-ignore
    }).sort((a, b) => STATES.indexOf(a.state) - STATES.indexOf(b.state)),
  };
}

const STATES = ['failed', 'unknown', 'passed'];

/** How far each variant is from the region as it is. */
