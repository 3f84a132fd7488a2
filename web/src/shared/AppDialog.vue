<script setup lang="ts">
import 'element-plus/theme-chalk/el-dialog.css'
import 'element-plus/theme-chalk/el-overlay.css'

import { ElDialog } from 'element-plus'

/** The one dialog: as wide as it needs, never wider than the screen. */
defineProps<{ title: string; width?: number }>()
const open = defineModel<boolean>({ required: true })
</script>

<template>
  <ElDialog v-model="open" :title="title" :width="`min(${width ?? 700}px, 94vw)`" append-to-body>
    <slot />
    <template v-if="$slots.footer" #footer><slot name="footer" /></template>
  </ElDialog>
</template>
