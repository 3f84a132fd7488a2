<script setup lang="ts">
import { computed, onMounted, shallowRef } from 'vue'

import { api, take, type Library } from '@/api/client'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TopBar from '@/shared/TopBar.vue'
import { useTrying } from '@/shared/trying'
import { dayWords, statusWords } from '@/shared/words'

/** The versions of the school's policy: which serves, which come, which were. */
const { problem, tried } = useTrying()
const library = shallowRef<Library | null>(null)
onMounted(() => tried(async () => (library.value = await take(api.GET('/api/v1/library')))))
const versions = computed(() =>
  (library.value?.versions ?? []).filter((v) => v.kind === 'policy').sort((a, b) => b.version - a.version),
)
const standing: Record<string, string> = {
  serving: 'serves today',
  coming: 'comes into force',
  earlier: 'an earlier version',
  withdrawn: 'withdrawn',
}
</script>

<template>
  <div class="place">
    <TopBar
      ><b>Policy</b> <span class="soft">what the school decides for itself, version by version</span></TopBar
    >
    <ProblemNotice v-model="problem" />
    <main v-if="library">
      <router-link
        v-for="v in versions"
        :key="v.version"
        :to="`/documents/policy/policy/${v.version}`"
        class="version"
        :data-version="v.version"
      >
        <b class="figure">v{{ v.version }}</b>
        <span :class="v.standing === 'serving' ? 'within' : 'soft'">
          {{ v.standing === 'serving' ? '● ' : '' }}{{ standing[v.standing] ?? statusWords[v.status] }}
        </span>
        <span class="soft">
          <template v-if="v.shipped">what the program begins with</template>
          <template v-else-if="v.inForceFrom"
            >from {{ dayWords(v.inForceFrom) }}, {{ v.approvedBy }}</template
          >
          <template v-else>{{ v.writtenBy }}</template>
        </span>
      </router-link>
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

.version {
  display: grid;
  grid-template-columns: 60px 220px minmax(0, 1fr);
  gap: 12px;
  text-decoration: none;
  min-height: 48px;
  align-items: center;
  border-bottom: 1px solid var(--fine);
}

@media (max-width: 600px) {
  .version {
    grid-template-columns: 50px minmax(0, 1fr);
  }

  .version > :last-child {
    grid-column: 2;
  }
}
</style>
