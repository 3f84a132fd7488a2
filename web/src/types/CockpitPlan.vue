<script setup lang="ts">
import { ref, useTemplateRef } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppInput from '@/base/AppInput.vue'
import type { AircraftType } from '@/schema/schemas'
import { setter } from '@/shared/edit'
import { rules } from '@/rules/rules'

/** Where hands and eyes go: places dragged on a plan of the cockpit, or moved by arrow keys. */
const props = defineProps<{ type: AircraftType; readonly: boolean }>()
const emit = defineEmits<{ change: [what: string, type: AircraftType] }>()
const set = setter(() => props.type, emit)
const plan = useTemplateRef<SVGSVGElement>('plan')
const held = ref<number | null>(null)
const at = (p: { x: number; y: number }) => `translate(${30 + p.x * 5.2} ${16 + p.y * 3.5})`
const within = (n: number) => Math.round(Math.min(100, Math.max(0, n)))

function move(i: number, x: number, y: number) {
  if (props.readonly) return
  set(['cockpit', i], { ...props.type.cockpit![i]!, x: within(x), y: within(y) })
}
function drag(e: PointerEvent) {
  if (held.value === null || !plan.value) return
  const inverse = plan.value.getScreenCTM()!.inverse()
  const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(inverse)
  move(held.value, (p.x - 30) / 5.2, (p.y - 16) / 3.5)
}
const arrows: Record<string, [number, number]> = {
  ArrowLeft: [-2, 0],
  ArrowRight: [2, 0],
  ArrowUp: [0, -2],
  ArrowDown: [0, 2],
}
function key(e: KeyboardEvent, i: number) {
  const by = arrows[e.key]
  const p = props.type.cockpit![i]!
  if (!by) return
  e.preventDefault()
  move(i, p.x + by[0], p.y + by[1])
}
function hold(e: PointerEvent, i: number) {
  held.value = i
  plan.value?.setPointerCapture(e.pointerId)
}
function add(e: Event) {
  const box = e.target as HTMLInputElement
  const label = box.value.trim()
  const id = rules.slug(label)
  if (!id || props.type.cockpit?.some((p) => p.id === id)) return
  set(['cockpit'], [...(props.type.cockpit ?? []), { id, label, x: 50, y: 50 }])
  box.value = ''
}
const without = (i: number) =>
  set(
    ['cockpit'],
    props.type.cockpit!.filter((_, n) => n !== i),
  )
</script>

<template>
  <section aria-label="Places in the cockpit">
    <h2>Places in the cockpit</h2>
    <p class="soft">Drag each to where the hand finds it; the flow of a list is drawn on this plan.</p>
    <svg
      ref="plan"
      viewBox="0 0 580 380"
      role="group"
      :aria-label="`Places of the ${type.name}`"
      @pointermove="drag"
      @pointerup="held = null"
      @pointercancel="held = null"
    >
      <path
        d="M290 30 C420 30 560 60 570 150 V330 Q570 366 534 366 H46 Q10 366 10 330 V150 C20 60 160 30 290 30 Z"
        class="hull"
      />
      <g
        v-for="(p, i) in type.cockpit"
        :key="p.id"
        :class="['spot', { held: held === i }]"
        :transform="at(p)"
        :data-place="p.id"
        tabindex="0"
        role="button"
        :aria-label="`${p.label}, ${p.x} from the left, ${p.y} from the front`"
        @pointerdown="hold($event, i)"
        @keydown="key($event, i)"
      >
        <circle r="12" />
        <text y="-16">{{ p.label }}</text>
      </g>
    </svg>
    <p v-for="(p, i) in type.cockpit" :key="p.id" class="line">
      <AppInput
        type="text"
        :aria-label="`name of ${p.label}`"
        :value="p.label"
        :readonly="readonly"
        @input="set(['cockpit', i, 'label'], ($event.target as HTMLInputElement).value)"
      />
      <AppButton v-if="!readonly" class="quiet" :aria-label="`${p.label}: take it away`" @click="without(i)">
        ×
      </AppButton>
    </p>
    <AppInput
      v-if="!readonly"
      type="text"
      name="new-place"
      placeholder="another place: type its name, then Enter"
      maxlength="40"
      @change="add"
    />
  </section>
</template>

<style scoped>
h2 {
  font-size: 22px;
  font-weight: 700;
}

svg {
  width: 100%;
  display: block;
  touch-action: none;
}

.hull {
  fill: var(--sheet);
  stroke: var(--hair);
}

.spot {
  cursor: grab;
}

.spot circle {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 1.5;
}

.held circle {
  fill: var(--live);
  stroke-width: 3;
}

.spot text {
  font: 11px var(--sans);
  fill: var(--ink);
  text-anchor: middle;
  paint-order: stroke;
  stroke: var(--sheet);
  stroke-width: 3px;
  user-select: none;
}

.line {
  display: flex;
  gap: 8px;
  padding: 2px 0;
}

.line > :first-child {
  flex: 1;
}
</style>
