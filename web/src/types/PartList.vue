<script setup lang="ts">
import { computed } from 'vue'

import AppButton from '@/base/AppButton.vue'
import type { AircraftType, Described } from '@/schema/schemas'
import PartEntry from '@/types/PartEntry.vue'
import SearchSelect from '@/shared/SearchSelect.vue'

/** Every part of a description: a tick for each number, how many lack, and what can be judged. */
const props = defineProps<{ sheet: Described; type: AircraftType; readonly: boolean }>()
const at = defineModel<string>({ required: true })
const emit = defineEmits<{ ask: [check: string, asked: boolean] }>()
const checks = computed(() => props.sheet.parts.filter((p) => p.check || p.equipment))
const others = computed(() => props.sheet.parts.filter((p) => !p.check && !p.equipment))
const more = computed(() =>
  [...props.sheet.leftOff, ...props.sheet.more].map((a) => [a.check, a.title] as const),
)
const pages = computed(() => [
  ...(props.type.winds ? [] : [['winds', 'Winds']]),
  ...(props.type.minimums?.length ? [] : [['minimums', 'Waited for']]),
  ...(props.type.fuel ? [] : [['fuel', 'Fuel']]),
  ...(props.type.prime ? [] : [['prime', 'Preparing a start']]),
  ['cockpit', 'Places in the cockpit'],
  ...(props.type.power ? [] : [['power', 'Power by height and heat']]),
  ['cautions', 'Cautions'],
  ['list', 'Starting list'],
])
</script>

<template>
  <nav class="parts" aria-label="Parts of the description">
    <AppButton :class="['quiet', 'entry', { on: at === 'basics' }]" data-at="basics" @click="at = 'basics'">
      What it is
    </AppButton>
    <p class="soft small" data-part="given">{{ sheet.given }} of {{ sheet.of }} numbers are given</p>
    <h3 class="ruled">Checks</h3>
    <PartEntry v-for="p in checks" :key="p.id" :part="p" :here="at === p.id" @open="at = p.id" />
    <p class="judged">
      <b :class="sheet.judged === sheet.checks ? 'within' : 'attend'" data-part="judged"
        >can be judged: {{ sheet.judged }} of {{ sheet.checks }}</b
      >
      <span v-if="sheet.judged < sheet.checks" class="soft small"
        >a check without its limits is left off the list, and says so</span
      >
      <span v-for="a in sheet.leftOff" :key="a.check" class="soft small"
        >{{ a.title }} is left off: the handbook gives no limits</span
      >
    </p>
    <SearchSelect
      v-if="!readonly && more.length"
      model-value=""
      name="ask-check"
      label="a check to add"
      :options="more"
      none="add a check"
      @update:model-value="emit('ask', String($event), true)"
    />
    <h3 class="ruled">And besides</h3>
    <PartEntry v-for="p in others" :key="p.id" :part="p" :here="at === p.id" @open="at = p.id" />
    <AppButton
      v-for="[id, title] in pages"
      :key="id"
      :class="['quiet', 'entry', { on: at === id }]"
      :data-at="id"
      @click="at = id!"
    >
      {{ title }}
    </AppButton>
  </nav>
</template>

<style scoped>
.parts {
  display: flex;
  flex-direction: column;
}

h3 {
  margin: 8px 0 2px;
}

.parts :deep(.entry) {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto 22px;
  gap: 6px;
  align-items: center;
  text-align: left;
  border-left: 3px solid transparent;
  min-height: 38px;
  line-height: 1.2;
}

.parts :deep(.entry.on) {
  border: 0;
  border-left: 3px solid var(--ink);
  background: var(--live);
}

.judged {
  display: grid;
  padding: 8px 0;
  line-height: 1.3;
}
</style>
