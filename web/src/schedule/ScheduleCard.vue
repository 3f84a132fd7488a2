<script setup lang="ts">
import AppButton from '@/base/AppButton.vue'
import type { Schemas } from '@/schema/schemas'
import type { By, Card } from '@/schedule/layout'
import { clockAt } from '@/schedule/times'

/** A lesson on the schedule, on a day in a week or to scale on one day. */
const props = defineProps<{
  card: Card
  by: By
  mine: boolean
  free: boolean
  scaled: boolean
  /** The first that stands against a lesson that is planned already. */
  against?: Schemas['ScheduleObstacle']
}>()
const emit = defineEmits<{ stretch: [e: PointerEvent] }>()

const initials = (name: string) =>
  name
    .split(/\s+/)
    .map((w) => w[0])
    .join('')
const p = () => props.card.planned
const who = () =>
  props.by === 'student' ? `${p().instructor}, ${p().registration}` : p().student.split(' ')[0]
const other = () =>
  ({ aircraft: initials(p().instructor), instructor: p().registration.slice(-3), student: '' })[props.by]
const statuses: Record<string, string> = { open: 'running', ended: 'not signed', signed: 'signed' }
/** All of it, for whoever points at it. */
const said = () =>
  `${clockAt(props.card.from)} to ${clockAt(props.card.from + props.card.long)}, ${[
    p().student,
    p().instructor && `with ${p().instructor}`,
    p().registration,
    p().plan,
    ...p().for,
    statuses[p().status],
    props.against?.words,
  ]
    .filter(Boolean)
    .join(', ')}`
</script>

<template>
  <AppButton
    :class="['card', card.look, card.planned.status, { mine, free, 'to-scale': scaled }]"
    :data-planned="card.fixed ? undefined : card.planned.id"
    :data-ghost="card.fixed ? card.planned.id : undefined"
    :aria-hidden="card.look === 'held' || undefined"
    :tabindex="card.look === 'held' ? -1 : undefined"
    :title="said()"
  >
    <span class="figure">{{ clockAt(card.from) }}</span> <b>{{ who() }}</b>
    <span class="soft">{{ other() }}</span>
    <b v-if="against" :class="against.refused ? 'out' : 'attend'">{{ against.refused ? '■' : '▲' }}</b>
    <i
      v-if="card.planned.plan || card.planned.for.length"
      class="prepared"
      title="with a plan or exercises"
    />
    <i
      v-if="scaled && free && !card.fixed"
      class="edge"
      aria-hidden="true"
      @pointerdown.stop="emit('stretch', $event)"
    />
  </AppButton>
</template>

<style scoped>
.card {
  position: relative;
  display: flex;
  flex-wrap: wrap;
  gap: 0 5px;
  align-items: baseline;
  min-height: 30px;
  padding: 3px 6px;
  font-size: 13px;
  line-height: 1.25;
  text-align: left;
  background: var(--sheet);
  border: 1px solid var(--soft);
  overflow: hidden;
  user-select: none;
}

.card.free {
  cursor: grab;
}

.card.mine {
  border: 2px solid var(--ink);
  padding: 2px 5px;
}

.card.signed {
  background: var(--within-wash);
}

.card.open,
.card.ended {
  border-color: var(--attend);
}

.card.held,
.card.refused {
  border: 2px dashed var(--ink);
  background: var(--live);
  padding: 2px 5px;
}

.card.held {
  pointer-events: none;
}

.card.away-from {
  opacity: 0.55;
  border-style: dashed;
}

.card.refused {
  border-color: var(--out);
}

.prepared {
  width: 6px;
  height: 6px;
  background: var(--within);
  align-self: center;
  margin-left: auto;
}

.card.to-scale {
  position: absolute;
  top: 6px;
  height: 48px;
  align-content: center;
}

.edge {
  position: absolute;
  right: 0;
  top: 0;
  bottom: 0;
  width: 10px;
  cursor: ew-resize;
  border-right: 3px double var(--soft);
}

/* On a narrow screen the days stand below one another, those without anything left out. */
@media (max-width: 640px) {
  .card,
  .card.to-scale {
    position: static;
    width: auto !important;
    height: auto;
    min-height: 48px;
    align-items: center;
  }

  .edge {
    display: none;
  }
}

@media print {
  .card {
    display: flex !important;
  }
}
</style>
