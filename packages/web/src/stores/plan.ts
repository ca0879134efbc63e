// The sampling plan of the open shot: what it is to reach, the pilot that it is predicted from, and what came of it.
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { useLocalStorage } from '@vueuse/core';
import { BOUNDS_DEFAULTS, type CountBounds, type PlanOption, type SamplingPlan } from '@dusting/core/plan';
import { api, Problem } from '../api.ts';
import { useBench } from './bench.ts';
import { useSlip } from './slip.ts';

export const usePlan = defineStore('plan', () => {
  const bench = useBench();
  const slip = useSlip();
  const share = useLocalStorage('dusting.planShare', 0.95);
  const bounds = useLocalStorage<CountBounds>('dusting.planBounds', { ...BOUNDS_DEFAULTS });
  const plan = shallowRef<SamplingPlan | null>(null);
  const pilot = ref<number | null>(null);
  const computing = ref(false);
  const fault = ref('');
  let asked = 0;

  const pilots = computed(() => bench.shot?.proofs.filter((p) => p.purpose === 'pilot') ?? []);
  /** A pilot that is waited for. */
  const running = computed(() => pilots.value.find((p) => ['queued', 'rendering', 'merging'].includes(p.state)));

  async function load() {
    const { shot, use, region } = bench;
    const mine = ++asked;
    fault.value = '';
    if (!shot || !pilots.value.some((p) => p.state === 'done' && p.use === use)) {
      plan.value = null;
      return;
    }
    computing.value = true;
    try {
      await bench.settled();
      const found = await api.plan(shot.id, { use, region, share: share.value, bounds: { ...bounds.value } });
      if (mine !== asked) return;
      plan.value = found.plan;
      pilot.value = found.pilot;
    } catch (problem) {
      if (mine !== asked) return;
      plan.value = null;
      // that there is no pilot of what the shot is now is no fault: one can be rendered
      if ((problem as Problem).status !== 404) fault.value = (problem as Problem).message;
    } finally {
      if (mine === asked) computing.value = false;
    }
  }
  watch(
    () =>
      bench.panel === 'plan' &&
      JSON.stringify([bench.shot?.id, bench.shot?.revision, bench.shot?.slip, bench.use, bench.region, share.value, bounds.value, bench.done.length]), // prettier-ignore
    (now) => now !== false && load(),
    { immediate: true },
  );

  /** Puts the counts of an option on the slip. */
  const take = ({ adaptive, counts }: PlanOption) =>
    slip.setAll([
      ...Object.entries(counts).map(([key, count]): [string, unknown] => [`/${bench.use}/${key}`, count]),
      [`/${bench.use}/adaptive/limit`, adaptive.limit],
      [`/${bench.use}/adaptive/least`, adaptive.least],
    ]);

  return { share, bounds, plan, pilot, computing, fault, running, take };
});
