// How the picture is looked at.
import { defineStore } from 'pinia';
import { computed, ref } from 'vue';
import { useLocalStorage } from '@vueuse/core';
import { encodeForDisplay, type Display } from '@dusting/core/color';
import type { Region } from '@dusting/core/image';
import { VIEW_DEFAULTS, type CompareMode, type DifferenceKind, type View } from '../picture/view.ts';

const MOST_PINS = 8;

export const useLook = defineStore('look', () => {
  const exposure = useLocalStorage('dusting.exposure', 0);
  const shadowCheck = useLocalStorage<0 | 1 | 2>('dusting.shadowCheck', 0);
  const transform = useLocalStorage<View['transform']>('dusting.transform', 'srgb');
  const gamma = useLocalStorage('dusting.gamma', 1);
  const channel = ref<View['channel']>('color');
  const marks = useLocalStorage('dusting.marks', false);
  const mode = ref<CompareMode>('one');
  const wipe = ref<View['wipe']>({ at: 0.5, angle: 0 });
  const blink = ref(false);
  const blinking = ref(false);
  const difference = useLocalStorage<DifferenceKind>('dusting.difference', 'signed');
  const gain = useLocalStorage('dusting.gain', 1);
  const isolines = ref(false);
  /** Pixels of the frame whose values stay in sight, in the order of their numbers. */
  const pins = useLocalStorage<{ x: number; y: number }[]>('dusting.pins', []);
  function pin({ x, y }: { x: number; y: number }) {
    const others = pins.value.filter((p) => p.x !== x || p.y !== y);
    // pinned again, it is let go
    pins.value = others.length < pins.value.length ? others : [...others, { x, y }].slice(-MOST_PINS);
  }
  function unpin(index: number) {
    pins.value = pins.value.filter((_, i) => i !== index);
  }
  const centre = ref({ x: 0, y: 0 });
  const scale = ref(1);
  const canvas = ref({ width: 1, height: 1 });
  const alone = ref(false);
  const stops = computed(() => exposure.value + shadowCheck.value);
  /** How it is looked at, for a sheet: "srgb at +1 EV, gamma 1.2". */
  const words = computed(() => {
    const lifted = stops.value === 0 ? '' : ` at ${stops.value > 0 ? '+' : ''}${stops.value} EV`;
    return `${transform.value}${lifted}${gamma.value === 1 ? '' : `, gamma ${gamma.value}`}`;
  });
  const display = computed((): Display => ({ stops: stops.value, transform: transform.value, gamma: gamma.value }));
  /** How a picture is shown by itself, without a place. */
  const plain = computed(() => ({ ...VIEW_DEFAULTS, ...display.value }));
  /** To a tenth; what is no number stands for none. */
  function setGamma(value: number) {
    gamma.value = Math.round(10 * Math.min(5, Math.max(0.2, value || 1))) / 10;
  }
  /** What the display is sent for a linear colour, 0..1. */
  function sent(linear: number[]): number[] {
    const rgb = linear.slice(0, 3).map((v) => v * 2 ** stops.value);
    encodeForDisplay(rgb, display.value);
    return rgb;
  }

  function fit(frame: Region) {
    const across = mode.value === 'side' ? canvas.value.width / 2 : canvas.value.width;
    scale.value = Math.min((across - 16) / frame.width, (canvas.value.height - 16) / frame.height);
    centre.value = { x: frame.x + frame.width / 2, y: frame.y + frame.height / 2 };
  }
  function isFitted(frame: Region) {
    const across = mode.value === 'side' ? canvas.value.width / 2 : canvas.value.width;
    const whole = Math.min((across - 16) / frame.width, (canvas.value.height - 16) / frame.height);
    const moved = Math.hypot(centre.value.x - frame.x - frame.width / 2, centre.value.y - frame.y - frame.height / 2);
    return Math.abs(scale.value / whole - 1) < 1e-3 && moved * scale.value < 1;
  }
  /** Zooms about a point of the canvas, given from its middle. */
  function zoom(factor: number, x = 0, y = 0) {
    const next = Math.min(128, Math.max(0.05, scale.value * factor));
    const change = 1 / scale.value - 1 / next;
    centre.value = { x: centre.value.x + x * change, y: centre.value.y + y * change };
    scale.value = next;
  }
  return {
    exposure,
    shadowCheck,
    transform,
    gamma,
    setGamma,
    channel,
    marks,
    mode,
    wipe,
    blink,
    blinking,
    difference,
    gain,
    isolines,
    pins,
    pin,
    unpin,
    centre,
    scale,
    canvas,
    alone,
    stops,
    words,
    display,
    sent,
    plain,
    fit,
    isFitted,
    zoom,
  };
});
