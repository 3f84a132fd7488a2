<script setup lang="ts">
import { computed, ref, shallowRef, watch } from 'vue'

import { api, take, type List, type Version } from '@/api/client'
import { rules, type Difference } from '@/rules/rules'
import { reasonShape, reasonWords, statusWords } from '@/shared/words'

/** Two versions of a list, item by item. */
const props = defineProps<{ list: List; versions: Version[] }>()
const others = computed(() =>
  props.versions
    .filter(
      (v) =>
        v.kind === 'list' &&
        v.aircraftType === props.list.aircraftType &&
        (v.id !== props.list.id || v.version !== props.list.version),
    )
    .sort((a, b) => b.version - a.version),
)
const key = (v: Version) => `${v.id} ${v.version}`
const chosen = ref('')
const older = shallowRef<List | null>(null)
const found = shallowRef<Difference[] | null>(null)
const problem = ref('')

watch(
  others,
  () => {
    const before = others.value.find((v) => v.id === props.list.id && v.version < props.list.version)
    if (!others.value.some((v) => key(v) === chosen.value)) chosen.value = before ? key(before) : ''
  },
  { immediate: true },
)
watch(
  chosen,
  async () => {
    older.value = null
    const v = others.value.find((o) => key(o) === chosen.value)
    if (!v) return
    try {
      const view = await take(
        api.GET('/api/v1/library/{kind}/{id}/{version}', {
          params: { path: { kind: 'list', id: v.id, version: v.version } },
        }),
      )
      older.value = view.document as List
    } catch (e) {
      problem.value = e instanceof Error ? e.message : String(e)
    }
  },
  { immediate: true },
)
watch(
  [older, () => props.list],
  async () => {
    if (older.value) found.value = await rules.differences(older.value, props.list)
  },
  { immediate: true },
)

const grouped = computed(() => {
  const out = new Map<string, { challenge: string; phase: string; all: Difference[] }>()
  for (const d of found.value ?? []) {
    const g = out.get(d.item) ?? { challenge: d.challenge, phase: d.phase, all: [] }
    g.all.push(d)
    out.set(d.item, g)
  }
  return [...out]
})
const text = (v: unknown) =>
  v === undefined || v === '' ? '—' : Array.isArray(v) ? v.join('; ') : v === true ? 'yes' : String(v)
const response = (id: string) =>
  props.list.phases.flatMap((p) => p.items).find((i) => i.id === id)?.response ?? ''
const title = (id: string) =>
  [...props.list.phases, ...(older.value?.phases ?? [])].find((p) => p.id === id)?.title ?? id
</script>

<template>
  <div>
    <label class="with"
      >Compared with
      <select v-model="chosen" name="compare">
        <option v-for="v in others" :key="key(v)" :value="key(v)">
          {{ v.title }}, version {{ v.version }}, {{ statusWords[v.status] }}
        </option>
      </select>
    </label>
    <p v-if="problem" class="problem">{{ problem }}</p>
    <p v-if="!others.length" class="soft">There is no other version to compare with.</p>
    <p v-else-if="found && !grouped.length" class="within">● No item differs.</p>
    <p v-else-if="found" class="soft">{{ grouped.length }} items differ.</p>
    <table v-if="grouped.length" class="plain" data-part="differences">
      <tbody v-for="[id, g] in grouped" :key="id" :data-differs="id">
        <tr v-for="(d, i) in g.all" :key="i">
          <th v-if="i === 0" :rowspan="g.all.length">
            {{ g.challenge }}<small class="soft">{{ title(g.phase) }}</small>
          </th>
          <td class="kind">
            <b>{{ reasonShape[d.kind] }} {{ reasonWords[d.kind] }}</b>
          </td>
          <td class="soft">{{ d.kind === 'moved' ? 'behind' : d.field }}</td>
          <td>
            <s v-if="d.before !== undefined">{{ text(d.before) }}</s>
          </td>
          <td>{{ d.after === undefined ? (d.kind === 'added' ? response(id) : '') : text(d.after) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
th {
  font-weight: 700;
  width: 22%;
}

small {
  display: block;
  font-weight: 400;
}

.kind {
  white-space: nowrap;
}

s {
  color: var(--soft);
}
</style>
