<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import type { AircraftType, List, Pack } from '@/schema/schemas'
import { ready, rules } from '@/rules/rules'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import { useTrying } from '@/shared/trying'

/** What a list shows of the standards, element by element; links are made where they are missing. */
const props = defineProps<{ list: List; type: AircraftType; readonly: boolean; packs?: Pack[] }>()
const emit = defineEmits<{ change: [what: string, list: List] }>()
const { problem, tried } = useTrying()
const standards = shallowRef<Pack[] | null>(props.packs ?? null)
const only = ref(false)
const loaded = ref(false)
onMounted(() =>
  tried(async () => {
    const [packs] = await Promise.all([props.packs ?? take(api.GET('/api/v1/standards')), ready('rules')])
    standards.value = packs
    loaded.value = true
  }),
)
const coverage = computed(() =>
  loaded.value ? rules.coverage(props.packs ?? standards.value!, props.list, props.type.class) : null,
)
const shown = computed(() =>
  (coverage.value?.elements ?? []).filter((e) => !only.value || !(e.items.length + e.asked.length)),
)
/** A heading stands where pack or task is another than above. */
const heading = (i: number) => {
  const [e, above] = [shown.value[i]!, shown.value[i - 1]]
  return !above || above.task !== e.task || above.pack !== e.pack ? `${e.pack}: ${e.task}` : ''
}
const items = computed(() => (coverage.value?.every ?? []).map((s) => [s.item, s.challenge] as const))
const link = (item: string, element: string, on: boolean) =>
  item && emit('change', `link ${item} ${element}`, rules.link(props.list, item, element, on))
</script>

<template>
  <section class="coverage" aria-label="Coverage">
    <ProblemNotice v-model="problem" />
    <template v-if="coverage">
      <p class="sum">
        <b :class="coverage.missing ? 'attend' : 'within'" data-part="missing">
          {{
            coverage.missing
              ? `▲ ${coverage.missing} of ${coverage.elements.length} elements are shown by no item`
              : `● every one of ${coverage.elements.length} elements is shown`
          }}
        </b>
        <span class="soft">{{ coverage.idle.length }} items show none</span>
        <AppButton class="quiet" :aria-pressed="only" data-action="only-missing" @click="only = !only">
          {{ only ? 'show all' : 'only what is missing' }}
        </AppButton>
      </p>
      <template v-for="(e, i) in shown" :key="e.pack + e.element">
        <h3 class="ruled" v-if="heading(i)">{{ heading(i) }}</h3>
        <div :class="['row', { bare: !(e.items.length + e.asked.length) }]" :data-element="e.element">
          <span class="figure small soft">{{ e.code }}</span>
          <span
            >{{ e.text }} <small class="soft">{{ e.kind }}</small></span
          >
          <span class="items">
            <span v-for="s in e.items" :key="s.item" class="item">
              {{ s.challenge }}
              <AppButton
                v-if="!readonly"
                class="quiet"
                :aria-label="`${s.challenge} shows it no longer`"
                @click="link(s.item, e.element, false)"
              >
                ×
              </AppButton>
            </span>
            <span v-for="s in e.asked" :key="`q ${s.item}`" class="item soft"
              >asked at {{ s.challenge }}</span
            >
            <SearchSelect
              v-if="!readonly"
              model-value=""
              :name="`link-${e.element}`"
              :label="`an item that shows: ${e.text}`"
              :options="items"
              none="+ item"
              @update:model-value="link(String($event), e.element, true)"
            />
            <span v-else-if="!(e.items.length + e.asked.length)" class="attend">▲ no item</span>
          </span>
        </div>
      </template>
      <template v-if="coverage.idle.length">
        <h3 class="ruled">Items that show none</h3>
        <p class="soft">{{ coverage.idle.map((s) => s.challenge).join(' · ') }}</p>
      </template>
    </template>
  </section>
</template>

<style scoped>
.sum {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  align-items: baseline;
}

.sum button {
  text-decoration: underline;
}

h3 {
  margin-top: 12px;
}

.row {
  display: grid;
  grid-template-columns: 90px minmax(0, 5fr) minmax(0, 7fr);
  gap: 12px;
  align-items: center;
  padding: 3px 0;
  border-bottom: 1px solid var(--fine);
  line-height: 1.3;
}

.bare {
  background: var(--live);
}

.items {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  align-items: center;
}

.items > :deep(.el-select) {
  width: 130px;
}

.item button {
  min-height: 32px;
  padding: 0 6px;
}

@media (max-width: 700px) {
  .row {
    grid-template-columns: minmax(0, 1fr);
    gap: 2px;
  }
}
</style>
