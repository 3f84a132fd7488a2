<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import AppButton from '@/base/AppButton.vue'
import type { AircraftType, Described, Schemas } from '@/schema/schemas'
import TryCheck from '@/reference/TryCheck.vue'
import { shape } from '@/shared/words'

/** What the description does: its bands with a reading to drag, what changed, what cannot be. */
const props = defineProps<{
  sheet: Described
  type: AircraftType
  part?: Schemas['HandbookPart']
  older: AircraftType | null
}>()
const emit = defineEmits<{ go: [part: string] }>()
const example = computed(() => (props.part?.check ? props.sheet.examples[props.part.check] : undefined))
const reading = ref<Record<string, unknown>>({})
watch(example, (now) => (reading.value = now?.reading ?? {}), { immediate: true })
/** Where a path is asked. */
const partOf = (path: string) =>
  props.sheet.parts.find((p) => p.rows.some((r) => `$.${r.path}` === path))?.id ??
  props.sheet.parts.find((p) => path.startsWith(`$.${p.id}`))?.id ??
  ['cockpit', 'power', 'winds', 'fuel', 'minimums'].find((p) => path.startsWith(`$.${p}`)) ??
  'basics'
</script>

<template>
  <aside class="seen">
    <template v-if="part?.check">
      <h3>What it does</h3>
      <TryCheck
        v-if="example"
        :key="part.check"
        v-model="reading"
        :check="part.check"
        :type="type"
        :sound="example.reading"
        :conditions="example.conditions"
        stacked
      />
      <p v-else class="soft">Cannot be judged yet. Missing: {{ part.lacks }} of {{ part.of }}.</p>
    </template>
    <template v-if="sheet.changed.length && older">
      <h3>Compared with the {{ older.name }}, version {{ older.version }}</h3>
      <p v-for="r in sheet.changed" :key="r.path" class="pair" :data-changed="r.path">
        <span>{{ r.label }}</span>
        <s class="figure soft">{{ r.was }}</s>
        <b class="figure">{{ r.text || '–' }}</b>
      </p>
    </template>
    <template v-if="sheet.problems.length">
      <h3 class="out">Not possible</h3>
      <p v-for="f in sheet.problems" :key="f.field + f.reason" data-part="impossible">
        <AppButton class="quiet" @click="emit('go', partOf(f.field))"
          >{{ shape('out') }} {{ f.reason }}</AppButton
        >
      </p>
    </template>
    <h3>Until a second person confirms it</h3>
    <p v-for="w in sheet.waits" :key="w" class="attend" data-part="waits">▲ {{ w }}</p>
    <p v-if="!sheet.waits.length" class="within">● everything is there: it can be held to its pages</p>
    <p class="soft small">The handbook governs; the licensed person decides.</p>
  </aside>
</template>

<style scoped>
.seen {
  background: var(--sheet);
  border-left: 1px solid var(--hair);
  padding: 4px 18px 18px;
  display: grid;
  gap: 4px;
  align-content: start;
}

h3 {
  font-weight: 700;
  border-bottom: 1px solid currentcolor;
  margin-top: 10px;
}

.pair {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 70px 70px;
  gap: 8px;
  line-height: 1.25;
}

.pair > :not(:first-child) {
  text-align: right;
}

.quiet {
  text-align: left;
  padding: 2px 0;
  line-height: 1.3;
}
</style>
