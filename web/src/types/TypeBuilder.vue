<script setup lang="ts">
import { computed, nextTick, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue'

import { api, take } from '@/api/client'
import type { AircraftType, Described, Version } from '@/schema/schemas'
import { ready, RuleError, rules } from '@/rules/rules'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { inWords } from '@/shared/errors'
import BasicsPart from '@/types/BasicsPart.vue'
import CockpitPlan from '@/types/CockpitPlan.vue'
import GaugesPart from '@/types/GaugesPart.vue'
import NamesPart from '@/types/NamesPart.vue'
import NumberRows from '@/types/NumberRows.vue'
import PartList from '@/types/PartList.vue'
import PowerGrid from '@/types/PowerGrid.vue'
import PrimeRows from '@/types/PrimeRows.vue'
import SeenPanel from '@/types/SeenPanel.vue'
import StartingList from '@/types/StartingList.vue'
import WindsFuelPart from '@/types/WindsFuelPart.vue'

/** A type being described from its handbook: what is asked, what was typed, what it does. */
const props = defineProps<{ type: AircraftType; versions: Version[]; readonly: boolean }>()
const emit = defineEmits<{ change: [what: string, type: AircraftType] }>()
const at = ref('basics')
const loaded = ref(false)
const older = shallowRef<AircraftType | null>(null)
const problem = ref('')
/** What is wrong with a text that could not be read, by its path. */
const refused = ref<Record<string, string>>({})

onMounted(async () => {
  await ready('rules')
  loaded.value = true
})
/** What it is compared with: the version before, or what it was described from. */
const against = computed(() => {
  const before = props.versions
    .filter((v) => v.kind === 'type' && v.id === props.type.id && v.version < props.type.version)
    .sort((a, b) => b.version - a.version)[0]
  const from = props.type.handbook?.from
  if (before) return { id: before.id, version: before.version }
  return from && !from.blank ? { id: from.type, version: from.version } : null
})
watch(
  () => against.value && `${against.value.id} ${against.value.version}`,
  async () => {
    older.value = null
    if (!against.value) return
    try {
      const view = await take(
        api.GET('/api/v1/library/{kind}/{id}/{version}', {
          params: { path: { kind: 'type', ...against.value } },
        }),
      )
      older.value = view.document as AircraftType
    } catch (e) {
      problem.value = inWords(e)
    }
  },
  { immediate: true },
)

const sheet = computed<Described | null>(() => (loaded.value ? rules.sheet(props.type, older.value) : null))
/** What is asked comes into sight when another part is opened. */
const asking = useTemplateRef<HTMLElement>('asking')
watch(at, async () => {
  await nextTick()
  const top = asking.value?.getBoundingClientRect().top ?? 0
  if (top < 0 || top > innerHeight * 0.6) asking.value?.scrollIntoView({ block: 'start' })
})
const part = computed(() => sheet.value?.parts.find((p) => p.id === at.value))

/** One edit of a number; what cannot be read stays beside its box. */
function number(edit: Parameters<typeof rules.number>[1]) {
  try {
    emit('change', edit.path, rules.number(props.type, edit))
    refused.value = { ...refused.value, [edit.path]: '' }
  } catch (e) {
    if (!(e instanceof RuleError)) throw e
    refused.value = { ...refused.value, [edit.path]: e.reason }
  }
}
function asked(check: string, on: boolean) {
  emit('change', `ask ${check}`, rules.ask(props.type, check, on))
  at.value = !on ? 'basics' : part.value?.fitted?.some((f) => f.check === check) ? check : `limits.${check}`
}
const change = (what: string, type: AircraftType) => emit('change', what, type)
</script>

<template>
  <ProblemNotice v-model="problem" />
  <div v-if="sheet" class="builder">
    <PartList v-model="at" :sheet="sheet" :type="type" :readonly="readonly" @ask="asked" />
    <div ref="asking" class="asked office">
      <BasicsPart v-if="at === 'basics'" :type="type" :readonly="readonly" @change="change" />
      <StartingList v-else-if="at === 'list'" :type="type" />
      <CockpitPlan v-else-if="at === 'cockpit'" :type="type" :readonly="readonly" @change="change" />
      <NamesPart
        v-else-if="at === 'cautions'"
        :type="type"
        of="cautions"
        :readonly="readonly"
        @change="change"
      />
      <template v-else>
        <NumberRows
          v-if="part"
          :part="part"
          :refused="refused"
          :readonly="readonly"
          @edit="number"
          @leave-off="asked(part.check || part.id, false)"
          @ask="asked($event, true)"
        />
        <GaugesPart v-if="at === 'limits.gauges'" :type="type" :readonly="readonly" @change="change" />
        <NamesPart
          v-if="at === 'speeds' || at === 'durations'"
          :type="type"
          :of="at"
          :readonly="readonly"
          @change="change"
        />
        <WindsFuelPart
          v-if="at === 'winds' || at === 'fuel' || at === 'minimums'"
          :type="type"
          :of="at"
          :readonly="readonly"
          @change="change"
        />
        <PowerGrid v-if="at === 'power'" :type="type" :readonly="readonly" @change="change" />
        <PrimeRows v-if="at === 'prime'" :type="type" :readonly="readonly" @change="change" />
      </template>
    </div>
    <SeenPanel :sheet="sheet" :type="type" :part="part" :older="older" @go="at = $event" />
  </div>
</template>

<style scoped>
.builder {
  display: grid;
  grid-template-columns: 250px minmax(0, 1fr) 400px;
  gap: 28px;
  align-items: start;
}

@media (max-width: 1150px) {
  .builder {
    grid-template-columns: 200px minmax(0, 1fr);
    gap: 18px;
  }

  .builder > :last-child {
    grid-column: 1 / -1;
  }
}

@media (max-width: 640px) {
  .builder {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
