<script setup lang="ts">
import { onMounted, ref, watch } from 'vue'

import AppButton from '@/base/AppButton.vue'
import type { Schemas } from '@/schema/schemas'
import { theme } from '@/theme/theme'
import { SAMPLES } from './traces'

/** A gauge and its last 90 seconds, with its normal band: a drop is seen. */
const props = defineProps<{
  gauge: Schemas['StandPanelGauge']
  value: number
  beyond: boolean
  /** Drawn taller: the one that is watched most, or those in view. */
  tall: boolean
  /** Its figure is not seen from here: it has to be looked at. */
  hidden?: boolean
  trace: number[]
  /** Grows with every sample: what is drawn follows it. */
  drawn: number
}>()
const emit = defineEmits<{ look: [] }>()
const canvas = ref<HTMLCanvasElement>()
function draw() {
  const c = canvas.value
  const paint = c?.getContext('2d')
  if (!c || !paint) return
  const scale = devicePixelRatio
  const [w, h] = [c.clientWidth, c.clientHeight]
  if (c.width !== w * scale || c.height !== h * scale) {
    c.width = w * scale
    c.height = h * scale
  }
  const style = getComputedStyle(c)
  const { from, to, low, high } = props.gauge
  const y = (v: number) => h - (h * (Math.min(Math.max(v, from), to) - from)) / (to - from)
  paint.setTransform(scale, 0, 0, scale, 0, 0)
  paint.clearRect(0, 0, w, h)
  if (low !== undefined || high !== undefined) {
    paint.globalAlpha = 0.14
    paint.fillStyle = style.getPropertyValue('--within')
    paint.fillRect(0, y(high ?? to), w, y(low ?? from) - y(high ?? to))
    paint.globalAlpha = 1
  }
  paint.strokeStyle = style.color
  paint.lineWidth = 2
  paint.beginPath()
  props.trace.forEach((v, i) => {
    const x = w - ((props.trace.length - 1 - i) * w) / SAMPLES
    if (i) paint.lineTo(x, y(v))
    else paint.moveTo(x, y(v))
  })
  paint.stroke()
}
watch([() => props.drawn, theme], draw, { flush: 'post' })
onMounted(draw)
</script>

<template>
  <div :class="['gauge', { tall }]" :data-gauge="gauge.id" @click="emit('look')">
    <span class="name">{{ gauge.label }}</span>
    <AppButton v-if="hidden" class="quiet" :aria-label="`look at ${gauge.label}`">look</AppButton>
    <b v-else :class="['figure', { attend: beyond }]"
      >{{ beyond ? '▲ ' : '' }}{{ value.toFixed(gauge.decimals) }}
      <span class="soft">{{ gauge.unit }}</span></b
    >
    <canvas ref="canvas" aria-hidden="true"></canvas>
  </div>
</template>

<style scoped>
.gauge {
  display: grid;
  grid-template: auto auto / 140px minmax(0, 1fr);
  column-gap: 12px;
  align-items: center;
}

.name {
  font-size: 14px;
  line-height: 1.15;
  align-self: end;
}

b {
  font-size: 20px;
  align-self: start;
}

.quiet {
  justify-self: start;
  min-height: 28px;
  padding: 0 10px;
}

b span {
  font-size: 13px;
  font-weight: 400;
}

canvas {
  grid-area: 1 / 2 / 3 / 3;
  width: 100%;
  height: 50px;
  border: 1px solid var(--fine);
  background: var(--sheet);
}

.tall canvas {
  height: 104px;
}

@media (max-width: 1000px) {
  .gauge {
    grid-template-columns: 112px minmax(0, 1fr);
  }

  .gauge b {
    font-size: 17px;
  }

  .gauge canvas {
    height: 40px;
  }

  .gauge.tall canvas {
    height: 64px;
  }
}
</style>
