// What the displacement diagnosis shows of one object.
import { toHalf } from '../../formats/index.ts';
import { MOST_TRIANGLES } from '../../geometry/index.ts';
import { BYTES_A_TRIANGLE } from '../../render/index.ts';
import { placementOf } from '../../shade/index.ts';
import { number, text, type ChecklistEvidence, type CurvesEvidence, type Evidence, type HistogramEvidence, type PicturesEvidence, type TableEvidence } from '../evidence.ts'; // prettier-ignore
import { base64 } from '../packPicture.ts';
import { DISPLACEMENT_FAULTS, type DisplacementCause, type ObjectReading } from './displacementCauses.ts';
import { SEEN } from './seamCures.ts';
import { words } from './words.ts';

/** The map is drawn no larger than this, each way. */
const MAP_SIDE = 240;

export function evidenceOf(reading: ObjectReading): Evidence[] {
  const { of, seams } = reading;
  const { id, object } = of;
  const { name } = object;
  return [
    levelCurve(reading),
    levelTable(reading),
    heightHistogram(reading),
    scaleTable(reading),
    ...(seams.now.places > 0 ? [ruleTable(id, name, reading), seamTable(id, name, reading), mapPicture(reading)] : []),
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

function levelTable({ levels, of: { id, object } }: ObjectReading): TableEvidence {
  const rows = levels
    .filter(({ triangles }) => triangles <= MOST_TRIANGLES)
    .map(({ detail, level, spacing, triangles }) => [
      text(level === object.subdivisionLevels ? `${level} (${words.present})` : String(level)),
      number(detail, 'share'),
      number(Number(spacing.toPrecision(3)), 'px'),
      number(triangles, 'count'),
      number(triangles * BYTES_A_TRIANGLE, 'bytes'),
    ]);
  return { type: 'table', id: `levelTable:${id}`, title: words.levelTable(object.name), source: words.levelTableSource, columns: words.levelColumns, rows }; // prettier-ignore
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

function seamTable(id: string, name: string, { seams }: ObjectReading): TableEvidence {
  const uv = (u: number, v: number) => text(`${u.toFixed(3)}, ${(1 - v).toFixed(3)}`);
  const rows = seams.now.list.map((gap) => {
    const [x, y] = [Math.floor(gap.x), Math.floor(gap.y)];
    return [
      Number.isFinite(gap.x) ? { type: 'link' as const, text: `${x}, ${y}`, to: { type: 'pixel' as const, x, y } } : text('-'), // prettier-ignore
      number(Number(gap.gap.toPrecision(3)), 'px'),
      number(gap.length, 'm'),
      uv(gap.u, gap.v),
      uv(gap.otherU, gap.otherV),
    ];
  });
  return { type: 'table', id: `seams:${id}`, title: words.seams(name), source: words.rulesSource, columns: words.seamColumns, rows }; // prettier-ignore
}

/** The map in grey between its lowest and highest value, with the borders of its islands; red where a gap is seen. */
function mapPicture({ heights, of, seams }: ObjectReading): PicturesEvidence {
  const { height, values, width } = of.map;
  const step = Math.max(width, height) / Math.min(MAP_SIDE, Math.max(width, height));
  const [w, h] = [Math.round(width / step), Math.round(height / step)];
  const rgb = new Float32Array(w * h * 3);
  const range = heights.high - heights.low || 1;
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      const value = values[Math.floor(y * step) * width + Math.floor(x * step)];
      // dark, so that lines stand out
      rgb.fill(
        0.3 * Math.min(1, Math.max(0, (value - heights.low) / range)) + 0.02,
        (y * w + x) * 3,
        (y * w + x) * 3 + 3,
      );
    }
  const p = placementOf(of.moved.texture);
  const dot = (u: number, v: number, color: number[]) => {
    const [s, t] = [p[0] * u + p[1] * v + p[2], p[3] * u + p[4] * v + p[5]];
    const [x, y] = [Math.floor((s - Math.floor(s)) * w), Math.floor((t - Math.floor(t)) * h)];
    rgb.set(color, (y * w + x) * 3);
  };
  const first = new Int32Array(of.places.length).fill(-1);
  for (let v = 0; v < of.places.length; v++) {
    const other = first[of.places[v]];
    if (other < 0) {
      first[of.places[v]] = v;
      continue;
    }
    for (const one of [v, other]) dot(of.uvs[one * 2], of.uvs[one * 2 + 1], [0.9, 0.9, 0.9]);
  }
  for (const { gap, otherU, otherV, u, v } of seams.now.list) {
    if (gap < SEEN) continue;
    for (const [x, y] of [[u, v], [otherU, otherV]]) for (let k = -2; k <= 2; k++) dot(x + (k * step) / width, y, [0.8, 0.02, 0.02]); // prettier-ignore
  }
  const halves = base64(new Uint8Array(Uint16Array.from(rgb, toHalf).buffer));
  return { type: 'pictures', id: `map:${of.id}`, title: words.mapPicture(of.object.name), source: words.mapSource, pictures: [{ label: of.moved.texture.name, width: w, height: h, halves }] }; // prettier-ignore
}

export function checksOf(causes: DisplacementCause[]): ChecklistEvidence {
  const checks = DISPLACEMENT_FAULTS.flatMap((fault): ChecklistEvidence['checks'] => {
    const found = causes.filter((cause) => cause.fault === fault);
    if (found.length === 0) return [{ text: words.passed[fault], state: 'passed', about: [] }];
    return found.map(({ about, text: said }) => ({ text: said, state: 'failed', about }));
  });
  return { type: 'checklist', id: 'checks', title: words.checks, source: words.checksSource, checks };
}
