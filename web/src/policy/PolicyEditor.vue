<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { Policy, Schemas } from '@/schema/schemas'
import { ready, RuleError, rules } from '@/rules/rules'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useTrying } from '@/shared/trying'

/** A policy, decision by decision: what schools do and why, and what this one does. */
const props = defineProps<{ policy: Policy; version: number; readonly: boolean }>()
const emit = defineEmits<{ change: [what: string, policy: Policy] }>()
const { problem, tried } = useTrying()
const view = shallowRef<Schemas['PolicyView'] | null>(null)
const serving = shallowRef<Policy | null>(null)
const refused = ref<Record<string, string>>({})
const typing = ref<Record<string, string>>({})
onMounted(() =>
  tried(async () => {
    const [answer] = await Promise.all([take(api.GET('/api/v1/policy')), ready('rules')])
    if (answer.version !== props.version) {
      const path = { kind: 'policy' as const, id: 'policy', version: answer.version }
      const doc = await take(api.GET('/api/v1/library/{kind}/{id}/{version}', { params: { path } }))
      serving.value = doc.document as Policy
    }
    view.value = answer
  }),
)
const sheet = computed(() =>
  view.value ? rules.decisions(props.policy, view.value.known, serving.value) : null,
)
const groups = computed(() => [...new Set(sheet.value?.rows.map((r) => r.group))])

function decide(edit: Schemas['PolicyEdit']) {
  if (props.readonly) return
  try {
    emit('change', edit.path, rules.decide(props.policy, edit, view.value!.known))
    refused.value = { ...refused.value, [edit.path]: '' }
  } catch (e) {
    if (!(e instanceof RuleError)) throw e
    refused.value = { ...refused.value, [edit.path]: e.reason }
  }
}
type Row = Schemas['PolicyRow']
function choose(r: Row, id: string) {
  if (!r.several) return decide({ path: r.path, chosen: [id] })
  const chosen = r.chosen.includes(id) ? r.chosen.filter((c) => c !== id) : [...r.chosen, id]
  decide({ path: r.path, chosen })
}
function type(r: Row, e: Event) {
  const text = (e.target as HTMLInputElement).value
  typing.value = { ...typing.value, [r.path]: text }
  decide({ path: r.path, text })
}
function done(r: Row) {
  if (!refused.value[r.path])
    typing.value = Object.fromEntries(Object.entries(typing.value).filter(([path]) => path !== r.path))
}
</script>

<template>
  <ProblemNotice v-model="problem" />
  <div v-if="sheet" class="policy office">
    <p v-for="f in sheet.problems" :key="f.field" class="out">
      ■ {{ f.field.replace('$.', '') }} {{ f.reason }}
    </p>
    <section v-for="g in groups" :key="g" :aria-label="g">
      <h2>{{ g }}</h2>
      <div
        v-for="r in sheet.rows.filter((r) => r.group === g)"
        :key="r.path"
        class="row"
        :data-decision="r.path"
      >
        <div>
          <label :for="r.path"
            ><b>{{ r.label }}</b></label
          >
          <p class="soft">{{ r.words }}</p>
        </div>
        <div class="decided">
          <p v-if="!r.choices.length" class="number">
            <AppInput
              :id="r.path"
              type="text"
              inputmode="decimal"
              class="figure"
              :name="r.path"
              :value="typing[r.path] ?? r.text"
              :readonly="readonly"
              :aria-invalid="!!refused[r.path] || !!r.problem"
              @input="type(r, $event)"
              @change="done(r)"
            />
            <span class="soft">{{ r.unit }}</span>
          </p>
          <p v-else class="choices" role="group" :aria-label="r.label">
            <AppButton
              v-for="c in r.choices"
              :key="c.id"
              :class="{ chosen: r.chosen.includes(c.id) }"
              :aria-pressed="r.chosen.includes(c.id)"
              :disabled="readonly"
              :data-choice="`${r.path} ${c.id}`"
              @click="choose(r, c.id)"
            >
              {{ c.words }}
            </AppButton>
          </p>
          <p v-if="refused[r.path] || r.problem" class="out">■ {{ refused[r.path] || r.problem }}</p>
          <p v-else-if="r.was" class="attend small">≠ today: {{ r.was }}</p>
        </div>
      </div>
    </section>
  </div>
</template>

<style scoped>
.policy {
  display: grid;
  gap: 18px;
  max-width: 1040px;
}

h2 {
  font-size: 19px;
  font-weight: 700;
  border-bottom: 1px solid var(--ink);
}

.row {
  display: grid;
  grid-template-columns: minmax(0, 6fr) minmax(0, 5fr);
  gap: 4px 28px;
  padding: 10px 0;
  border-bottom: 1px solid var(--fine);
  line-height: 1.35;
}

.number {
  display: flex;
  gap: 10px;
  align-items: center;
}

.policy .number input[type='text'] {
  width: 110px;
  min-height: 44px;
  text-align: right;
  font-size: 18px;
  font-weight: 700;
}

.choices {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}

.choices button {
  min-height: 44px;
  padding: 4px 12px;
  border-color: var(--hair);
}

.choices button:disabled {
  opacity: 1;
}

.choices button:disabled:not(.chosen) {
  color: var(--soft);
}

@media (max-width: 700px) {
  .row {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
