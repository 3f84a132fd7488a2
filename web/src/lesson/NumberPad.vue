<script setup lang="ts">
import AppButton from '@/base/AppButton.vue'
import { firstBox } from '@/lesson/keys'

/** Large keys for the box that has the focus; they do not take it away. */
const open = defineModel<boolean>({ required: true })
const keys = ['7', '8', '9', '4', '5', '6', '1', '2', '3', '.', '0', '-']

const box = () => {
  const el = document.activeElement
  return el instanceof HTMLInputElement && el.closest('.boxes') ? el : null
}
function write(change: (text: string) => string) {
  const el = box() ?? firstBox()
  if (!el) return
  el.focus()
  const whole = el.selectionStart === 0 && el.selectionEnd === el.value.length
  el.value = change(whole ? '' : el.value) // what is selected is replaced, as by a key
  el.dispatchEvent(new Event('input', { bubbles: true }))
}
function next() {
  const all = Array.from(document.querySelectorAll<HTMLInputElement>('.boxes input:not(:disabled)'))
  all[(all.indexOf(box()!) + 1) % all.length]?.focus()
}
</script>

<template>
  <div class="padbox">
    <AppButton class="quiet" :aria-expanded="open" data-action="pad" @click="open = !open">
      {{ open ? 'hide the keys' : 'number keys' }}
    </AppButton>
    <div v-if="open" class="pad" @mousedown.prevent>
      <AppButton v-for="k in keys" :key="k" tabindex="-1" :data-key="k" @click="write((t) => t + k)">
        {{ k }}
      </AppButton>
      <AppButton tabindex="-1" data-key="back" @click="write((t) => t.slice(0, -1))">⌫</AppButton>
      <AppButton tabindex="-1" class="wide" data-key="next" @click="next">next box</AppButton>
    </div>
  </div>
</template>

<style scoped>
.padbox > .quiet {
  min-height: 24px;
  padding-block: 0;
  text-decoration: underline;
  color: var(--soft);
}

.pad {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 6px;
  max-width: 360px;
}

.pad button {
  font: 700 24px var(--figures);
  min-height: 56px;
}

.pad .wide {
  grid-column: span 2;
  font: inherit;
}
</style>
