// Evidence in words, for the command line and for those who do not see it.
import type { Cell, Evidence } from './evidence.ts';
import { formatNumber } from './units.ts';

/** Of long evidence, so many lines are written. */
const MOST_LINES = 16;

/** Lines without a title. */
export function evidenceText(evidence: Evidence): string[] {
  switch (evidence.type) {
    case 'bars':
      return evidence.bars.map(({ label, value }) => `${label}: ${formatNumber(value, evidence.unit)}`);
    case 'curves':
      return [
        ...evidence.curves.map(({ label, points }) => {
          const shown = evenly(points, MOST_LINES).map(([x, y]) => `${formatNumber(x, evidence.x.unit)}: ${formatNumber(y, evidence.y.unit)}`); // prettier-ignore
          return `${label} (${evidence.y.label} by ${evidence.x.label}): ${shown.join(', ')}`;
        }),
        ...markerText(evidence.markers),
      ];
    case 'histogram': {
      const { counted, counts, edges, markers, x } = evidence;
      const bins = counts.map((count, i) => `${formatNumber(edges[i], x.unit)} to ${formatNumber(edges[i + 1], x.unit)}: ${count} ${counted}`); // prettier-ignore
      return [...bins.filter((_, i) => counts[i] > 0).slice(0, MOST_LINES), ...markerText(markers)];
    }
    case 'map': {
      const { categories, columns, leading, region, rows, tile, unit, values } = evidence;
      const most = values.reduce((best, v, i) => (v > values[best] ? i : best), 0);
      const [x, y] = [region.x + (most % columns) * tile, region.y + Math.floor(most / columns) * tile];
      const tiles = leading?.filter((k) => k >= 0) ?? [];
      const shares = (categories ?? []).map(({ label }, k) => ({ label, share: tiles.filter((l) => l === k).length / (tiles.length || 1) })); // prettier-ignore
      // without a unit the values say how dense a tile is drawn
      const strongest = unit === '' ? '' : `, at most ${formatNumber(values[most] ?? 0, unit)} at (${x}, ${y})`;
      return [
        `${columns} x ${rows} tiles of ${tile} px${strongest}`,
        ...shares.filter(({ share }) => share > 0).map(({ label, share }) => `${label} ${unit === '' ? 'in' : 'leads in'} ${formatNumber(share, 'share')} of them`), // prettier-ignore
      ];
    }
    case 'table':
      return [evidence.columns, ...evidence.rows.map((row) => row.map(cellText))]
        .map((row) => row.filter(Boolean).join(' · '))
        .filter(Boolean);
    case 'pixels':
      return evidence.pixels.map(({ text, value, x, y }) => `(${x}, ${y}): ${formatNumber(value, evidence.value.unit)}, ${text}`); // prettier-ignore
    case 'paths':
      return evidence.paths.flatMap(({ label, marked, vertices }) => [
        label,
        ...vertices.map((v, i) => `  ${i + 1}. ${v.object}, ${v.lobe ?? 'ends here'}${v.probe ? ' (beyond the limit)' : ''}${marked?.vertex === i ? `: ${marked.text}` : ''}`), // prettier-ignore
      ]);
    case 'rays':
      return evidence.rays.map(({ label, text }) => `${label}: ${text}`);
    case 'pictures':
      return evidence.pictures.map(({ height, label, width }) => `${label}: ${width} x ${height} px`);
    case 'dial':
      return [`${evidence.width} x ${evidence.height} px, by ${evidence.axis.label}: ${evidence.values.map((v) => formatNumber(v, evidence.axis.unit)).join(', ')}; by cone: ${evidence.cones.map((cone) => `${cone}°`).join(', ')}`]; // prettier-ignore
    case 'uv':
      return evidence.seams.slice(0, MOST_LINES).map(({ gap, length, pixel, sides }) => {
        const [here, there] = sides.map(({ u, v, value }) => `U ${u.toFixed(3)} V ${(1 - v).toFixed(3)} at ${formatNumber(value, evidence.layers[0].unit)}`); // prettier-ignore
        return `${pixel ? `(${pixel.x}, ${pixel.y})` : 'not seen'}: ${formatNumber(gap, 'px')}, ${formatNumber(length, 'm')}; ${here}, ${there}`;
      });
    case 'checklist':
      return evidence.checks.map(
        ({ state, text }) => `${{ passed: 'yes', failed: 'NO', unknown: '?' }[state]}: ${text}`,
      );
  }
}

const markerText = (markers: { label: string }[]) => (markers.length > 0 ? [`marked: ${markers.map((m) => m.label).join(', ')}`] : []); // prettier-ignore

export function cellText(cell: Cell): string {
  switch (cell.type) {
    case 'number':
      return formatNumber(cell.value, cell.unit);
    case 'swatch':
      return cell.rgb.map((v) => formatNumber(v, '')).join(' ');
    default:
      return cell.text;
  }
}

/** So many of a list, evenly chosen, with the first and the last. */
function evenly<T>(list: T[], most: number): T[] {
  if (list.length <= most) return list;
  return Array.from({ length: most }, (_, i) => list[Math.round((i * (list.length - 1)) / (most - 1))]);
}
