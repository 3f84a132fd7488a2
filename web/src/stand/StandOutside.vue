<script setup lang="ts">
import { computed } from 'vue'

import type { StandSeen } from '@/schema/schemas'

/** What matters outside: the wind sock, the propeller area, who walks into it, who stands behind, the wheels. */
const props = defineProps<{ seen: StandSeen; rotor: boolean }>()
/** The sock stands out as the wind blows, and to the other side when it comes from behind. */
const sock = computed(() => {
  const full = Math.min(Math.abs(props.seen.windKt) / 15, 1)
  const out = 10 + 34 * full
  const side = props.seen.windKt < 0 ? -1 : 1
  return `M60 16 L${60 + side * out} ${40 - 22 * full} L${60 + side * out} ${46 - 22 * full} L60 26 Z`
})
const wind = computed(() => {
  const kt = Math.round(Math.abs(props.seen.windKt))
  if (!kt) return 'calm'
  return `${kt} kt from ${props.seen.windKt < 0 ? 'behind' : 'ahead'}`
})
const area = computed(() => (props.rotor ? 'rotor area' : 'propeller area'))
</script>

<template>
  <svg
    class="outside"
    viewBox="0 0 592 66"
    role="img"
    :aria-label="`Outside: wind ${wind}; ${area} ${seen.person ? 'not clear' : 'clear'}`"
    data-part="outside"
  >
    <line x1="0" x2="592" y1="52" y2="52" class="ground" />
    <line x1="60" x2="60" y1="14" y2="52" class="mast" />
    <path :d="sock" class="sock" />
    <text x="12" y="63">{{ wind }}</text>
    <circle cx="300" cy="34" r="17" class="area" />
    <circle cx="300" cy="34" r="4" class="hub" />
    <g v-if="seen.person" class="person" transform="translate(322 20)">
      <circle r="5" />
      <path d="M0 5 V20 M-8 10 H8 M0 20 L-6 32 M0 20 L6 32" />
    </g>
    <text x="346" y="32" :class="seen.person ? 'out' : 'within'">
      {{ seen.person ? '✕ somebody walks into the ' + area : area + ' clear' }}
    </text>
    <text x="346" y="48">
      {{
        seen.rollsKt > 0.3
          ? `▲ it rolls, ${seen.rollsKt.toFixed(1)} kt`
          : rotor
            ? 'on its skids'
            : 'wheels still'
      }}
    </text>
    <g v-if="seen.aircraft" class="behind">
      <path d="M160 46 H216 L222 40 M178 46 L168 36 M196 46 V40" />
      <text x="150" y="63" class="attend">▲ another aircraft behind</text>
    </g>
  </svg>
</template>

<style scoped>
.outside {
  width: 100%;
  height: auto;
  background: color-mix(in srgb, var(--within-wash) 45%, var(--sheet));
}

text {
  font-size: 13px;
  fill: var(--soft);
}

.within {
  fill: var(--within);
  font-weight: 700;
}

.attend {
  fill: var(--attend);
}

.out {
  fill: var(--out);
  font-weight: 700;
}

.ground,
.mast,
.behind path,
.person path,
.person circle {
  stroke: var(--soft);
  stroke-width: 1.6;
  fill: none;
}

.person path,
.person circle {
  stroke: var(--out);
  stroke-width: 2.2;
}

.sock {
  fill: var(--attend);
  opacity: 0.8;
}

.area {
  fill: none;
  stroke: var(--soft);
  stroke-dasharray: 3 4;
}

.hub {
  fill: var(--ink);
}
</style>
