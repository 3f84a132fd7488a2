<script setup lang="ts">
import { computed, onMounted, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import type { Schemas } from '@/schema/schemas'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { ElTable, ElTableColumn } from '@/shared/table'
import { dayWords } from '@/shared/words'
import { inWords } from '@/shared/errors'
import { useTrying } from '@/shared/trying'

/** Who has flown or been told of the newest version, and who has to be told. */
const props = defineProps<{ kind: 'list' | 'layer'; id: string }>()
const view = shallowRef<Schemas['TrainedView'] | null>(null)
const { problem, tried } = useTrying()

function load() {
  return tried(async () => {
    view.value = await take(
      api.GET('/api/v1/trained/{kind}/{id}', { params: { path: { kind: props.kind, id: props.id } } }),
    )
  })
}
onMounted(load)
const untold = computed(() => view.value?.people.filter((p) => p.mustBeTold) ?? [])

async function tell(accounts: string[]) {
  problem.value = ''
  try {
    for (const account of accounts)
      await take(
        api.POST('/api/v1/library/{kind}/{id}/{version}/told', {
          params: { path: { kind: props.kind, id: props.id, version: view.value!.version } },
          body: { account },
        }),
      )
  } catch (e) {
    problem.value = inWords(e)
  }
  await load()
}
</script>

<template>
  <div v-if="view" data-part="trained">
    <p>
      Everybody should know <b>version {{ view.version }}</b
      ><template v-if="view.from">, in force from {{ dayWords(view.from) }}</template
      >.
      <b v-if="untold.length" class="attend">▲ {{ untold.length }} to be told</b>
      <b v-else class="within">● everybody knows it</b>
      <AppButton
        v-if="untold.length > 1"
        class="quiet"
        data-action="tell-all"
        @click="tell(untold.map((p) => p.account))"
      >
        All of them were told
      </AppButton>
    </p>
    <ProblemNotice v-model="problem" />
    <ElTable
      :data="view.people"
      row-key="account"
      :row-class-name="({ row }) => `person-${row.account}`"
      empty-text="Nobody flies this type yet."
    >
      <ElTableColumn label="who" prop="name" sortable>
        <template #default="{ row }">
          {{ row.name }} <span class="soft small">{{ row.role }}</span>
        </template>
      </ElTableColumn>
      <ElTableColumn label="flown" prop="flown" sortable>
        <template #default="{ row }">
          <template v-if="row.flown"
            >version {{ row.flown }} <span class="soft">{{ dayWords(row.on) }}</span></template
          >
          <span v-else class="soft">never</span>
        </template>
      </ElTableColumn>
      <ElTableColumn label="told" prop="told" sortable>
        <template #default="{ row }">
          <template v-if="row.told"
            >version {{ row.told }}
            <span class="soft">by {{ row.toldBy }}, {{ dayWords(row.toldOn) }}</span></template
          >
          <span v-else class="soft">not told</span>
        </template>
      </ElTableColumn>
      <ElTableColumn width="130">
        <template #default="{ row }">
          <AppButton v-if="row.mustBeTold" data-action="tell" @click="tell([row.account])"
            >was told</AppButton
          >
        </template>
      </ElTableColumn>
    </ElTable>
  </div>
  <ProblemNotice v-else v-model="problem" />
</template>

<style scoped>
.el-table button {
  min-height: 36px;
  padding: 2px 12px;
}

.quiet {
  text-decoration: underline;
}
</style>
