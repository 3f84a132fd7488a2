<script setup lang="ts">
/**
 * One item on the tape. A deviation is a longer tick with a shape on its head; what was only passed is a
 * short stub and a dot, so that it never looks like a mark.
 */
defineProps<{ x: number; mark: string; live?: boolean }>()
const attends = ['prompted', 'helped', 'late', 'out-of-order']
</script>

<template>
  <g :transform="`translate(${x} 0)`">
    <line v-if="mark === 'done' || mark === 'self-fixed'" y1="30" y2="42" class="within" />
    <line
      v-else-if="['', 'not-fitted', 'shown', 'passed'].includes(mark)"
      y1="37"
      y2="42"
      :class="mark === 'passed' ? 'passed' : 'none'"
    />
    <line v-else y1="17" y2="42" :class="attends.includes(mark) ? 'attend' : 'out'" />
    <circle v-if="mark === 'passed'" cy="32" r="1.4" class="passed dot" />
    <path v-if="mark === 'late' || mark === 'out-of-order'" d="M0 7 L5 12 L0 17 L-5 12 Z" class="attend" />
    <circle v-if="mark === 'prompted'" cy="12" r="4" class="attend" />
    <path v-if="mark === 'helped'" d="M-4.5 16 L4.5 16 L0 7 Z" class="attend" />
    <path v-if="mark === 'wrong' || mark === 'left-out'" d="M-4 8 L4 16 M4 8 L-4 16" class="out" />
    <rect v-if="mark === 'unsafe'" x="-4" y="8" width="8" height="8" class="out solid" />
    <path v-if="live" d="M-5 26 L5 26 L0 36 Z" class="needle" />
  </g>
</template>

<style scoped>
.within,
.attend,
.out,
.none,
.passed {
  fill: none;
  stroke: var(--within);
  stroke-width: 2.2;
  vector-effect: non-scaling-stroke;
}

.attend {
  stroke: var(--attend);
}

.out {
  stroke: var(--out);
}

.none {
  stroke: var(--hair);
}

.passed {
  stroke: var(--soft, var(--ink));
  opacity: 0.7;
}

.dot {
  fill: currentColor;
  stroke: none;
}

.solid {
  fill: var(--out);
}

.needle {
  fill: var(--ink);
}
</style>
