<script setup lang="ts">
import 'element-plus/es/components/checkbox/style/css'

import { ElCheckbox, ElCheckboxGroup } from 'element-plus'
import { computed, ref, watch } from 'vue'

import AppText from '@/base/AppText.vue'
import type { Schemas } from '@/schema/schemas'

/** The brief as it is said: what was heard of it is ticked, and what was said is held to the sheet. */
const props = defineProps<{ sentences: Schemas['CalcSheet']['sentences'] }>()
const said = defineModel<string>({ required: true })
const heard = ref<string[]>([])
watch(
  () => props.sentences,
  (now) => (heard.value = heard.value.filter((h) => now.some((s) => s.element === h))),
)
const missing = computed(() => props.sentences.filter((s) => !heard.value.includes(s.element)))
</script>

<template>
  <div data-part="brief">
    <h2>
      The brief, as it is said
      <span class="soft small">tick what you hear: {{ heard.length }} of {{ sentences.length }}</span>
    </h2>
    <ElCheckboxGroup v-model="heard" class="sentences">
      <ElCheckbox v-for="s in sentences" :key="s.element" :value="s.element" :data-element="s.element"
        >{{ s.text }}<small class="soft">{{ s.sources.join(', ') }}</small
        ><small v-if="s.missing" class="attend">▲ not said: {{ s.missing.join(', ') }}</small></ElCheckbox
      >
    </ElCheckboxGroup>
    <label class="said"
      >What the student said, typed: its numbers are held to the sheet’s
      <AppText v-model="said" rows="2" name="said" maxlength="4000" />
    </label>
    <p v-if="heard.length && missing.length" class="attend" data-part="missing">
      ▲ Not heard: {{ missing.map((s) => s.element.replaceAll('-', ' ')).join(', ') }}.
    </p>
    <p v-else-if="heard.length" class="within">● Every element was heard.</p>
  </div>
</template>

<style scoped>
textarea {
  font: 16px var(--figures);
}

h2 {
  font-size: 18px;
  font-weight: 700;
  border-bottom: 1px solid var(--ink);
}

.sentences .el-checkbox {
  display: flex;
  height: auto;
  margin: 0;
  padding: 5px 0;
  border-bottom: 1px solid var(--fine);
  white-space: normal;
}

.sentences :deep(.el-checkbox__input) {
  align-self: start;
  margin-top: 3px;
}

.sentences :deep(.el-checkbox__label) {
  font-size: 17px;
  line-height: 1.3;
}

small {
  display: block;
  font-size: 12px;
}
</style>
