<script setup lang="ts">
// What is kept with the shown proof: a note, whether it is pinned to the front of the shelf, whether it is the reference.
import { ref, watch } from 'vue';
import Button from 'primevue/button';
import Textarea from 'primevue/textarea';
import { useBench } from '../stores/bench.ts';
import { useEdits } from '../stores/edits.ts';
import { proofName } from '../words.ts';

const bench = useBench();
const edits = useEdits();
const note = ref('');
watch([() => bench.proofId, () => bench.proof?.note], () => (note.value = bench.proof?.note ?? ''), {
  immediate: true,
});
</script>

<template>
  <section v-if="bench.proof" class="panel">
    <h2>{{ proofName(bench.proof) }}</h2>
    <label for="proof-note">Note</label>
    <Textarea
      id="proof-note"
      v-model="note"
      rows="2"
      maxlength="2000"
      data-test="proof-note"
      @change="edits.changeProof(bench.proof, { note: note.trim() })"
    />
    <div class="acts">
      <Button
        v-tooltip.bottom="'Pinned proofs stand first on the shelf'"
        :label="bench.proof.pinned ? 'Unpin' : 'Pin'"
        size="small"
        severity="secondary"
        data-test="pin-proof"
        @click="edits.changeProof(bench.proof, { pinned: !bench.proof.pinned })"
      />
      <Button
        v-if="bench.proof.state === 'done'"
        v-tooltip.bottom="'The approved look: every other proof is measured against it'"
        :label="bench.shot?.reference === bench.proof.id ? 'No longer the reference' : 'Make it the reference'"
        size="small"
        severity="secondary"
        data-test="reference"
        @click="edits.setReference(bench.shot?.reference === bench.proof.id ? null : bench.proof.id)"
      />
    </div>
  </section>
</template>
