<script setup lang="ts">
import { computed } from 'vue'

/** A standing by height and fill: it reads without its colour. */
const props = defineProps<{ standing: string; title?: string; size?: number }>()
const shape = computed(
  () =>
    ({
      consolidated: { h: 18, fill: 'full' },
      'to standard': { h: 13.5, fill: 'three' },
      practising: { h: 9, fill: 'hollow' },
      introduced: { h: 4.5, fill: 'faint' },
      lapsed: { h: 13.5, fill: 'cut' },
    })[props.standing],
)
</script>

<template>
  <svg
    viewBox="0 0 12 20"
    :style="{ width: `${size ?? 12}px` }"
    role="img"
    :aria-label="`${title ?? ''} ${standing}`"
  >
    <title>{{ title ? `${title}: ${standing}` : standing }}</title>
    <line v-if="standing === 'not required'" x1="3" x2="9" y1="18" y2="18" class="none" />
    <circle v-else-if="!shape" cx="6" cy="18" r="1" class="dot" />
    <rect v-else x="1" :y="19 - shape.h" width="10" :height="shape.h" :class="shape.fill" />
    <line v-if="standing === 'lapsed'" x1="0" y1="8" x2="12" y2="15" class="slash" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
  flex: none;
}

.full {
  fill: var(--within);
}

.three {
  fill: var(--within);
  opacity: 0.55;
}

.hollow {
  fill: none;
  stroke: var(--attend);
  stroke-width: 1.5;
}

.faint {
  fill: none;
  stroke: var(--soft);
  stroke-width: 1.5;
}

.cut {
  fill: var(--out);
}

.slash {
  stroke: var(--paper);
  stroke-width: 2.5;
}

.none {
  stroke: var(--hair);
  stroke-width: 1.5;
}

.dot {
  fill: var(--soft);
}
</style>
