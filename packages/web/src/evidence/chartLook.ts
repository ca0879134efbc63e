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

export const axisLook = ({ label, scale, unit }: Axis) => ({
  type: 'numeric' as const,
  logarithmic: scale === 'log',
  title: { text: label, style: { color: '#b8b8b8', fontSize: '11.5px', fontWeight: 400 } },
  labels: { style: TEXT, formatter: (v: number | string) => formatNumber(Number(v), unit) },
  axisTicks: { show: false },
  axisBorder: { show: false },
});

/** Lines with a label at their values. */
export function markerLook(markers: Marker[]) {
  const line = (axis: 'x' | 'y') =>
    markers
      .filter((m) => m.axis === axis)
      .map(({ label, value }, i) => ({
        [axis]: value,
        borderColor: '#d8b25e',
        strokeDashArray: 3,
        label: {
          text: label,
          borderWidth: 0,
          offsetY: axis === 'x' ? 14 * i : 0,
          orientation: 'horizontal',
          textAnchor: 'start',
          style: { background: '#3a3a3a', color: '#e8d5a5', fontSize: '11px', padding: { left: 3, right: 3, top: 0, bottom: 1 } }, // prettier-ignore
        },
      }));
  return { xaxis: line('x'), yaxis: line('y') };
}
