<script setup lang="ts">
defineEmits<{ close: [] }>();
const KEYS = [
  ['[ and ]', 'layer before, next layer'],
  ['E, Shift+E', 'half a stop more, less'],
  ['G, Shift+G', 'gamma up, down by a tenth'],
  ['S', 'shadow check: off, +1, +2 stops'],
  ['D', 'display transform: sRGB, Rec. 709, Display P3, photographic, raw'],
  ['N', 'the look without noise, or the picture as it is'],
  ['M', 'marks for clipped, negative and broken pixels'],
  ['C', 'colour, R, G, B, luminance, alpha'],
  ['I', 'lines of equal value: every stop, or every tenth'],
  ['W', 'comparing: one, wipe, blink, side by side, difference'],
  ['K', 'pin the pixel under the pointer, or let it go'],
  ['B', 'blink: the other one of the two'],
  ['Shift, drag the wipe', 'turn it'],
  ['0, 1', 'fit the picture, one to one'],
  ['+ and −', 'nearer, farther'],
  ['Space and drag, arrows', 'move the picture'],
  ['A', 'the whole picture as the region'],
  ['Shift+arrows, Alt+arrows', 'move the region, change its size'],
  ['H', 'only the picture'],
  ['L', 'copy a link that opens this view'],
  ['P', 'save the picture as seen (PNG)'],
  ['V', 'live preview, or the proof'],
  ['X, F', 'pause the preview, keep its picture to compare'],
  ['O', 'the model beside the picture'],
  ['R', 'render a proof'],
  ['T', 'try the slip'],
  ['Ctrl+Z, Ctrl+Shift+Z', 'undo, redo of every edit'],
  ['Escape', 'drop the region and the selection'],
];
</script>

<template>
  <aside class="keys">
    <header>
      <h2>Keys</h2>
      <button aria-label="Close the key list" @click="$emit('close')">×</button>
    </header>
    <table>
      <tbody>
        <tr v-for="[key, text] in KEYS" :key="key">
          <td class="number">{{ key }}</td>
          <td>{{ text }}</td>
        </tr>
      </tbody>
    </table>
  </aside>
</template>

<style scoped>
header {
  display: flex;
  justify-content: space-between;
  margin-bottom: 8px;
}
header button {
  background: none;
  border: 0;
  color: var(--text);
  font-size: 17px;
  cursor: pointer;
}
</style>
