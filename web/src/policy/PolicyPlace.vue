<script setup lang="ts">
import { computed, onMounted, shallowRef } from 'vue'

import { api, take } from '@/api/client'
import type { Library } from '@/schema/schemas'
import VersionLine from '@/shared/VersionLine.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TopBar from '@/shared/TopBar.vue'
import { useTrying } from '@/shared/trying'

/** The versions of the school's policy: which serves, which come, which were. */
const { problem, tried } = useTrying()
const library = shallowRef<Library | null>(null)
onMounted(() => tried(async () => (library.value = await take(api.GET('/api/v1/library')))))
const versions = computed(() =>
  (library.value?.versions ?? []).filter((v) => v.kind === 'policy').sort((a, b) => b.version - a.version),
)
</script>

<template>
  <div class="place">
    <TopBar
      ><b>Policy</b> <span class="soft">what the school decides for itself, version by version</span></TopBar
    >
    <ProblemNotice v-model="problem" />
    <main v-if="library">
      <VersionLine v-for="v in versions" :key="v.version" :version="v" />
      <p class="soft">
        Open the version that serves to read what is decided and why; write a new version of it to change it.
        Lessons that are signed stay as they were signed; standings follow from the day a version comes into
        force.
      </p>
    </main>
  </div>
</template>

<style scoped>
main {
  padding: 12px 24px;
  max-width: 800px;
  display: grid;
  gap: 4px;
}
</style>
