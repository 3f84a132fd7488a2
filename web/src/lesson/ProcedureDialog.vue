<script setup lang="ts">
import { computed, onUnmounted, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import type { Procedure } from '@/schema/schemas'
import { sound } from '@/lesson/sound'
import AppDialog from '@/shared/AppDialog.vue'

/** A short procedure, one step at a time, with its cautions in sight throughout. */
const props = defineProps<{ procedure: Procedure }>()
const emit = defineEmits<{ done: [] }>()
const at = ref(0)
const left = ref(0)
const step = computed(() => props.procedure.steps[at.value])
let ticking: ReturnType<typeof setInterval> | undefined

function hold() {
  clearInterval(ticking)
  left.value = step.value?.seconds ?? 0
  const end = performance.now() + left.value * 1000
  ticking = setInterval(() => {
    left.value = Math.max(0, Math.ceil((end - performance.now()) / 1000))
    if (left.value === 0) {
      clearInterval(ticking)
      sound('reached')
    }
  }, 200)
}

function go(by: number) {
  clearInterval(ticking)
  left.value = 0
  if (at.value + by >= props.procedure.steps.length) emit('done')
  else at.value = Math.max(0, at.value + by)
}
onUnmounted(() => clearInterval(ticking))
</script>

<template>
  <AppDialog :model-value="true" :title="procedure.title" :width="680" @update:model-value="emit('done')">
    <p v-for="c in procedure.cautions" :key="c" class="attend">▲ {{ c }}</p>
    <ol>
      <li v-for="(s, i) in procedure.steps" :key="i" :class="{ now: i === at, past: i < at }" :data-step="i">
        {{ s.do }} <span v-if="s.look" class="soft">Look: {{ s.look }}.</span>
        <b v-if="s.seconds" class="figure">{{ i === at && left ? left : s.seconds }} s</b>
      </li>
    </ol>
    <div class="go">
      <AppButton :disabled="at === 0" @click="go(-1)">Back</AppButton>
      <AppButton v-if="step?.seconds" data-action="hold" @click="hold">
        {{ left ? `${left} s` : 'Count it' }}
      </AppButton>
      <AppButton class="primary" data-action="next-step" @click="go(1)">
        {{ at === procedure.steps.length - 1 ? 'Done' : 'Next' }}
      </AppButton>
    </div>
    <p class="soft small">The approved handbook governs; this teaches.</p>
  </AppDialog>
</template>

<style scoped>
ol {
  padding-left: 22px;
}

li {
  padding: 6px 0;
  font-size: 17px;
}

.now {
  font-weight: 700;
  background: var(--live);
}

.past {
  color: var(--soft);
}

.go {
  display: flex;
  gap: 10px;
}

.go button {
  flex: 1;
  min-height: 72px;
}
</style>
