<script setup lang="ts">
// The noise that the shot may keep, and the lift under which it is judged. Both go over the slip, like every setting.
import { computed, ref } from 'vue';
import { NOISE_LIMITS } from '@dusting/core/scene';
import { useSlip } from '../stores/slip.ts';
import ToolChoice from '../parts/ToolChoice.vue';
import QuantityInput from '../contents/QuantityInput.vue';

const slip = useSlip();
const noise = computed(() => slip.document?.noise);
const fault = ref('');
const LIMITS = (Object.keys(NOISE_LIMITS) as (keyof typeof NOISE_LIMITS)[]).map((key) => ({
  key,
  label: key,
  title: `${NOISE_LIMITS[key]} L*`,
}));
</script>

<template>
  <div v-if="noise" class="limit">
    <label for="noise-limit">Noise limit</label>
    <QuantityInput
      id="noise-limit"
      :value="noise.limit"
      :minimum="0.01"
      :maximum="50"
      unit="L*"
      data-test="noise-limit"
      :whole="false"
      @change="slip.set('/noise/limit', $event)"
      @fault="fault = $event"
    />
    <span class="dim">L*</span>
    <span class="segments" role="group" aria-label="Usual limits">
      <ToolChoice
        :items="LIMITS"
        :pressed="(key) => noise?.limit === NOISE_LIMITS[key]"
        test-id="limit"
        @press="slip.set('/noise/limit', NOISE_LIMITS[$event])"
      />
    </span>
    <label for="noise-stops">judged at</label>
    <QuantityInput
      id="noise-stops"
      :value="noise.stops"
      :minimum="0"
      :maximum="8"
      unit="EV"
      data-test="noise-stops"
      :whole="false"
      @change="slip.set('/noise/stops', $event)"
      @fault="fault = $event"
    />
    <span class="dim">EV</span>
    <p v-if="fault" class="fault">{{ fault }}</p>
  </div>
</template>

<style scoped>
.limit {
  display: grid;
  grid-template-columns: 76px 72px 1fr;
  gap: 4px 8px;
  align-items: center;
}
.segments {
  grid-column: 2 / 4;
}
</style>
