<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { useRouter } from 'vue-router'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import type { Schemas } from '@/schema/schemas'
import { ready } from '@/rules/rules'
import TryCheck from '@/reference/TryCheck.vue'
import BandStrip from '@/shared/BandStrip.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import StepTrace from '@/shared/StepTrace.vue'
import TopBar from '@/shared/TopBar.vue'
import { ElTable, ElTableColumn } from '@/shared/table'
import { inWords } from '@/shared/errors'

/** A page for each check: its rule, every type's limits, and readings to drag. */
const props = defineProps<{ check?: string }>()
const router = useRouter()
const data = shallowRef<Schemas['Reference'] | null>(null)
const problem = ref('')
const typeId = ref('')
type Reading = Record<string, unknown>
const reading = ref<Reading>({})

onMounted(async () => {
  try {
    const [answer] = await Promise.all([take(api.GET('/api/v1/reference')), ready('rules')])
    data.value = answer
    if (!props.check) await router.replace(`/reference/${answer.checks[0]!.name}`)
  } catch (e) {
    problem.value = inWords(e)
  }
})
const def = computed(() => data.value?.checks.find((c) => c.name === props.check))
const limits = computed(() => data.value?.limits[props.check ?? ''])
const types = computed(() => (data.value?.types ?? []).filter((t) => limits.value?.types.includes(t.id)))
const type = computed(() => types.value.find((t) => t.id === typeId.value) ?? types.value[0])
const example = computed(() => data.value?.examples[props.check ?? '']?.[type.value?.id ?? ''])

watch(example, () => (reading.value = (example.value?.reading ?? {}) as Reading), { immediate: true })
const tried = useTemplateRef('tried')
const unit = computed(() => (type.value?.tachometer === 'percent' ? '%' : 'rpm'))

/** A usual finding, as it looks: its reading is the one to drag from. */
function look(u: { reading: Reading }) {
  reading.value = u.reading
  ;(tried.value?.$el as HTMLElement | undefined)?.scrollIntoView({ block: 'nearest' })
}
</script>

<template>
  <div>
    <TopBar><b>Reference</b> <span class="soft">every check as the rules have it</span></TopBar>
    <ProblemNotice v-model="problem" />
    <main v-if="data && def">
      <nav aria-label="Checks">
        <router-link
          v-for="c in data.checks"
          :key="c.name"
          :to="`/reference/${c.name}`"
          :data-check="c.name"
          >{{ c.title }}</router-link
        >
      </nav>
      <article>
        <h1>{{ def.title }}</h1>
        <p class="rule">{{ def.rule }}</p>
        <div class="types">
          <AppButton
            v-for="t in types"
            :key="t.id"
            :class="['quiet', { on: t.id === type?.id }]"
            :data-type="t.id"
            @click="typeId = t.id"
          >
            {{ t.name }}
          </AppButton>
        </div>
        <TryCheck
          v-if="def && type && example"
          ref="tried"
          v-model="reading"
          :check="def.name"
          :type="type"
          :sound="example.reading"
          :conditions="example.conditions"
        />
        <section v-if="example?.usual.length" data-part="usual">
          <h2>What is found here, and what most often lies behind it</h2>
          <div class="usual">
            <AppButton v-for="u in example.usual" :key="u.code" :data-usual="u.code" @click="look(u)">
              <StepTrace v-if="u.trace" v-bind="u.trace" :unit="unit" :wide="420" :high="130" bare />
              <BandStrip v-else-if="u.strip" :strip="u.strip" />
              <b>{{ u.message }}</b>
              <span v-if="u.causes.length" class="soft">{{ u.causes.map((c) => c.message).join(' ') }}</span>
              <span v-for="a in u.actions" :key="a.code">→ {{ a.message }}</span>
            </AppButton>
          </div>
        </section>
        <section v-if="limits?.rows.length" class="limits">
          <h2>Limits of each type</h2>
          <ElTable :data="limits.rows" row-key="label">
            <ElTableColumn prop="label" fixed width="210" class-name="soft" />
            <ElTableColumn v-for="(head, i) in limits.heads" :key="head" :label="head" min-width="104">
              <template #default="{ row }">
                <span class="figure">{{ row.cells[i] }}</span>
              </template>
            </ElTableColumn>
          </ElTable>
        </section>
        <p class="soft small">
          The approved handbook has the limits; these are the data’s. A licensed person decides.
        </p>
      </article>
    </main>
  </div>
</template>

<style scoped>
main {
  display: grid;
  grid-template-columns: 190px minmax(0, 1fr);
  gap: 28px;
  padding: 10px 24px 32px;
}

nav a {
  display: block;
  text-decoration: none;
  padding: 4px 8px;
  border-left: 3px solid transparent;
}

nav .router-link-active {
  border-color: var(--ink);
  background: var(--live);
  font-weight: 700;
}

h1 {
  font-size: 26px;
  font-weight: 700;
}

h2 {
  font-size: 19px;
  font-weight: 700;
  margin-top: 10px;
}

.rule {
  font-size: 18px;
  max-width: 70ch;
}

.usual {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(280px, 1fr));
  gap: 12px;
  padding-top: 8px;
}

.usual button {
  display: grid;
  align-content: start;
  gap: 4px;
  text-align: left;
  padding: 10px 12px;
  border-color: var(--hair);
  background: var(--sheet);
  line-height: 1.3;
}

@media (max-width: 900px) {
  main {
    grid-template-columns: minmax(0, 1fr);
  }

  main {
    padding: 8px 12px 24px;
  }

  nav {
    columns: 2;
  }
}
</style>
