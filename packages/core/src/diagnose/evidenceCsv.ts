import type { Cell, Evidence } from './evidence.ts';

/** The numbers of evidence as comma-separated values (RFC 4180), with a head; null where there are none to copy. */
export function evidenceCsv(evidence: Evidence): string | null {
  const rows = rowsOf(evidence);
  return rows && rows.map((row) => row.map(quoted).join(',')).join('\r\n') + '\r\n';
}

type Value = string | number;

function rowsOf(evidence: Evidence): Value[][] | null {
  switch (evidence.type) {
    case 'bars':
      return [['label', evidence.unit || 'value'], ...evidence.bars.map(({ label, value }) => [label, value])];
    case 'curves':
      return [['curve', evidence.x.label, evidence.y.label], ...evidence.curves.flatMap(({ label, points }) => points.map(([x, y]) => [label, x, y]))]; // prettier-ignore
    case 'histogram':
      return [['from', 'to', evidence.counted], ...evidence.counts.map((count, i) => [evidence.edges[i], evidence.edges[i + 1], count])]; // prettier-ignore
    case 'map': {
      const { categories, columns, leading, region, tile, unit, values } = evidence;
      const name = (i: number) => categories?.[leading?.[i] ?? -1]?.label ?? '';
      return [['x', 'y', unit || 'value', 'leading'], ...values.map((value, i) => [region.x + (i % columns) * tile, region.y + Math.floor(i / columns) * tile, value, name(i)])]; // prettier-ignore
    }
    case 'table':
      return [evidence.columns, ...evidence.rows.map((row) => row.map(plain))];
    case 'pixels':
      return [['x', 'y', evidence.value.label, ''], ...evidence.pixels.map(({ text, value, x, y }) => [x, y, value, text])]; // prettier-ignore
    case 'paths':
      return [
        ['path', 'x', 'y', 'z', 'object', 'surface', 'event', 'density'],
        ...evidence.paths.flatMap(({ label, vertices }) => vertices.map((v) => [label, ...v.position, v.object, v.surface, v.lobe ?? '', v.density])), // prettier-ignore
      ];
    case 'rays':
      return [['ray', 'x', 'y', 'z', 'stopped'], ...evidence.rays.flatMap(({ label, lines }) => lines.flatMap(({ points, stop }) => points.map((point) => [label, ...point, stop ? 'yes' : 'no'])))]; // prettier-ignore
    case 'uv':
      return [
        ['x', 'y', 'gap (px)', 'length (m)', 'U', 'V', 'value', 'other U', 'other V', 'other value'],
        ...evidence.seams.map(({ gap, length, pixel, sides }) => [pixel?.x ?? '', pixel?.y ?? '', gap, length, ...sides.flatMap(({ u, v, value }) => [u, 1 - v, value])]), // prettier-ignore
      ];
    case 'checklist':
      return [['check', 'state'], ...evidence.checks.map(({ state, text }) => [text, state])];
    case 'pictures':
    case 'dial':
      return null;
  }
}

const plain = (cell: Cell): Value => {
  if (cell.type === 'number') return cell.value;
  return cell.type === 'swatch' ? cell.rgb.join(' ') : cell.text;
};

const quoted = (value: Value) => (/[",\r\n]/.test(String(value)) ? `"${String(value).replaceAll('"', '""')}"` : String(value)); // prettier-ignore
