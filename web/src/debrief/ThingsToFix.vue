<script setup lang="ts">
import { useItemName } from '@/debrief/names'
import type { Schemas } from '@/schema/schemas'

/** The few things to fix next time, the worst first, with what to practise. */
defineProps<{ fixes: Schemas['LessonFix'][] }>()
const name = useItemName()
const counted = ['One thing', 'Two things', 'Three things']
</script>

<template>
  <section class="part" data-part="worst">
    <h2>{{ counted[fixes.length - 1] }} to fix</h2>
    <div v-for="(f, i) in fixes" :key="f.item" class="fix">
      <b class="nth figure">{{ i + 1 }}</b>
      <p>
        <b>{{ name(f.item) }}</b>
        <span class="block"
          >{{ f.why }} <span class="figure">{{ f.measured }}</span></span
        >
        <span v-if="f.lately" class="block soft" data-part="lately">{{ f.lately }}</span>
        <span v-if="f.practise" class="block within">
          practise:
          <router-link v-if="f.check" :to="`/reference/${f.check}`">{{ f.practise }}</router-link>
          <template v-else>{{ f.practise }}</template>
        </span>
      </p>
    </div>
  </section>
</template>

<style scoped>
.fix {
  display: grid;
  grid-template-columns: 30px minmax(0, 1fr);
}

.nth {
  font-size: 22px;
}
</style>
