<script setup lang="ts">
import { computed } from 'vue'

import type { Schemas } from '@/schema/schemas'
import PanelControl from './PanelControl.vue'

/** The lamps, and the controls by where they stand, in the order of the flow. */
const props = defineProps<{
  panel: Schemas['StandPanel']
  stands: number[]
  lamps: boolean[]
  /** The controls that the next step is worked with. */
  wanted: string[]
  /** Nobody's hand is on them here. */
  idle: boolean
}>()
const emit = defineEmits<{ move: [control: number, value: number] }>()
const groups = computed(() => {
  const out: { name: string; controls: { at: number; control: Schemas['StandPanelControl'] }[] }[] = []
  props.panel.controls.forEach((control, at) => {
    if (out.at(-1)?.name !== control.group) out.push({ name: control.group, controls: [] })
    out.at(-1)!.controls.push({ at, control })
  })
  return out
})
</script>

<template>
  <p v-if="panel.lamps.length" class="lamps">
    <span v-for="(l, i) in panel.lamps" :key="l.id + l.engine" :class="lamps[i] ? 'attend' : 'soft'"
      >{{ lamps[i] ? '▲' : '○' }} {{ l.label }}</span
    >
  </p>
  <div class="groups" :inert="idle">
    <div
      v-for="g in groups"
      :key="g.name"
      :class="['group', { whole: g.controls.some((c) => c.control.kind === 'lever') }]"
    >
      <span class="soft small">{{ g.name }}</span>
      <div class="controls">
        <PanelControl
          v-for="c in g.controls"
          :key="c.at"
          :class="{ wanted: wanted.includes(c.control.control) }"
          :control="c.control"
          :at="stands[c.at]!"
          @move="emit('move', c.at, $event)"
        />
      </div>
    </div>
  </div>
</template>

<style scoped>
.lamps {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 20px;
}

.groups {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 24px;
}

.whole {
  flex-basis: 100%;
}

.controls {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: end;
}

.wanted {
  outline: 3px solid var(--attend);
  outline-offset: 2px;
}
</style>
