<script setup lang="ts">
// What the wall says while it does not show a proof as it was rendered.
import { computed } from 'vue';
import { GLOW, parameterAt, SKY } from '@dusting/core/scene';
import { useContents } from '../stores/contents.ts';
import { usePreview } from '../stores/preview.ts';

/** Differences from the final settings that are named. */
const MOST_NAMED = 3;

const preview = usePreview();
const contents = useContents();
const settingTitle = (path: string) => parameterAt(['final', ...path.split('.')])?.title ?? path;
const differs = computed(() => {
  const all = preview.differs;
  if (all.length === 0) return '';
  const named = all.slice(0, MOST_NAMED).map(({ path, old, new: now }) => `${settingTitle(path)} ${now} not ${old}`);
  const more = all.length - named.length;
  return `not final: ${named.join(', ')}${more > 0 ? ` and ${more} more` : ''}`;
});
const lightName = (id: string) =>
  id === SKY ? 'environment' : id === GLOW ? 'surfaces that shine' : (contents.document?.lights[id]?.name ?? id);
const isolated = computed(() => {
  const { lights, muted, objects, grey, noTextures, flat, bounces, noBackground } = preview.isolation;
  return [
    lights && `only ${lights.map(lightName).join(' and ')}`,
    muted.length > 0 && `without ${muted.map(lightName).join(' and ')}`,
    objects && (objects.length === 1 ? `only ${contents.document?.objects[objects[0]]?.name}` : `only ${objects.length} objects`),
    grey && 'grey surfaces',
    noTextures && 'no textures',
    flat && 'no normal and bump maps',
    bounces && { direct: 'direct light only', less: 'one bounce less', more: 'one bounce more' }[bounces],
    noBackground && 'no background',
  ].filter(Boolean); // prettier-ignore
});
</script>

<template>
  <p v-if="preview.isolating" class="isolated" data-test="isolated">
    ▲ Isolated, for looking only: {{ isolated.join(', ') }}
    <button data-test="isolated-end" @click="preview.endIsolation()">Show everything</button>
  </p>
  <p v-if="preview.fault" class="badge fault" role="alert" data-test="live-fault">
    ▲ The preview could not follow: {{ preview.fault }}
  </p>
  <p
    v-else
    class="badge"
    data-test="live-badge"
    :title="preview.differs.map((c) => `${settingTitle(c.path)}: ${c.new} instead of ${c.old}`).join('\n')"
  >
    <b>preview</b>, {{ preview.use }} settings{{ preview.paused ? ', paused' : ''
    }}{{ preview.denoised ? ', denoised' : '' }}
    <template v-if="preview.report">
      · {{ preview.report.least.frame }} of {{ preview.report.samples }} samples</template
    >
    <template v-if="differs"> · {{ differs }}</template>
  </p>
</template>

<style scoped>
.badge,
.isolated {
  position: absolute;
  max-width: calc(100% - 20px);
  background: rgb(30 30 30 / 88%);
  padding: 2px 8px;
}
.badge {
  left: 10px;
  bottom: 8px;
  font-size: 12.5px;
  pointer-events: none;
}
.fault {
  border-left: 3px solid var(--wax);
}
.isolated {
  top: 8px;
  left: 50%;
  transform: translateX(-50%);
  padding: 4px 12px;
  background: var(--wax);
  color: #1d1d1d;
  font-weight: 650;
  white-space: nowrap;
}
.isolated button {
  margin-left: 10px;
  border: 1px solid #1d1d1d;
  background: none;
  color: inherit;
  font: inherit;
  cursor: pointer;
}
</style>
