<script setup lang="ts">
import { computed } from 'vue'

import AppButton from '@/base/AppButton.vue'
import type { Place } from '@/lesson/places'
import { markTone, markWords } from '@/shared/words'

/** One line of a list; engines that are worked side by side stand on it together. */
const props = defineProps<{ mates: Place[]; soft?: boolean }>()
const emit = defineEmits<{ open: [item: string] }>()
const first = computed(() => props.mates[0]!)
const several = computed(() => props.mates.length > 1)
/** Of engines side by side the first that is not marked yet. */
const toOpen = computed(() => (props.mates.find((m) => !m.state.status) ?? first.value).item.id)
</script>

<template>
  <div :class="['line', { wide: several }]">
    <AppButton class="row" :data-row="first.item.id" @click="emit('open', toOpen)">
      <span class="figure soft">{{ first.number }}</span>
      <span>{{ several ? first.challenge : first.item.challenge }}</span>
      <span :class="{ soft }"
        >{{ first.item.response }}
        <b v-if="!several" :class="markTone(first.state.mark)">{{
          markWords[first.state.mark] ?? ''
        }}</b></span
      >
    </AppButton>
    <template v-if="several">
      <AppButton
        v-for="m in mates"
        :key="m.item.id"
        class="engine"
        :data-row="m.item.id"
        @click="emit('open', m.item.id)"
      >
        {{ m.engine }}<b :class="markTone(m.state.mark)">{{ markWords[m.state.mark] ?? '·' }}</b>
      </AppButton>
    </template>
  </div>
</template>

<style scoped>
.line {
  flex: none;
  display: flex;
  align-items: center;
}

.wide {
  padding-right: 24px;
}

.row {
  flex: 1 1 0;
  display: grid;
  grid-template-columns: 56px minmax(0, 1fr) minmax(0, 1fr);
  gap: 8px;
  align-items: center;
  min-height: 45px;
  padding: 2px 24px;
  border: 0;
  border-radius: 0;
  background: none;
  text-align: left;
  line-height: 1.2;
}

.engine {
  display: grid;
  min-height: 40px;
  width: 74px;
  padding: 0 4px;
  margin-left: 6px;
  border-color: var(--hair);
  font-size: 12px;
  line-height: 1.2;
}

@media (max-width: 560px) {
  .wide .row {
    grid-template-columns: 44px minmax(0, 1fr);
  }

  .wide .row > :last-child {
    display: none;
  }
}

@media (max-width: 800px) {
  .row {
    padding: 2px 12px;
  }
}
</style>
