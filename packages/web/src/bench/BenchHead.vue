<script setup lang="ts">
// The line above the bench: which shot and proof, what went wrong, and the acts that are always at hand.
import { computed } from 'vue';
import { RouterLink } from 'vue-router';
import Button from 'primevue/button';
import { useBench } from '../stores/bench.ts';
import { useOutdated } from '../stores/outdated.ts';
import { usePreview } from '../stores/preview.ts';
import { useUndo } from '../stores/undo.ts';
import { PROOF_STATES, proofName } from '../words.ts';
import AddFrames from '../proofs/AddFrames.vue';
import RenderButtons from '../proofs/RenderButtons.vue';

/** Whether the model stands beside the picture, and the list of keys instead of the panels. */
const model = defineModel<boolean>('model', { required: true });
const keys = defineModel<boolean>('keys', { required: true });
const bench = useBench();
const preview = usePreview();
const undo = useUndo();
const outdated = useOutdated();
const since = computed(() => outdated.changes.get(bench.proofId ?? -1) ?? []);
</script>

<template>
  <header>
    <RouterLink to="/" class="home">Dusting</RouterLink>
    <span v-if="bench.shot" class="name"
      ><b>{{ bench.shot.name }}</b>
      <span v-if="!bench.isFrames" class="dim">revision {{ bench.shot.revision }}</span></span
    >
    <span v-if="bench.proof" class="dim shown" data-test="shown">
      {{ proofName(bench.proof) }}{{ bench.isFrames ? '' : `, ${bench.proof.use}`
      }}{{ bench.proof.state === 'done' ? '' : `: ${PROOF_STATES[bench.proof.state]}`
      }}<span v-if="since.length > 0" class="since" :title="since.join('\n')" data-test="outdated"
        >, ▲ out of date since revision {{ bench.proof.revision }}: {{ since[0]
        }}{{ since.length > 1 ? ` and ${since.length - 1} more` : '' }}</span
      >
    </span>
    <span v-if="!bench.connected" class="message">No connection to the server. Trying again; nothing is lost.</span>
    <span v-else-if="bench.full" class="message" role="alert" data-test="full"
      >The disk of the database is full: renders wait, and nothing new is stored. Make room on it, or delete
      proofs.</span
    >
    <span v-else-if="bench.error" class="message" role="alert" data-test="error"
      >{{ bench.error }} <button aria-label="Dismiss" @click="bench.error = ''">×</button></span
    >
    <span class="gap" />
    <Button
      v-tooltip.bottom="`${undo.last ? `Undo: ${undo.last.name}` : 'Nothing to undo'} (Ctrl+Z)`"
      label="Undo"
      text
      severity="secondary"
      size="small"
      :disabled="!undo.last"
      data-test="undo"
      @click="undo.undo()"
    />
    <Button
      v-tooltip.bottom="`${undo.next ? `Redo: ${undo.next.name}` : 'Nothing to redo'} (Ctrl+Shift+Z)`"
      label="Redo"
      text
      severity="secondary"
      size="small"
      :disabled="!undo.next"
      data-test="redo"
      @click="undo.redo()"
    />
    <RouterLink v-if="bench.done.length > 1" :to="`/shots/${bench.shot!.id}/sheet`" class="sheet" data-test="sheet"
      >Sheet</RouterLink
    >
    <Button
      v-if="!bench.isFrames"
      v-tooltip.bottom="'V. Shows every edit at once, computed here'"
      :label="preview.on ? '◉ Live' : 'Live'"
      text
      severity="secondary"
      size="small"
      :disabled="!bench.shot"
      :aria-pressed="preview.on"
      data-test="live"
      @click="preview.toggle()"
    />
    <Button
      v-if="!bench.isFrames"
      v-tooltip.bottom="'O. The scene in 3D beside the picture'"
      label="Model"
      text
      severity="secondary"
      size="small"
      :aria-pressed="model"
      data-test="model-toggle"
      @click="model = !model"
    />
    <Button label="Keys" text severity="secondary" size="small" @click="keys = !keys" />
    <AddFrames v-if="bench.isFrames" />
    <RenderButtons v-else />
  </header>
</template>

<style scoped>
header {
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 0 10px;
  border-bottom: 1px solid var(--line);
}
.home {
  color: var(--wax);
  font-weight: 700;
  text-decoration: none;
}
/* what the proof is called gives way, the acts do not */
:deep(.p-button) {
  flex: none;
}
.name {
  flex: none;
  white-space: nowrap;
}
.name .dim {
  margin-left: 8px;
}
.shown {
  min-width: 0;
  overflow: hidden;
  white-space: nowrap;
  text-overflow: ellipsis;
}
.sheet {
  font-size: 12.25px;
  color: var(--text);
  text-decoration: none;
}
.gap {
  flex: 1;
}
.message {
  border-left: 3px solid var(--wax);
  padding-left: 8px;
}
.message button {
  background: none;
  border: 0;
  color: inherit;
  cursor: pointer;
}
</style>
