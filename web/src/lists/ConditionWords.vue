<script setup lang="ts">
import 'element-plus/es/components/drawer/style/css'

import { ElDrawer } from 'element-plus'
import { ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import type { DeskView } from '@/schema/schemas'

/** What a condition may ask for, opened beside the list that is being written. */
defineProps<{ desk: DeskView }>()
const open = ref(false)
</script>

<template>
  <AppButton class="quiet" data-action="condition-words" @click="open = true">
    What a condition may ask for
  </AppButton>
  <ElDrawer v-model="open" title="What a condition may ask for" size="min(460px, 94vw)" append-to-body>
    <p class="soft">Joined by <span class="figure">and, or, not</span> and brackets.</p>
    <dl>
      <template v-for="v in desk.variables" :key="v.name">
        <dt class="figure">{{ v.name }}{{ v.takesName ? '(…)' : '' }}</dt>
        <dd>
          {{ v.label }}{{ v.unit ? ` in ${v.unit}` : '' }}
          <span v-if="v.choices" class="soft">{{ v.choices.join(', ') }}</span>
        </dd>
      </template>
    </dl>
  </ElDrawer>
</template>

<style scoped>
button {
  text-decoration: underline;
}

dd {
  margin: 0 0 8px;
}
</style>
