import { nextTick } from 'vue';
import type { Reference } from '@dusting/core/diagnose';
import { useBench } from '../stores/bench.ts';
import { useContents } from '../stores/contents.ts';
import { useLook } from '../stores/look.ts';

/** At least so many pixels of the screen for one of the frame, where a single one is looked at. */
const CLOSE = 6;

/** Shows what a reference is about, wherever in the bench that is. */
export function useGoTo() {
  const bench = useBench();
  const contents = useContents();
  const look = useLook();
  return (to: Reference) => {
    switch (to.type) {
      case 'setting':
        if (bench.proof) bench.use = bench.proof.use;
        bench.panel = 'settings';
        void nextTick(() => document.getElementById(`set-${to.path.replaceAll('.', '/')}`)?.focus());
        break;
      case 'pixel':
        look.centre = { x: to.x + 0.5, y: to.y + 0.5 };
        look.scale = Math.max(CLOSE, look.scale);
        bench.region = { x: to.x, y: to.y, width: 1, height: 1 };
        break;
      case 'region':
        bench.region = to.region;
        look.fit(to.region);
        break;
      case 'file':
        bench.panel = 'history';
        break;
      default:
        bench.panel = 'contents';
        contents.pick({ kind: to.type, id: to.id });
    }
  };
}
