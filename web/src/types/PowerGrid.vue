<script setup lang="ts">
import { computed } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { AircraftType } from '@/schema/schemas'
import { boxText, setter, type Path } from '@/shared/edit'
import { rules } from '@/rules/rules'
import OnOff from '@/shared/OnOff.vue'

/** The power that is allowed by height and heat: typed as a grid, its surface drawn, its edges explained. */
const props = defineProps<{ type: AircraftType; readonly: boolean }>()
const emit = defineEmits<{ change: [what: string, type: AircraftType] }>()
const set = setter(() => props.type, emit)
const table = computed(() => props.type.power)
function number(path: Path, e: Event) {
  const n = Number(boxText(e).trim() || 'none')
  if (Number.isFinite(n)) set(path, n)
}
const have = (has: boolean) => emit('change', 'power', rules.have(props.type, 'power', has))
const edges = [
  ['low-altitude', 'below the lowest height'],
  ['high-altitude', 'above the highest height'],
  ['cold', 'colder than the coldest'],
  ['hot', 'hotter than the hottest'],
] as const
const hold = (edge: string, on: boolean) => {
  const now = (table.value?.hold ?? []).filter((e) => e !== edge)
  set(['power', 'hold'], on ? [...now, edge] : now)
}
function more(axis: 'altitudesFt' | 'oatC') {
  const t = table.value!
  const nodes = t[axis]
  const next = [...nodes, nodes.at(-1)! + (axis === 'oatC' ? 20 : 2000)]
  const values =
    axis === 'oatC' ? t.values.map((row) => [...row, row.at(-1)!]) : [...t.values, [...t.values.at(-1)!]]
  set(['power'], { ...t, [axis]: next, values })
}
function fewer(axis: 'altitudesFt' | 'oatC') {
  const t = table.value!
  const values = axis === 'oatC' ? t.values.map((row) => row.slice(0, -1)) : t.values.slice(0, -1)
  set(['power'], { ...t, [axis]: t[axis].slice(0, -1), values })
}
/** One line a height over the temperatures: the surface from the side. */
const span = computed(() => {
  const all = (table.value?.values ?? []).flat()
  const [low, high] = [Math.min(...all), Math.max(...all)]
  return { low: low === high ? low - 1 : low, high: low === high ? high + 1 : high }
})
const lines = computed(() => {
  const t = table.value
  if (!t) return []
  const [a, b] = [t.oatC[0]!, t.oatC.at(-1)!]
  const x = (v: number) => 50 + (430 * (v - a)) / (b - a || 1)
  const y = (v: number) => 20 + (170 * (span.value.high - v)) / (span.value.high - span.value.low)
  return t.values.map((row, i) => ({
    feet: t.altitudesFt[i]!,
    d: row.map((v, n) => `${n ? 'L' : 'M'}${x(t.oatC[n]!)} ${y(v)}`).join(' '),
    end: { x: x(b) + 6, y: y(row.at(-1)!) + 4 },
    dots: row.map((v, n) => ({ x: x(t.oatC[n]!), y: y(v) })),
  }))
})
</script>

<template>
  <section aria-label="Power by height and heat">
    <template v-if="!table">
      <h2>Power by height and heat</h2>
      <p class="soft">
        Where the handbook limits power by pressure altitude and outside air, the limit of the day is read
        between the numbers of this grid.
      </p>
      <AppButton v-if="!readonly" data-action="begin-power" @click="have(true)">
        The handbook has such a table
      </AppButton>
    </template>
    <template v-else>
      <div class="heads">
        <label
          >What it limits
          <AppInput
            type="text"
            name="power-label"
            :value="table.label"
            :readonly="readonly"
            @input="set(['power', 'label'], boxText($event))"
        /></label>
        <label
          >in
          <AppInput
            type="text"
            name="power-unit"
            :value="table.unit"
            :readonly="readonly"
            @input="set(['power', 'unit'], boxText($event))"
        /></label>
      </div>
      <div class="scroll">
        <table>
          <thead>
            <tr>
              <th class="soft small">ft \ °C</th>
              <th v-for="(t, i) in table.oatC" :key="i">
                <AppInput
                  type="text"
                  :value="t"
                  :aria-label="`temperature ${i + 1}`"
                  :readonly="readonly"
                  @change="number(['power', 'oatC', i], $event)"
                />
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, r) in table.values" :key="r">
              <th>
                <AppInput
                  type="text"
                  :value="table.altitudesFt[r]"
                  :aria-label="`height ${r + 1}`"
                  :readonly="readonly"
                  @change="number(['power', 'altitudesFt', r], $event)"
                />
              </th>
              <td v-for="(v, c) in row" :key="c">
                <AppInput
                  type="text"
                  :value="v"
                  :aria-label="`${table.altitudesFt[r]} ft, ${table.oatC[c]} °C`"
                  :data-cell="`${r} ${c}`"
                  :readonly="readonly"
                  @change="number(['power', 'values', r, c], $event)"
                />
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-if="!readonly" class="more">
        <AppButton class="quiet" @click="more('altitudesFt')">+ height</AppButton>
        <AppButton v-if="table.values.length > 2" class="quiet" @click="fewer('altitudesFt')"
          >− height</AppButton
        >
        <AppButton class="quiet" @click="more('oatC')">+ temperature</AppButton>
        <AppButton v-if="table.oatC.length > 2" class="quiet" @click="fewer('oatC')">− temperature</AppButton>
        <AppButton class="quiet" @click="have(false)">no such table after all</AppButton>
      </p>
      <svg viewBox="0 0 560 220" role="img" :aria-label="`${table.label}, one line a height`">
        <g v-for="l in lines" :key="l.feet">
          <path :d="l.d" class="line" />
          <circle v-for="(d, i) in l.dots" :key="i" :cx="d.x" :cy="d.y" r="3" />
          <text :x="l.end.x" :y="l.end.y">{{ l.feet }} ft</text>
        </g>
        <text x="44" y="26" class="scale">{{ span.high }}</text>
        <text x="44" y="194" class="scale">{{ span.low }}</text>
        <text x="50" y="214">{{ table.oatC[0] }} °C</text>
        <text x="480" y="214" class="scale">{{ table.oatC.at(-1) }} °C</text>
      </svg>
      <h3 class="ruled">Beyond an edge</h3>
      <p class="soft small">
        Where the limit does not fall towards an edge, its value there may be kept beyond it. Elsewhere there
        is no limit beyond the table, and the day says so.
      </p>
      <p>
        <OnOff
          v-for="[edge, words] in edges"
          :key="edge"
          :model-value="(table.hold ?? []).includes(edge)"
          :words="`kept ${words}`"
          :name="edge"
          :disabled="readonly"
          @update:model-value="hold(edge, $event)"
        />
      </p>
    </template>
  </section>
</template>

<style scoped>
h2 {
  font-size: 22px;
  font-weight: 700;
}

.heads {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 90px;
  gap: 10px;
  padding: 6px 0;
}

.scroll {
  overflow-x: auto;
}

td,
th {
  padding: 2px;
}

.asked table input[type='text'] {
  width: 74px;
  text-align: right;
}

.more {
  display: flex;
  flex-wrap: wrap;
}

svg {
  width: 100%;
  display: block;
}

.line {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.6;
}

circle {
  fill: var(--ink);
}

text {
  font: 12px var(--figures);
  fill: var(--soft);
}

.scale {
  text-anchor: end;
}

p > .onoff {
  margin-right: 18px;
}
</style>
