// What the displacement diagnosis shows of one object.
import { MOST_TRIANGLES } from '../../geometry/index.ts';
import type { Region } from '../../image/index.ts';
import { BYTES_A_TRIANGLE } from '../../render/index.ts';
import { number, text, type ChecklistEvidence, type CurvesEvidence, type Evidence, type HistogramEvidence, type MapEvidence, type TableEvidence } from '../evidence.ts'; // prettier-ignore
import { DISPLACEMENT_FAULTS, type DisplacementCause, type ObjectReading } from './displacementCauses.ts';
import { uvEvidence } from './uvEvidence.ts';
import { UV_FAULTS, type UvFault } from './uvReading.ts';
import { words } from './words.ts';

/** Islands that are listed. */
const MOST_ISLANDS = 12;
/** Tiles of the map of what faces miss, along the longer side. */
const COARSE_TILES = 48;
/** UVs that are meant like this as often as not. */
const MAY_BE_MEANT = new Set<UvFault>(['overlap', 'mirrored', 'uneven']);

/** @param region that the answer is about */
export function evidenceOf(reading: ObjectReading, region: Region): Evidence[] {
  const { of, seams } = reading;
  const { id, object } = of;
  const { name } = object;
  return [
    levelCurve(reading),
    levelTable(reading),
    coarseMap(reading, region),
    heightHistogram(reading),
    scaleTable(reading),
    ...(seams.now.places > 0 ? [ruleTable(id, name, reading)] : []),
    uvEvidence(reading),
    islandTable(reading),
  ];
}

function heightHistogram({ heights, of: { id, moved, object } }: ObjectReading): HistogramEvidence {
  return {
    type: 'histogram',
    id: `heights:${id}`,
    title: words.heights(object.name),
    source: words.heightsSource,
    x: { label: words.height, unit: '', scale: 'linear' },
    counted: words.counted,
    edges: heights.edges,
    counts: heights.counts.map((share) => Number((share * 100).toPrecision(3))),
    markers: [
      { axis: 'x', value: moved.neutral, label: words.neutralNow },
      ...(Math.abs(heights.rest - moved.neutral) > 0.01 ? [{ axis: 'x' as const, value: heights.rest, label: words.restsAt }] : []), // prettier-ignore
    ],
  };
}

function levelCurve({ levels, of: { id, object } }: ObjectReading): CurvesEvidence {
  return {
    type: 'curves',
    id: `levels:${id}`,
    title: words.levels(object.name),
    source: words.levelsSource,
    x: { label: words.level, unit: 'count', scale: 'linear' },
    y: { label: words.detail, unit: 'share', scale: 'linear' },
    curves: [{ label: object.name, points: levels.map(({ detail, level }) => [level, detail]) }],
    markers: [{ axis: 'x', value: object.subdivisionLevels, label: words.present }],
  };
}

function levelTable({ levels, missed, of: { id, object } }: ObjectReading): TableEvidence {
  const missedAt = (level: number) => missed.byLevel[level - object.subdivisionLevels];
  const rows = levels
    .filter(({ triangles }) => triangles <= MOST_TRIANGLES)
    .map(({ detail, level, spacing, triangles }) => [
      text(level === object.subdivisionLevels ? `${level} (${words.present})` : String(level)),
      number(detail, 'share'),
      number(Number(spacing.toPrecision(3)), 'px'),
      missedAt(level) === undefined ? text('') : number(Number(missedAt(level).toPrecision(3)), 'px'),
      number(triangles, 'count'),
      number(triangles * BYTES_A_TRIANGLE, 'bytes'),
    ]);
  return { type: 'table', id: `levelTable:${id}`, title: words.levelTable(object.name), source: words.levelTableSource, columns: words.levelColumns, rows }; // prettier-ignore
}

/** The most that each tile of the region misses. What something else hides counts as well. */
function coarseMap({ missed: { places }, of: { id, object } }: ObjectReading, region: Region): MapEvidence {
  const tile = Math.max(2, Math.ceil(Math.max(region.width, region.height) / COARSE_TILES));
  const [columns, rows] = [Math.ceil(region.width / tile), Math.ceil(region.height / tile)];
  const values = new Array<number>(columns * rows).fill(0);
  for (const { missed, x, y } of places) {
    const [column, row] = [Math.floor((x - region.x) / tile), Math.floor((y - region.y) / tile)];
    if (!(column >= 0 && row >= 0 && column < columns && row < rows)) continue;
    const at = row * columns + column;
    values[at] = Math.max(values[at], Number(missed.toPrecision(3)));
  }
  return { type: 'map', id: `coarse:${id}`, title: words.coarseMap(object.name), source: words.coarseSource, unit: 'px', region, tile, columns, rows, values }; // prettier-ignore
}

function scaleTable({ movement, of: { id, object } }: ObjectReading): TableEvidence {
  const { folded, range, size, slope } = movement;
  const { scaleRows } = words;
  const rows = [
    [text(scaleRows.range), number(range, 'm')],
    [text(scaleRows.size), number(size, 'm')],
    [text(scaleRows.share), number(range / size, 'share')],
    [text(scaleRows.folded), number(folded, 'share')],
    [text(scaleRows.slope), text(words.degrees(slope))],
  ];
  return { type: 'table', id: `scales:${id}`, title: words.scales(object.name), source: words.scalesSource, columns: words.scaleColumns, rows }; // prettier-ignore
}

function ruleTable(id: string, name: string, { of, seams }: ObjectReading): TableEvidence {
  const rows = seams.byRule.map(({ gaps, rule }) => [
    text(rule === of.object.uvRule ? `${rule} (${words.present})` : rule),
    number(Number(gaps.wide.toPrecision(3)), 'px'),
    number(Number(gaps.worst.toPrecision(3)), 'px'),
    number(gaps.worstLength, 'm'),
  ]);
  return { type: 'table', id: `rules:${id}`, title: words.rules(name), source: words.rulesSource, columns: words.ruleColumns, rows }; // prettier-ignore
}

/** Islands of the UVs that hold most of the surface. */
function islandTable({ of: { id, object }, uvs: { density, layout } }: ObjectReading): TableEvidence {
  const whole = layout.islands.reduce((sum, { area }) => sum + area, 0) || 1;
  const rows = layout.islands
    .slice(0, MOST_ISLANDS)
    .map(({ area, box, isMirrored, stretch, triangles }, i) => [
      text(`${box[0].toFixed(2)}, ${(1 - box[3]).toFixed(2)}`),
      number(area / whole, 'share'),
      number(triangles, 'count'),
      number(Number(density[i].toPrecision(3)), 'count'),
      stretch === Infinity ? text(words.noArea) : number(Number(stretch.toPrecision(3))),
      text(isMirrored ? words.mirrored : ''),
    ]);
  return { type: 'table', id: `islands:${id}`, title: words.islands(object.name, layout.islands.length), source: words.islandsSource, columns: words.islandColumns, rows }; // prettier-ignore
}

export function checksOf(causes: DisplacementCause[], readings: ObjectReading[]): ChecklistEvidence {
  const checks = DISPLACEMENT_FAULTS.flatMap((fault): ChecklistEvidence['checks'] => {
    const found = causes.filter((cause) => cause.fault === fault);
    if (found.length === 0) return [{ text: words.passed[fault], state: 'passed', about: [] }];
    return found.map(({ about, text: said }) => ({ text: said, state: 'failed', about }));
  });
  const uvChecks = UV_FAULTS.flatMap((fault): ChecklistEvidence['checks'] => {
    const found = readings.filter(({ uvs }) => uvs.faults.includes(fault));
    if (found.length === 0) return readings.length > 0 ? [{ text: words.uvPassed[fault], state: 'passed', about: [] }] : []; // prettier-ignore
    return found.map(({ of: { id, object }, uvs }) => ({ text: words.uvFault[fault](object.name, uvs), state: MAY_BE_MEANT.has(fault) ? 'unknown' : 'failed', about: [{ type: 'object', id, name: object.name }] })); // prettier-ignore
  });
  return {
    type: 'checklist',
    id: 'checks',
    title: words.checks,
    source: words.checksSource,
    checks: [...checks, ...uvChecks],
  };
}
