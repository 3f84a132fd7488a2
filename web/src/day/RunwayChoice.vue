<script setup lang="ts">
import AppButton from '@/base/AppButton.vue'
import type { Schemas } from '@/schema/schemas'
import { shape } from '@/shared/words'

/** The runways with what the wind is on each; the one in use is chosen. */
defineProps<{ runways: Schemas['CalcSheet']['runways']; on?: string }>()
const emit = defineEmits<{ choose: [name: string] }>()
</script>

<template>
  <div class="runways" data-part="runways">
    <AppButton
      v-for="w in runways"
      :key="w.name"
      :class="['runway', { on: on === w.name }]"
      :data-runway="w.name"
      @click="emit('choose', w.name)"
    >
      <b class="figure">{{ w.name }}</b>
      <span>{{ w.along }}</span>
      <span>{{ w.across }}</span>
      <span :class="w.state">{{ shape(w.state) }} {{ w.words }}</span>
    </AppButton>
  </div>
</template>

<style scoped>
.runways {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(140px, 1fr));
  gap: 8px;
  margin: 10px 0;
}

.runway {
  display: grid;
  align-content: start;
  text-align: left;
  border-color: var(--hair);
  line-height: 1.3;
  font-size: 14px;
}

.runway.on {
  outline: 2px solid var(--ink);
  background: var(--live);
}

.runway b {
  font-size: 26px;
}
</style>
