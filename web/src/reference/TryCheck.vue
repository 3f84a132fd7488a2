<script setup lang="ts">
import { computed, ref, watch } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { AircraftType } from '@/schema/schemas'
import { rules } from '@/rules/rules'
import BandStrip from '@/shared/BandStrip.vue'
import StepTrace from '@/shared/StepTrace.vue'
import { shape } from '@/shared/words'

/** A reading of a check on a type, to drag until the verdict turns. */
type Reading = Record<string, unknown>
const props = defineProps<{
  check: string
  type: AircraftType
  sound: Reading
  conditions: Reading
  /** What is seen stands above what is dragged, in one narrow column. */
  stacked?: boolean
}>()
const reading = defineModel<Reading>({ required: true })
const attempt = ref(1)
watch([() => props.check, () => props.type.id, reading], ([check, id], [was, of]) => {
  if (check !== was || id !== of) attempt.value = 1
})
const shown = computed(() =>
  rules.show(props.check, props.type, reading.value, props.sound, props.conditions, attempt.value),
)

function reset() {
  reading.value = props.sound
  attempt.value = 1
}

/** A copy of the reading with one value replaced. */
function set(path: string, value: unknown) {
  const put = (of: unknown, [key, ...rest]: string[]): unknown => {
    if (key === undefined) return value
    const copy = (Array.isArray(of) ? [...of] : { ...(of as object) }) as Reading
    copy[key] = put(copy[key], rest)
    return copy
  }
  reading.value = put(reading.value, path.split('.')) as Reading
}
</script>

<template>
  <section :class="['try', { stacked }]" aria-label="Try it">
    <div class="drags">
      <label v-for="d in shown.drags" :key="d.path" class="drag">
        <span>{{ d.label }}</span>
        <AppInput
          type="range"
          :name="d.path"
          :min="d.min"
          :max="d.max"
          :step="d.step"
          :value="d.value"
          @input="set(d.path, Number(($event.target as HTMLInputElement).value))"
        />
        <b class="figure">{{ d.words }}</b>
      </label>
      <p class="flags">
        <AppButton
          v-for="f in shown.flags"
          :key="f.path"
          :class="{ chosen: f.on }"
          :aria-pressed="f.on"
          :data-flag="f.path"
          @click="set(f.path, !f.on)"
        >
          {{ f.label }}
        </AppButton>
        <AppButton
          :class="{ chosen: attempt > 1 }"
          data-action="second"
          @click="attempt = attempt > 1 ? 1 : 2"
        >
          second try
        </AppButton>
        <AppButton class="quiet" data-action="reset" @click="reset">as at first</AppButton>
      </p>
      <p class="soft small">Drag a reading and watch the verdict.</p>
    </div>
    <div class="seen">
      <StepTrace
        v-if="shown.trace"
        v-bind="shown.trace"
        :bare="stacked"
        :unit="shown.unit"
        :wide="stacked ? 400 : 560"
        :high="stacked ? 200 : 240"
      />
      <BandStrip v-for="s in shown.strips" :key="s.label" :strip="s" :narrow="stacked" />
      <div v-if="shown.tiles.length" class="tiles">
        <p v-for="t in shown.tiles" :key="t.label">
          <span class="soft">{{ t.label }}</span>
          <b class="figure number">{{ t.value }}</b>
          <span class="soft">{{ t.limit }}</span>
          <b v-if="t.words" :class="t.state">{{ shape(t.state) }} {{ t.words }}</b>
        </p>
      </div>
      <p v-if="shown.refusal" class="problem">{{ shown.refusal }}</p>
      <template v-else-if="shown.verdict">
        <h2 :class="shown.state" data-part="verdict">{{ shape(shown.state) }} {{ shown.words }}</h2>
        <p v-for="f in shown.verdict.findings" :key="f.code + f.side">{{ f.message }}</p>
        <p v-if="shown.verdict.causes.length" class="soft">
          Most often: {{ shown.verdict.causes.map((c) => c.message).join(' ') }}
        </p>
        <p v-for="a in shown.verdict.actions" :key="a.code">→ {{ a.message }}</p>
      </template>
    </div>
  </section>
</template>

<style scoped>
.try {
  display: grid;
  grid-template-columns: minmax(0, 9fr) minmax(0, 11fr);
  gap: 28px;
  background: var(--sheet);
  border: 1px solid var(--hair);
  padding: 12px 16px;
}

.try.stacked {
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
  border: 0;
  padding: 0;
  background: transparent;
}

.stacked .seen {
  order: -1;
}

h2 {
  font-size: 19px;
  font-weight: 700;
  margin-top: 10px;
}

.tiles {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(130px, 1fr));
  gap: 8px;
  padding: 8px 0;
}

.tiles p {
  display: grid;
  line-height: 1.25;
}

.number {
  font-size: 26px;
}

.stacked .number {
  font-size: 22px;
}

.drag {
  display: grid;
  grid-template-columns: 130px minmax(0, 1fr) 110px;
  gap: 10px;
  align-items: center;
  min-height: 40px;
}

.stacked .drag {
  grid-template-columns: 100px minmax(0, 1fr) 84px;
}

.drag b {
  text-align: right;
}

input[type='range'] {
  accent-color: var(--ink);
  min-height: 40px;
  min-width: 0;
}

.flags {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

.flags button {
  min-height: 40px;
  padding: 2px 10px;
  border-color: var(--hair);
}

@media (max-width: 900px) {
  .try {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
