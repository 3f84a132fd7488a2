<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'

import { api, Refused, take, type Schemas } from '@/api/client'
import { dayWords } from '@/shared/words'

/** Who has flown or been told of the newest version, and who has to be told. */
const props = defineProps<{ kind: 'list' | 'layer'; id: string }>()
const view = shallowRef<Schemas['TrainedView'] | null>(null)
const problem = ref('')

async function load() {
  try {
    view.value = await take(
      api.GET('/api/v1/trained/{kind}/{id}', { params: { path: { kind: props.kind, id: props.id } } }),
    )
  } catch (e) {
    problem.value = e instanceof Refused ? e.message : String(e)
  }
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
    problem.value = e instanceof Refused ? e.message : String(e)
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
      <button
        v-if="untold.length > 1"
        class="quiet"
        data-action="tell-all"
        @click="tell(untold.map((p) => p.account))"
      >
        All of them were told
      </button>
    </p>
    <p v-if="problem" class="problem">{{ problem }}</p>
    <table class="plain">
      <thead class="soft small">
        <tr>
          <th>who</th>
          <th>flown</th>
          <th>told</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="p in view.people" :key="p.account" :data-person="p.account">
          <td>
            {{ p.name }} <span class="soft small">{{ p.role }}</span>
          </td>
          <td>
            <template v-if="p.flown"
              >version {{ p.flown }} <span class="soft">{{ dayWords(p.on) }}</span></template
            >
            <span v-else class="soft">never</span>
          </td>
          <td>
            <template v-if="p.told"
              >version {{ p.told }}
              <span class="soft">by {{ p.toldBy }}, {{ dayWords(p.toldOn) }}</span></template
            >
          </td>
          <td>
            <button v-if="p.mustBeTold" data-action="tell" @click="tell([p.account])">was told</button>
          </td>
        </tr>
      </tbody>
    </table>
  </div>
  <p v-else-if="problem" class="problem">{{ problem }}</p>
</template>

<style scoped>
td button {
  min-height: 36px;
  padding: 2px 12px;
}

.quiet {
  text-decoration: underline;
}
</style>
