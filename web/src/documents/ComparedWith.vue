<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'

import { api, take } from '@/api/client'
import type { Version } from '@/schema/schemas'
import { ready } from '@/rules/rules'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import SearchSelect from '@/shared/SearchSelect.vue'
import { useTrying } from '@/shared/trying'
import { statusWords } from '@/shared/words'

/** Which version a document is read beside; what is drawn of both stands in the slot. */
const props = defineProps<{
  kind: string // list or pack
  id: string
  version: number
  versions: Version[]
}>()
defineSlots<{ default(props: { older: object }): unknown }>()
const { problem, tried } = useTrying()
const key = (v: Version) => `${v.id} ${v.version}`
const itself = computed(() =>
  props.versions.find((v) => v.kind === props.kind && v.id === props.id && v.version === props.version),
)
const others = computed(() =>
  props.versions
    .filter(
      (v) => v.kind === props.kind && v.aircraftType === itself.value?.aircraftType && v !== itself.value,
    )
    .sort((a, b) => b.version - a.version),
)
const chosen = ref('')
const older = shallowRef<object | null>(null)
onMounted(() => tried(() => ready('rules')))
watch(
  others,
  () => {
    const before = others.value.find((v) => v.id === props.id && v.version < props.version)
    if (!others.value.some((v) => key(v) === chosen.value)) chosen.value = before ? key(before) : ''
  },
  { immediate: true },
)
watch(
  chosen,
  () =>
    tried(async () => {
      older.value = null
      const v = others.value.find((o) => key(o) === chosen.value)
      if (!v) return
      const path = { kind: props.kind as 'list', id: v.id, version: v.version }
      const [view] = await Promise.all([
        take(api.GET('/api/v1/library/{kind}/{id}/{version}', { params: { path } })),
        ready('rules'),
      ])
      if (key(v) === chosen.value) older.value = view.document as object
    }),
  { immediate: true },
)
</script>

<template>
  <div>
    <label class="with"
      >Compared with
      <SearchSelect
        v-model="chosen"
        name="compare"
        :options="others.map((v) => [key(v), `${v.title}, version ${v.version}, ${statusWords[v.status]}`])"
      />
    </label>
    <ProblemNotice v-model="problem" />
    <p v-if="!others.length" class="soft">There is no other version to compare with.</p>
    <slot v-else-if="older" :older />
  </div>
</template>

<style scoped>
.with {
  max-width: 560px;
}
</style>
