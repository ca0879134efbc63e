/** Units that may be typed for a unit, as factors of it. */
const UNITS: Record<string, Record<string, number>> = {
  m: { m: 1, mm: 0.001, cm: 0.01, km: 1000 },
  deg: { deg: 1, '°': 1, rad: 180 / Math.PI },
  EV: { ev: 1, stop: 1, stops: 1 },
  px: { px: 1 },
  '': { '%': 0.01 },
};

/** The number that was typed for a value of a unit: "35 mm", "+1.5 EV", "50 %"; null for what is none. */
export function parseQuantity(text: string, unit: string): number | null {
  const found = /^\s*([+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:e[+-]?\d+)?)\s*(.*?)\s*$/i.exec(text);
  if (!found) return null;
  const value = Number(found[1].replace(',', '.'));
  const typed = found[2].toLowerCase();
  const factor = typed === '' || typed === unit.toLowerCase() ? 1 : UNITS[unit]?.[typed];
  return factor === undefined || !Number.isFinite(value) ? null : value * factor;
}

/** Four figures are enough to see, and are what a drag leads to. */
export const shortNumber = (value: number) => String(Number(value.toPrecision(4)));
