// The keys of the bench.
import type { Ref } from 'vue';
import { onKeyStroke } from '@vueuse/core';
import { DISPLAY_TRANSFORMS } from '@dusting/core/color';
import { MAIN_LAYER } from '@dusting/core/image';
import { DENOISED } from '@dusting/core/render';
import { CHANNELS, MODES } from '../picture/view.ts';
import { useBench } from '../stores/bench.ts';
import { useContents } from '../stores/contents.ts';
import { useExpected } from '../stores/expected.ts';
import { useLook } from '../stores/look.ts';
import { usePreview } from '../stores/preview.ts';
import { useSlip } from '../stores/slip.ts';
import { useUndo } from '../stores/undo.ts';
import { nudgeRegion } from '../wall/nudgeRegion.ts';

export interface BenchActs {
  /** Where the pointer is in the frame. */
  point: Ref<{ x: number; y: number } | null>;
  keys: Ref<boolean>;
  busy: Ref<unknown>;
  fit(): void;
  copyLink(): unknown;
  savePicture(): unknown;
  toggleModel(): void;
}

const STEPS: Record<string, [number, number]> = { ArrowLeft: [-8, 0], ArrowRight: [8, 0], ArrowUp: [0, -8], ArrowDown: [0, 8] }; // prettier-ignore
/** Keys that belong to what has the focus: all of a text, the arrows of a slider. */
function isTaken({ target, key, ctrlKey, metaKey }: KeyboardEvent): boolean {
  const own = (selector: string) => (target as HTMLElement).closest(selector) !== null;
  // what lies open on top is closed first
  if (key === 'Escape' && document.querySelector('[role=dialog]')) return true;
  if ((ctrlKey || metaKey) && own('[data-settled=true]')) return false;
  if (own('[type=range]')) return key.startsWith('Arrow');
  return own('input:not([type=checkbox]), textarea, select, [role=listbox], [role=combobox]');
}

export function useBenchKeys({ point, keys, busy, fit, copyLink, savePicture, toggleModel }: BenchActs): void {
  const bench = useBench();
  const contents = useContents();
  const look = useLook();
  const expected = useExpected();
  const preview = usePreview();
  const slip = useSlip();
  const undo = useUndo();

  /** Moves the picture by a tenth of the wall. */
  function pan(x: number, y: number) {
    const { centre, scale, canvas } = look;
    look.centre = { x: centre.x + (x * canvas.width) / 10 / scale, y: centre.y + (y * canvas.height) / 10 / scale };
  }
  /** Moves the region by a step, or its right and lower edge. */
  function moveRegion(key: string, edge: boolean) {
    const { region, proof } = bench;
    const step = STEPS[key];
    if (!region || !proof || !step) return;
    bench.region = nudgeRegion(region, step, edge, proof.settings);
    void bench.compareRegion();
  }
  function toggleDenoised() {
    if (preview.on) preview.denoised = !preview.denoised;
    else if (bench.layers.some(({ name }) => name === DENOISED))
      bench.layer = bench.layer === DENOISED ? MAIN_LAYER : DENOISED;
  }
  const next = <T>(list: readonly T[], now: T) => list[(list.indexOf(now) + 1) % list.length];
  const turnLayer = (by: number) => {
    const names = bench.layers.map((l) => l.name);
    if (names.length > 0) bench.layer = names[(names.indexOf(bench.layer) + by + names.length) % names.length];
  };

  const acts: Record<string, () => unknown> = {
    ']': () => turnLayer(1),
    '[': () => turnLayer(-1),
    e: () => (look.exposure += 0.5),
    E: () => (look.exposure -= 0.5),
    g: () => look.setGamma(look.gamma + 0.1),
    G: () => look.setGamma(look.gamma - 0.1),
    s: () => (look.shadowCheck = next([0, 1, 2] as const, look.shadowCheck)),
    d: () => (look.transform = next(DISPLAY_TRANSFORMS, look.transform)),
    n: toggleDenoised,
    m: () => (look.marks = !look.marks),
    c: () => (look.channel = next(CHANNELS, look.channel)),
    k: () => point.value && look.pin(point.value),
    i: () => (look.isolines = !look.isolines),
    b: () => {
      if (bench.besideId === null && !preview.on) return;
      if (look.mode === 'blink') look.blink = !look.blink;
      else look.mode = 'blink';
    },
    w: () => (bench.besideId !== null || preview.on) && (look.mode = next(MODES, look.mode)),
    a: () => bench.proof && (bench.region = bench.proof.region),
    ArrowLeft: () => pan(-1, 0),
    ArrowRight: () => pan(1, 0),
    ArrowUp: () => pan(0, -1),
    ArrowDown: () => pan(0, 1),
    '0': fit,
    '1': () => (look.scale = 1),
    '+': () => look.zoom(1.5),
    '-': () => look.zoom(1 / 1.5),
    h: () => (look.alone = !look.alone),
    l: copyLink,
    p: savePicture,
    o: toggleModel,
    v: () => !bench.isFrames && preview.toggle(),
    x: () => preview.on && (preview.paused = !preview.paused),
    f: () => preview.on && preview.freeze(),
    r: () => !busy.value && !bench.isFrames && expected.send(expected.proposed),
    t: () => slip.lines.length > 0 && !busy.value && slip.tryOut(),
    '?': () => (keys.value = !keys.value),
    Escape: () => {
      bench.region = null;
      bench.selectDefect(null);
      contents.select(null);
      keys.value = false;
    },
  };

  onKeyStroke((event) => {
    if (isTaken(event)) return;
    const control = event.ctrlKey || event.metaKey;
    if (control && event.key.toLowerCase() === 'z') {
      event.preventDefault();
      return void (event.shiftKey ? undo.redo() : undo.undo());
    }
    if (bench.region && !control && event.key.startsWith('Arrow') && (event.shiftKey || event.altKey)) {
      event.preventDefault();
      return moveRegion(event.key, event.altKey);
    }
    if (!control && !event.altKey) acts[event.key]?.();
  });
}
