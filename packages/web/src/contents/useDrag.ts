// Dragging a number by its label: to the right it grows.
import type { Parameter } from '@dusting/core/scene';

/** Pixels that lead once through a range of 0..1, or to about e times the value. */
const LENGTH = 200;

/** @returns the value after a drag of so many pixels from a start */
export function draggedValue(start: number, pixels: number, { minimum, maximum, kind }: Parameter): number {
  const share = pixels / LENGTH;
  const span = maximum - minimum;
  let value: number;
  if (span <= 1000 && kind !== 'whole') value = start + share * Math.min(span, 60);
  else if (kind === 'whole') value = Math.round(start + pixels / 8);
  else if (start === 0) value = Math.max(0, share);
  else value = start * Math.exp(share);
  return Number(Math.min(maximum, Math.max(minimum, value)).toPrecision(4));
}

/**
 * Follows a pointer that went down on a label.
 * @param onMove pixels since then, a tenth of them with Shift
 */
export function followDrag(event: PointerEvent, onMove: (pixels: number) => void, onEnd: () => void): void {
  const label = event.currentTarget as HTMLElement;
  label.setPointerCapture(event.pointerId);
  let pixels = 0;
  const move = (e: PointerEvent) => {
    pixels += e.movementX * (e.shiftKey ? 0.1 : 1);
    onMove(pixels);
  };
  const up = () => {
    label.removeEventListener('pointermove', move);
    onEnd();
  };
  label.addEventListener('pointermove', move);
  label.addEventListener('lostpointercapture', up, { once: true });
}
