<script setup lang="ts">
import Button from 'primevue/button';
import { useBench } from '../stores/bench.ts';
import { useEdits } from '../stores/edits.ts';
import { ago, megabytes, MEMORY_NAMES, proofName, seconds } from '../words.ts';
import ConfirmButton from './ConfirmButton.vue';
import ProofNotes from './ProofNotes.vue';

const bench = useBench();
const edits = useEdits();
const change = (patch: { path: string; value?: unknown }[]) =>
  patch
    .map((o) => `${o.path.slice(1).replaceAll('/', '.')} → ${JSON.stringify(o.value)}`)
    .slice(0, 6)
    .join(', ');
</script>

<template>
  <section v-if="bench.shot" class="panel">
    <ProofNotes />
    <h2>Revisions</h2>
    <div v-for="r in bench.shot.revisions" :key="r.number" class="revision" :data-test="`revision-${r.number}`">
      <p>
        <b>{{ r.number }}</b> {{ r.reason }}
      </p>
      <p class="dim">
        {{ ago(r.createdAt) }}<template v-if="r.patch.length > 0"> · {{ change(r.patch as never) }}</template>
      </p>
      <Button
        v-if="r.number !== bench.shot.revision"
        label="Return to this"
        size="small"
        text
        severity="secondary"
        @click="edits.revert(r.number)"
      />
      <p v-else class="dim">present</p>
    </div>
    <template v-if="bench.proof?.log.length">
      <h2>Log of {{ proofName(bench.proof) }}</h2>
      <p v-for="(line, i) in bench.proof.log" :key="i">
        {{ { note: '·', warning: '▲', error: '✕' }[line.level] }} {{ line.text }}
      </p>
    </template>
    <template v-if="bench.proof?.statistics">
      <h2>Statistics of {{ proofName(bench.proof) }}</h2>
      <table>
        <tbody>
          <tr v-for="(count, type) in bench.proof.statistics.rays" :key="type">
            <td>{{ type }} rays</td>
            <td class="number">{{ count.toLocaleString('en') }}</td>
          </tr>
          <tr>
            <td>samples</td>
            <td class="number">{{ bench.proof.statistics.samples.toLocaleString('en') }}</td>
          </tr>
          <tr>
            <td>time a frame</td>
            <td class="number">{{ seconds(bench.proof.seconds ?? 0) }}</td>
          </tr>
          <tr v-for="(bytes, kind) in bench.proof.memory" :key="kind">
            <td>memory: {{ MEMORY_NAMES[kind] }}</td>
            <td class="number">{{ megabytes(bytes) }}</td>
          </tr>
        </tbody>
      </table>
    </template>
    <a v-if="bench.proof?.state === 'done'" :href="`/api/proofs/${bench.proof.id}/file`" download
      >Save {{ proofName(bench.proof) }} as OpenEXR</a
    >
    <ConfirmButton
      v-if="bench.proof"
      :label="`Delete ${proofName(bench.proof)} …`"
      :question="`Delete ${proofName(bench.proof)} with its layers and diagnoses? This cannot be undone.`"
      :yes="`Delete ${proofName(bench.proof)}`"
      test-id="delete-proof"
      @confirm="bench.removeProof(bench.proof.id)"
    />
    <template v-if="bench.shot.unsupported.length > 0">
      <h2>Not supported in this scene</h2>
      <p v-for="(u, i) in bench.shot.unsupported" :key="i">
        {{ u.feature }} at {{ u.place }}: <span class="dim">{{ u.effect }}</span>
      </p>
    </template>
  </section>
</template>

<style scoped>
.revision {
  border-bottom: 1px solid var(--line);
  padding-bottom: 6px;
}
a {
  color: var(--wax);
}
</style>
