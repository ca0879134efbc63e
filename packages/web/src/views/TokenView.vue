<script setup lang="ts">
// Asks for the access token of a server that several people use.
import { ref } from 'vue';
import Button from 'primevue/button';
import Password from 'primevue/password';
import { api } from '../api.ts';

const token = ref('');
const error = ref('');
const busy = ref(false);
async function open() {
  busy.value = true;
  error.value = '';
  try {
    await api.openSession(token.value.trim());
    // what was asked before was refused: the page begins once more, at the same address
    location.reload();
  } catch (problem) {
    error.value = (problem as Error).message;
    busy.value = false;
  }
}
</script>

<template>
  <main>
    <h1>Dusting</h1>
    <form @submit.prevent="open">
      <label for="token">Access token of this server</label>
      <div class="row">
        <Password
          v-model="token"
          input-id="token"
          autofocus
          :feedback="false"
          :disabled="busy"
          :input-props="{ autocomplete: 'current-password' }"
        />
        <Button type="submit" label="Open" :loading="busy" :disabled="!token.trim()" data-test="token-open" />
      </div>
      <p v-if="error" class="message" role="alert" data-test="token-error">{{ error }}</p>
      <p class="dim">
        Ask whoever started this server: it was started with DUSTING_TOKEN. You stay signed in until the browser is
        closed.
      </p>
    </form>
  </main>
</template>

<style scoped>
main {
  max-width: 460px;
  margin: 18vh auto 0;
  padding: 0 20px;
}
h1 {
  font-size: 21px;
  font-weight: 700;
  color: var(--wax);
  margin-bottom: 18px;
}
form {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.row {
  display: flex;
  gap: 10px;
}
.message {
  border-left: 3px solid var(--wax);
  padding-left: 8px;
}
</style>
