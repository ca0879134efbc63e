// How all charts look.
import { formatNumber, type Axis, type Marker } from '@dusting/core/diagnose';

const TEXT = { colors: '#d8d8d8', fontSize: '11.5px', fontFamily: 'Public Sans Variable' };

export const chartLook = (type: 'bar' | 'line') => ({
  chart: {
    type,
    toolbar: { show: false },
    zoom: { enabled: false },
    animations: { enabled: false },
    background: 'transparent',
    fontFamily: 'Public Sans Variable',
  },
  theme: { mode: 'dark' as const },
  states: { hover: { filter: { type: 'none' } } },
  tooltip: { enabled: false },
});

export const axisLook = ({ label, unit }: Axis) => ({
  type: 'numeric' as const,
  title: { text: label, style: { color: '#b8b8b8', fontSize: '11.5px', fontWeight: 400 } },
  labels: { style: TEXT, formatter: (v: number | string) => formatNumber(Number(v), unit) },
  axisTicks: { show: false },
  axisBorder: { show: false },
});

/** Logarithms of the chart itself go wrong below 10, and it has none along x: it is given the powers, and writes what they are of. */
export const placed = ({ scale }: Axis, v: number) => (scale === 'log' ? Math.log10(v) : v);
export function powersOf(axis: Axis) {
  const look = axisLook(axis);
  if (axis.scale !== 'log') return look;
  // a power lies between values: two figures are enough
  const formatter = (v: number | string) => look.labels.formatter(Number((10 ** Number(v)).toPrecision(2)));
  return { ...look, labels: { ...look.labels, formatter } };
}

/** Lines with a label at their values. */
export function markerLook(markers: Marker[], axes: { x: Axis; y: Axis }) {
  const line = (axis: 'x' | 'y') =>
    markers
      .filter((m) => m.axis === axis)
      .map(({ label, value }, i) => ({
        [axis]: placed(axes[axis], value),
        borderColor: '#d8b25e',
        strokeDashArray: 3,
        label: {
          text: label,
          borderWidth: 0,
          offsetY: axis === 'x' ? 14 * i : 0,
          orientation: 'horizontal',
          // a line along y has its label at the right edge, and must not leave it
          textAnchor: axis === 'x' ? 'start' : 'end',
          style: { background: '#3a3a3a', color: '#e8d5a5', fontSize: '11px', padding: { left: 3, right: 3, top: 0, bottom: 1 } }, // prettier-ignore
        },
      }));
  return { xaxis: line('x'), yaxis: line('y') };
}
