<script setup lang="ts">
import Button from 'primevue/button';
import { plainNumber, type PathsEvidence, type Reference } from '@dusting/core/diagnose';
import { luminance } from '@dusting/core/color';
import type { Sketch } from '../stores/diagnosis.ts';

defineProps<{ evidence: PathsEvidence }>();
const emit = defineEmits<{ go: [to: Reference]; draw: [sketch: Sketch] }>();
const light = (rgb: number[]) => luminance(rgb[0], rgb[1], rgb[2]);
</script>

<template>
  <div v-for="(path, p) in evidence.paths" :key="p" class="path">
    <p>
      <button class="link" @click="emit('go', { type: 'pixel', x: path.x, y: path.y })">{{ path.label }}</button>
    </p>
    <ol>
      <li v-for="(v, i) in path.vertices" :key="i" :class="{ beyond: v.probe, marked: path.marked?.vertex === i }">
        <button class="link" @click="emit('go', { type: 'object', id: v.object, name: v.object })">
          {{ v.object }}
        </button>
        {{ v.lobe ?? (v.branch === null ? 'first surface' : 'ends here') }}
        <span class="dim"
          >{{ plainNumber(v.distance) }} m<template v-if="v.after"
            >, throughput {{ plainNumber(light(v.after)) }}</template
          ><template v-if="v.density > 0">, density {{ plainNumber(v.density) }} / sr</template></span
        >
        <strong v-if="path.marked?.vertex === i" data-test="marked-vertex"> ◆ {{ path.marked.text }}</strong>
        <span v-if="v.probe && !path.vertices[i - 1]?.probe"> from here on beyond the limit</span>
        <span v-for="(l, k) in v.lights.filter((found) => light(found.radiance) > 0)" :key="k" class="dim"
          >; {{ l.light }} brings {{ plainNumber(light(l.radiance))
          }}{{ l.cutBy ? `, cut off by ${l.cutBy}` : '' }}</span
        >
      </li>
    </ol>
    <Button
      label="Draw it in the model"
      size="small"
      severity="secondary"
      data-test="path-in-model"
      @click="emit('draw', { path: path.vertices.map((v) => v.position), rays: [] })"
    />
  </div>
  <p v-if="evidence.paths.length === 0" class="dim">No path to show.</p>
</template>

<style scoped>
.marked::marker {
  color: #d9b44a;
}
strong {
  display: block;
  font-weight: 600;
}
ol {
  margin: 4px 0;
  padding-left: 22px;
}
.beyond {
  color: #e8a87c;
}
</style>
