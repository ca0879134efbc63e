<script setup lang="ts">
import { computed, onBeforeUnmount, onMounted, ref } from 'vue';
import { RouterLink, useRouter } from 'vue-router';
import Button from 'primevue/button';
import InputText from 'primevue/inputtext';
import { isFrameFile } from '@dusting/core/frames';
import { isSceneFile } from '@dusting/core/scene';
import { api } from '../api.ts';
import ConfirmButton from '../parts/ConfirmButton.vue';
import { findingsOf, isMeasured } from '../proofs/findingsOf.ts';
import ProofThumb from '../proofs/ProofThumb.vue';
import { useBench } from '../stores/bench.ts';
import { followEvents } from '../stores/events.ts';
import { useShots } from '../stores/shots.ts';
import { DEFECT_SIGNS, FINDING_SIGNS, FRAME_FILES, lightnessUnits, proofName, seconds } from '../words.ts';

const shots = useShots();
const bench = useBench();
const files = ref<File[]>([]);
const name = ref('');
const over = ref(false);
const input = ref<HTMLInputElement>();
let stop: () => void;
const shared = ref(false);
async function leave() {
  await api.closeSession();
  location.reload();
}
onMounted(() => {
  void shots.load();
  void api.isShared().then(
    (is) => (shared.value = is),
    () => {}, // the list of shots says what is wrong
  );
  stop = followEvents({
    notice: () => void shots.load(),
    state: (connected) => connected && void shots.load(),
    importing: shots.hear,
  });
});
onBeforeUnmount(() => stop());
const scene = computed(() => files.value.find((f) => isSceneFile(f.name)));
const frames = computed(() => files.value.filter((f) => isFrameFile(f.name)).length);
/** Nobody has marked anything yet. */
const isNew = computed(
  () => (shots.rows ?? []).length > 0 && shots.rows!.every((s) => s.defects.length === 0 && s.proofs <= 1),
);
const ready = computed(() => scene.value !== undefined || frames.value > 0);

function take(list: FileList | null | undefined) {
  over.value = false;
  const known = new Map(files.value.map((f) => [f.name, f]));
  for (const file of list ?? []) known.set(file.name, file);
  files.value = [...known.values()];
  const first = scene.value ?? files.value.find((f) => isFrameFile(f.name));
  if (first && !name.value) name.value = first.name.replace(/([._-]\d+)?\.[^.]*$/, '');
}
const router = useRouter();
/** What was brought in is opened: what it holds that is not supported stands in its history. */
async function add() {
  const added = await shots.add(files.value, name.value);
  if (!added) return;
  if (added.unsupported.length > 0) bench.panel = 'history';
  await router.push(`/shots/${added.id}`);
}
function clear() {
  files.value = [];
  name.value = '';
  shots.error = '';
}
</script>

<template>
  <main>
    <header>
      <h1>Dusting</h1>
      <p class="dim">Find out why a render is noisy or black, settle its settings, and send it off.</p>
      <Button
        v-if="shared"
        class="leave"
        label="Close the session"
        text
        severity="secondary"
        title="This browser asks for the access token again"
        data-test="leave"
        @click="leave"
      />
    </header>
    <section>
      <h2>Shots</h2>
      <p v-if="isNew" class="begin" data-test="begin">
        Begin with a demo shot: open its bench, drag over what looks wrong in the picture, and say what it is.
      </p>
      <p v-if="shots.rows === null && !shots.error" class="dim">Asking the server …</p>
      <p v-else-if="shots.rows?.length === 0" class="dim">No shots yet. Bring in a scene, or frames, below.</p>
      <table v-else-if="shots.rows" class="shots">
        <thead>
          <tr>
            <th></th>
            <th>Shot</th>
            <th>Last proof</th>
            <th>Noise</th>
            <th>Time a frame</th>
            <th>Open defects</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in shots.rows" :key="s.id" :data-test="`shot-${s.name}`">
            <td class="thumb">
              <RouterLink :to="`/shots/${s.id}`" :aria-label="`Open ${s.name}`"
                ><ProofThumb
                  v-if="s.lastProof"
                  :key="s.lastProof.id"
                  :proof="s.lastProof"
                  :width="160"
                  :height="90"
                /><ProofThumb
                  v-else-if="s.underWay"
                  :key="`under-way-${s.underWay.id}`"
                  :proof="s.underWay"
                  :width="160"
                  :height="90"
                /><span v-else class="none dim">no proof yet</span></RouterLink
              >
            </td>
            <td>
              <b>{{ s.name }}</b><br /><span class="dim"
                >{{ s.frames ? 'frames, no scene' : `revision ${s.revision}` }}, {{ s.final.width }} ×
                {{ s.final.height }} px</span
              >
            </td>
            <td>
              {{ s.lastProof ? proofName(s.lastProof) : s.underWay ? `${proofName(s.underWay)} is rendering` : '–'
              }}<br /><span class="dim">{{ s.proofs }} in all</span>
            </td>
            <td data-test="shot-noise">
              <template v-if="s.lastProof?.noise != null">
                <span class="number">{{
                  isMeasured(s.lastProof) ? lightnessUnits(s.lastProof.noise) : 'not measured'
                }}</span><br />
                <span
                  v-if="findingsOf(s.lastProof)[0]?.severity === 'error'"
                  class="dim"
                  :title="findingsOf(s.lastProof)[0].text"
                  data-test="shot-finding"
                  >{{ FINDING_SIGNS.error }} {{ findingsOf(s.lastProof)[0].short }}</span
                >
                <span v-else-if="isMeasured(s.lastProof)" class="dim"
                  >{{ s.lastProof.noise <= s.noise.limit ? '✓ within' : '▲ above' }} the limit of
                  {{ lightnessUnits(s.noise.limit) }}</span
                >
              </template>
              <span v-else class="dim">limit {{ lightnessUnits(s.noise.limit) }}</span>
            </td>
            <td class="number">{{ s.lastProof?.seconds != null ? seconds(s.lastProof.seconds) : '–' }}</td>
            <td>
              <span v-if="s.defects.length === 0" class="dim">none</span>
              <span v-for="d in s.defects" :key="d.number" class="defect"
                >{{ DEFECT_SIGNS[d.kind].sign }} {{ DEFECT_SIGNS[d.kind].name }}</span
              >
            </td>
            <td>
              <RouterLink :to="`/shots/${s.id}`" class="open" :data-test="`open-${s.name}`">Open the bench</RouterLink>
              <ConfirmButton
                label="Delete …"
                :question="`Delete ${s.name}${s.proofs === 0 ? '' : s.proofs === 1 ? ' with its proof' : ` with its ${s.proofs} proofs`}? This cannot be undone.`"
                yes="Delete the shot"
                :test-id="`delete-${s.name}`"
                @confirm="shots.remove(s.id)"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </section>
    <section
      class="import"
      :class="{ over }"
      @dragover.prevent="over = true"
      @dragleave="over = false"
      @drop.prevent="take($event.dataTransfer?.files)"
    >
      <h2>New shot from a scene, or from frames</h2>
      <p class="dim">
        Drop a .glb, or a .gltf or .obj with its files; a settings file (.json) and the pictures that it names may come
        along. Or drop frames that any renderer wrote (EXR with its layers, or a PNG, HDR or TIFF for each layer), with
        their log: files of one number make one frame.
      </p>
      <div class="row">
        <Button label="Choose files" severity="secondary" @click="input?.click()" />
        <input
          ref="input"
          type="file"
          multiple
          hidden
          data-test="files"
          :accept="`.glb,.gltf,.obj,.mtl,.bin,.json,${FRAME_FILES}`"
          @change="take(($event.target as HTMLInputElement).files)"
        />
        <template v-if="files.length > 0">
          <span>{{ files.length > 4 ? `${files.length} files` : files.map((f) => f.name).join(', ') }}</span>
          <InputText v-model="name" aria-label="Name of the shot" placeholder="Name of the shot" />
          <Button
            :label="shots.importing === null ? 'Bring it in' : `Bringing it in … ${shots.importing} s`"
            :loading="shots.importing !== null"
            :disabled="!ready || !name.trim()"
            data-test="import"
            @click="add"
          />
          <Button
            v-if="shots.importing !== null"
            label="Cancel"
            text
            severity="secondary"
            data-test="cancel-import"
            @click="shots.cancelImport"
          />
          <Button v-else label="Clear" text severity="secondary" @click="clear" />
        </template>
      </div>
      <p v-if="shots.importing !== null" class="dim" role="status" data-test="import-stage">{{ shots.stage }}</p>
      <p v-if="files.length > 0 && !ready" class="message">
        None of these is a scene or a frame: choose a .glb, .gltf or .obj, or an EXR or PNG, as well.
      </p>
      <p v-else-if="files.length > 0 && !scene" class="dim">
        No scene among them: they become a shot of frames, to be looked at, measured and compared.
      </p>
      <p v-if="shots.error" class="message" role="alert" data-test="import-error">{{ shots.error }}</p>
    </section>
  </main>
</template>

<style scoped>
main {
  max-width: 1180px;
  margin: 0 auto;
  padding: 22px 28px;
  display: flex;
  flex-direction: column;
  gap: 22px;
}
header {
  display: flex;
  align-items: baseline;
  gap: 16px;
}
.leave {
  margin-left: auto;
}
h1 {
  font-size: 21px;
  font-weight: 700;
  color: var(--wax);
}
h2 {
  font-size: 15px;
  margin-bottom: 8px;
}
.shots td {
  padding: 8px 14px 8px 0;
}
.thumb {
  width: 174px;
}
.begin {
  margin-bottom: 8px;
}
.none {
  display: grid;
  place-items: center;
  width: 160px;
  height: 90px;
  background: var(--wall);
}
.defect {
  margin-right: 12px;
  white-space: nowrap;
}
.open {
  color: #1d1d1d;
  background: var(--wax);
  padding: 5px 12px;
  text-decoration: none;
  font-weight: 600;
  white-space: nowrap;
}
.import {
  border: 1px dashed #5e5e5e;
  padding: 14px 16px;
}
.over {
  border-color: var(--wax);
  background: #3d3d3d;
}
.row {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-top: 8px;
}
.message {
  border-left: 3px solid var(--wax);
  padding-left: 8px;
  margin-top: 10px;
}
</style>
