<script setup lang="ts">
import { computed, ref, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppCheck from '@/base/AppCheck.vue'
import type { Schemas } from '@/schema/schemas'
import AppDialog from '@/shared/AppDialog.vue'
import FilePick from '@/shared/FilePick.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import WelcomeCodes from '@/shared/WelcomeCodes.vue'
import { useTrying } from '@/shared/trying'

/** A table of people or aircraft: read row by row first, then taken as a whole. */
const props = defineProps<{ what: 'people' | 'aircraft'; columns: string }>()
const shown = defineModel<boolean>({ required: true })
const emit = defineEmits<{ taken: [] }>()
const { problem, busy, tried } = useTrying()
const read = shallowRef<Schemas['TableRead'] | null>(null)
const file = ref({ name: '', text: '' })
const aside = ref<number[]>([])
const done = shallowRef<Schemas['TableTaken'] | null>(null)

function begin() {
  problem.value = ''
  read.value = done.value = null
  aside.value = []
}
function show(body: object, name: string, text: string) {
  read.value = body as Schemas['TableRead']
  file.value = { name, text }
}
const words: Record<string, string> = {
  new: '+ new',
  changes: '~ changes',
  same: '= as it is',
  refused: '▲ cannot be taken',
}
const rows = computed(() => read.value?.rows ?? [])
const of = (comesTo: string) => rows.value.filter((r) => r.comesTo === comesTo)
/** Wrong rows stand first: they are what is looked for. */
const ordered = computed(() => [...of('refused'), ...of('changes'), ...of('new'), ...of('same')])
const open = computed(() => of('refused').filter((r) => !aside.value.includes(r.line)).length)
const comes = computed(() => of('new').length + of('changes').length)
const toggle = (line: number) =>
  (aside.value = aside.value.includes(line) ? aside.value.filter((l) => l !== line) : [...aside.value, line])

const bring = () =>
  tried(async () => {
    const body = { name: file.value.name, table: file.value.text, aside: aside.value }
    done.value =
      props.what === 'people'
        ? await take(api.POST('/api/v1/people/table/take', { body }))
        : await take(api.POST('/api/v1/aircraft/table/take', { body }))
    emit('taken')
  })
</script>

<template>
  <AppDialog v-model="shown" title="Bring in a table" :width="900">
    <div class="dialog" data-part="table">
      <ProblemNotice v-model="problem" />
      <template v-if="done">
        <p class="within">● {{ done.new }} new, {{ done.changed }} changed.</p>
        <WelcomeCodes v-if="done.invited.length" :invited="done.invited" />
      </template>
      <template v-else>
        <p class="soft">
          A table as a spreadsheet saves it (CSV), its columns named in the first row: {{ columns }}. Nothing
          is kept before you have seen what each row comes to.
        </p>
        <FilePick
          name="table-file"
          words="Choose the file, or drop it here"
          accept=".csv,.tsv,.txt"
          method="POST"
          :to="(name) => `/api/v1/${what}/table?name=${encodeURIComponent(name)}`"
          @begin="begin"
          @answer="show"
          @refused="(why) => (problem = why)"
        />
        <template v-if="read">
          <p v-for="(m, i) in read.problems" :key="i" class="attend" data-part="mistakes">
            ▲ <template v-if="m.line">line {{ m.line }}: </template>{{ m.reason }}
          </p>
          <template v-if="rows.length && !read.problems.length">
            <p data-part="sum">
              <b>{{ file.name }}</b>: {{ of('new').length }} new, {{ of('changes').length }} changed,
              {{ of('same').length }} as they are,
              <span :class="of('refused').length ? 'attend' : 'soft'"
                >{{ of('refused').length }} that cannot be taken</span
              >.
              <AppButton
                v-if="open"
                class="quiet"
                data-action="all-aside"
                @click="aside = of('refused').map((r) => r.line)"
              >
                set those aside
              </AppButton>
            </p>
            <div class="rows">
              <div v-for="r in ordered" :key="r.line" class="line" :data-line="r.line">
                <span class="figure soft">{{ r.line }}</span>
                <b>{{ r.name || '—' }}</b>
                <span :class="r.comesTo === 'refused' ? 'attend' : 'soft'">{{ words[r.comesTo] }}</span>
                <span class="small"
                  >{{ r.changes.join(', ') }}
                  <span v-for="(f, i) in r.problems" :key="i" class="block"
                    ><b>{{ f.field }}</b> {{ f.reason }}</span
                  ></span
                >
                <label v-if="r.comesTo === 'refused'" class="tick"
                  ><AppCheck
                    :model-value="aside.includes(r.line)"
                    :name="`aside-${r.line}`"
                    @update:model-value="toggle(r.line)"
                  />
                  aside</label
                >
              </div>
            </div>
            <AppButton
              class="primary"
              data-action="take-table"
              :disabled="busy || open > 0 || !comes"
              @click="bring"
            >
              {{
                open
                  ? `${open} rows still cannot be taken`
                  : comes
                    ? `Take ${comes === 1 ? '1 row' : `${comes} rows`}`
                    : 'There is nothing new in it'
              }}
            </AppButton>
          </template>
        </template>
      </template>
    </div>
  </AppDialog>
</template>

<style scoped>
.dialog {
  display: grid;
  gap: 10px;
}

.rows {
  max-height: 46vh;
  overflow: hidden auto;
  border-block: 1px solid var(--hair);
}

.line {
  display: grid;
  grid-template-columns: 44px minmax(0, 1.2fr) 130px minmax(0, 2fr) 80px;
  gap: 2px 12px;
  align-items: center;
  min-height: 40px;
  padding: 4px 0;
  border-bottom: 1px solid var(--fine);
}

.tick {
  display: flex;
  gap: 6px;
  align-items: center;
  min-height: 40px;
}

.primary {
  min-height: 56px;
}

@media (max-width: 800px) {
  .line {
    grid-template-columns: 36px minmax(0, 1fr) auto;
  }

  .line > .small {
    grid-column: 2 / -1;
  }
}
</style>
