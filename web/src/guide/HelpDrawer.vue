<script setup lang="ts">
import 'element-plus/es/components/drawer/style/css'

import { ElDrawer } from 'element-plus'
import { computed, onMounted, onUnmounted } from 'vue'
import { useRoute } from 'vue-router'

import GuideText from '@/guide/GuideText.vue'
import { loadGuide, pageOf, pages } from '@/guide/guide'
import { help } from '@/shared/help'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useTrying } from '@/shared/trying'

/** The page of the guide about the place where somebody is, beside it. */
const route = useRoute()
const { problem, tried } = useTrying()
onMounted(() => tried(loadGuide))
onUnmounted(() => (help.page = ''))
const page = computed(() => {
  const id = help.page || pageOf(pages.value, route.meta.place ?? '')
  return pages.value.find((p) => p.id === id)
})
/** Others that explain the same place. */
const besides = computed(() =>
  pages.value.filter((p) => p.id !== page.value?.id && p.places.includes(route.meta.place ?? '')),
)
</script>

<template>
  <ElDrawer
    v-model="help.open"
    :title="page?.title ?? 'Help'"
    size="min(520px, 96vw)"
    append-to-body
    data-part="help"
  >
    <ProblemNotice v-model="problem" />
    <template v-if="page">
      <p class="soft">{{ page.about }}</p>
      <GuideText :blocks="page.blocks" @go="help.page = $event" />
      <p v-if="besides.length" class="more">
        Also about this place:
        <template v-for="(p, i) in besides" :key="p.id"
          >{{ i ? ', ' : ''
          }}<router-link :to="`/help/${p.id}`" @click="help.open = false">{{
            p.title
          }}</router-link></template
        >
      </p>
    </template>
    <p class="more">
      <router-link :to="`/help/${page?.id ?? ''}`" data-action="whole-guide" @click="help.open = false"
        >The whole guide, with a search</router-link
      >
    </p>
  </ElDrawer>
</template>

<style scoped>
.more {
  border-top: 1px solid var(--hair);
  margin-top: 16px;
  padding-top: 10px;
}
</style>
