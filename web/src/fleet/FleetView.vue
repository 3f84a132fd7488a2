<script setup lang="ts">
import { computed, defineAsyncComponent, onMounted, ref, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import AppCheck from '@/base/AppCheck.vue'
import type { Schemas } from '@/schema/schemas'
import TrendNotices from '@/fleet/TrendNotices.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TopBar from '@/shared/TopBar.vue'
import { useSession } from '@/shared/session'
import { useTrying } from '@/shared/trying'
import { dayWords } from '@/shared/words'

const AircraftDialog = defineAsyncComponent(() => import('@/fleet/AircraftDialog.vue'))
const TableDialog = defineAsyncComponent(() => import('@/shared/TableDialog.vue'))

/** Every aircraft that the school has or had. */
const session = useSession()
const fleet = shallowRef<Schemas['FleetView'] | null>(null)
const { problem, tried } = useTrying()
const open = ref(false)
const bringing = ref(false)
const retired = ref(false)
/** What the dialog is about; nothing while one is added. */
const chosen = shallowRef<Schemas['FleetAircraft'] | null>(null)
const may = computed(() => session.may('set-aircraft'))

const load = () =>
  tried(async () => {
    fleet.value = await take(api.GET('/api/v1/aircraft'))
  })
onMounted(load)

const gone = computed(() => fleet.value?.aircraft.filter((a) => a.retired).length ?? 0)
const shown = computed(() => fleet.value?.aircraft.filter((a) => retired.value || !a.retired) ?? [])
const equipment = (a: Schemas['FleetAircraft'], of: string[]) =>
  of
    .map(
      (id) =>
        fleet.value?.types.find((t) => t.id === a.type)?.equipment.find((e) => e.id === id)?.label ?? id,
    )
    .join(', ') || 'nothing beyond the type'
const planned = (a: Schemas['FleetAircraft']) => a.changes.filter((c) => c.from > fleet.value!.day)

function show(a: Schemas['FleetAircraft'] | null) {
  chosen.value = a
  open.value = true
}
async function done() {
  open.value = false
  await load()
}
</script>

<template>
  <div class="place">
    <TopBar><b>Aircraft</b></TopBar>
    <main v-if="fleet" class="lines">
      <ProblemNotice v-model="problem" />
      <div class="tools">
        <label v-if="gone" class="tick"
          ><AppCheck v-model="retired" name="with-retired" /> with the {{ gone }} retired</label
        >
        <a href="/api/v1/aircraft.csv" download>Export the table</a>
        <template v-if="may">
          <AppButton data-action="bring-in" @click="bringing = true">Bring in a table</AppButton>
          <AppButton class="primary" data-action="add-aircraft" @click="show(null)"
            >Add an aircraft</AppButton
          >
        </template>
      </div>
      <TrendNotices />
      <p v-if="!shown.length" class="soft">There is no aircraft yet. Add the first, or bring in a table.</p>
      <div v-for="a in shown" :key="a.registration" class="both">
        <component
          :is="may ? 'button' : 'div'"
          class="line"
          :data-aircraft="a.registration"
          @click="may && show(a)"
        >
          <b class="figure">{{ a.registration }}</b>
          <span
            >{{ a.typeName }}
            <span class="soft small">{{
              a.typeVersion ? `version ${a.typeVersion}, at ${a.base}` : `▲ no version in force, at ${a.base}`
            }}</span></span
          >
          <span class="small">
            {{ equipment(a, a.equipment) }}
            <span v-for="c in planned(a)" :key="c.from" class="block attend"
              >from {{ dayWords(c.from) }}: {{ equipment(a, c.equipment) }}</span
            >
            <span v-if="a.notes" class="block soft notes">{{ a.notes }}</span>
          </span>
          <span class="figure right">{{ a.hours === undefined ? '' : `${a.hours.toFixed(1)} h` }}</span>
          <span :class="a.retiredOn ? 'attend' : 'soft'">{{
            a.retired
              ? `retired since ${dayWords(a.retiredOn!)}`
              : a.retiredOn
                ? `▲ retires ${dayWords(a.retiredOn)}`
                : ''
          }}</span>
        </component>
        <router-link :to="`/aircraft/${a.registration}`" :data-readings="a.registration"
          >readings</router-link
        >
      </div>
      <AircraftDialog
        v-if="open"
        :key="chosen?.registration ?? ''"
        v-model="open"
        :aircraft="chosen"
        :fleet="fleet"
        @done="done"
      />
      <TableDialog
        v-if="bringing"
        v-model="bringing"
        what="aircraft"
        columns="registration, type and base; equipment, hours and notes"
        @taken="load"
      />
    </main>
    <p v-else-if="problem" class="problem" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.line {
  grid-template-columns: 100px minmax(0, 1.2fr) minmax(0, 2fr) 90px 150px;
}

.both {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 80px;
  align-items: center;
  gap: 12px;
}

.notes {
  white-space: pre-line;
}

.right {
  text-align: right;
}

@media (max-width: 800px) {
  .line {
    grid-template-columns: 90px minmax(0, 1fr) auto;
  }

  .line > .small {
    grid-column: 1 / -1;
    grid-row: 2;
  }
}
</style>
