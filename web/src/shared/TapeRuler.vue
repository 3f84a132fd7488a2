<script setup lang="ts">
import { computed } from 'vue'

import AppButton from '@/base/AppButton.vue'
import type { LessonState } from '@/schema/schemas'
import TapeTick from '@/shared/TapeTick.vue'

/** The whole lesson as a ruler: a tick an item, a shape on each deviation. */
const props = defineProps<{ state: LessonState; live?: string }>()
const emit = defineEmits<{ open: [item: string] }>()

const phases = computed(() =>
  props.state.phases.map((phase) => ({
    phase,
    items: props.state.items.filter((i) => i.phase === phase.id),
    here: props.state.items.some((i) => i.phase === phase.id && i.id === props.live),
  })),
)
/** As wide as they have items; the one that is worked never narrower than its name. */
const columns = computed(() =>
  phases.value.map((p) => `minmax(${p.here ? 'max-content' : '0'}, ${p.items.length + 4}fr)`).join(' '),
)
</script>

<template>
  <div :class="['tape', { worked: live }]" :style="{ gridTemplateColumns: columns }">
    <AppButton
      v-for="p in phases"
      :key="p.phase.id"
      v-memo="[p.phase, p.here, p.here ? live : '', !live, ...p.items]"
      :class="['phase', { here: p.here }]"
      :title="`${p.phase.title}: ${p.phase.marked} of ${p.phase.total}`"
      @click="emit('open', (p.items.find((i) => !i.status) ?? p.items[0]!).id)"
    >
      <span class="head"
        ><span>{{ p.phase.title }}</span
        ><span v-if="p.here || !live" class="figure soft"
          >{{ p.phase.marked }}/{{ p.phase.total }}</span
        ></span
      >
      <svg
        :viewBox="`0 0 ${p.items.length * 10} 44`"
        preserveAspectRatio="none"
        aria-hidden="true"
        :style="{ maxWidth: `${p.items.length * 24}px` }"
      >
        <line x1="0" :x2="p.items.length * 10" y1="42" y2="42" class="rule" />
        <TapeTick
          v-for="(item, i) in p.items"
          :key="item.id"
          :x="5 + i * 10"
          :mark="item.mark"
          :live="item.id === live"
        />
      </svg>
    </AppButton>
  </div>
</template>

<style scoped>
.tape {
  display: grid;
  gap: 16px;
  padding: 8px 24px 6px;
  border-bottom: 1px solid var(--hair);
}

.phase {
  border: 0;
  background: none;
  padding: 0;
  min-height: 76px;
  min-width: 0;
  text-align: left;
}

.head {
  display: flex;
  justify-content: space-between;
  gap: 6px;
  font-size: 13px;
  color: var(--soft);
  white-space: nowrap;
  overflow: hidden;
}

.here .head > :first-child {
  color: var(--ink);
  font-weight: 700;
}

svg {
  width: 100%;
  height: 50px;
  display: block;
  overflow: visible;
}

.rule {
  stroke: var(--hair);
  stroke-width: 1.5;
  vector-effect: non-scaling-stroke;
}

.here .rule {
  stroke: var(--ink);
  stroke-width: 2.5;
}

/* Where names would be cut, the one that is worked stands for all. With none
   worked, names and counts stand in lines of their own. */
@media (max-width: 1100px) {
  .worked .phase:not(.here) .head > :first-child {
    visibility: hidden;
  }

  .worked .here .head > :first-child {
    font-size: 15px;
  }
}

.tape:not(.worked) .head {
  flex-direction: column;
  gap: 0;
  min-height: 34px;
  line-height: 1.2;
  white-space: normal;
}

@media (max-width: 800px) {
  .tape {
    gap: 8px;
    padding: 6px 12px;
  }
}

@media (max-width: 560px) {
  .tape {
    grid-template-columns: 1fr !important;
  }

  .phase:not(.here) {
    display: none;
  }
}
</style>
