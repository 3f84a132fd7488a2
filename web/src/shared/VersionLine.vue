<script setup lang="ts">
import type { Version } from '@/schema/schemas'
import { dayWords, standingOfVersion } from '@/shared/words'

/** One version of a document of the whole school: how it stands today, and by whom. */
defineProps<{ version: Version }>()
</script>

<template>
  <router-link
    :to="`/documents/${version.kind}/${version.id}/${version.version}`"
    class="version"
    :data-version="`${version.id} ${version.version}`"
  >
    <b class="figure">v{{ version.version }}</b>
    <span :class="version.standing === 'serving' ? 'within' : 'soft'">
      {{ version.standing === 'serving' ? '● ' : '' }}{{ standingOfVersion[version.standing] }}
    </span>
    <span class="soft">
      <template v-if="version.shipped">ships with the program</template>
      <template v-else-if="version.inForceFrom"
        >from {{ dayWords(version.inForceFrom) }}, {{ version.approvedBy }}</template
      >
      <template v-else>{{ version.writtenBy }}</template>
    </span>
  </router-link>
</template>

<style scoped>
.version {
  display: grid;
  grid-template-columns: 60px 200px minmax(0, 1fr);
  gap: 12px;
  text-decoration: none;
  min-height: 46px;
  align-items: center;
  border-bottom: 1px solid var(--fine);
}

@media (max-width: 600px) {
  .version {
    grid-template-columns: 46px minmax(0, 1fr);
  }

  .version > :last-child {
    grid-column: 2;
  }
}
</style>
