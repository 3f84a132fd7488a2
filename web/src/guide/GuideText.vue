<script setup lang="ts">
import AppButton from '@/base/AppButton.vue'
import type { Block } from '@/guide/guide'

/** The text of a page of the guide. */
defineProps<{ blocks: Block[] }>()
defineEmits<{ go: [page: string] }>()
const tags = { heading: 'h3', text: 'p', caution: 'p', list: 'ul', steps: 'ol' }
</script>

<template>
  <div class="guide-text">
    <component :is="tags[b.kind]" v-for="(b, i) in blocks" :key="i" :class="b.kind">
      <component
        :is="['list', 'steps'].includes(b.kind) ? 'li' : 'span'"
        v-for="(item, n) in b.items"
        :key="n"
      >
        <template v-for="(part, k) in item" :key="k">
          <AppButton v-if="part.page" class="link" :data-page="part.page" @click="$emit('go', part.page)">{{
            part.text
          }}</AppButton>
          <b v-else-if="part.kind === 'strong'">{{ part.text }}</b>
          <span v-else-if="part.kind === 'label'" class="label">{{ part.text }}</span>
          <kbd v-else-if="part.kind === 'key'">{{ part.text }}</kbd>
          <template v-else>{{ part.text }}</template>
        </template>
      </component>
    </component>
  </div>
</template>

<style scoped>
.guide-text {
  max-width: 68ch;
  line-height: 1.5;
}

h3 {
  margin: 22px 0 6px;
  font-size: 15px;
  font-weight: 700;
}

p,
ul,
ol {
  margin: 0 0 10px;
}

li {
  margin: 0 0 5px;
}

.label {
  font-weight: 700;
}

.caution {
  border-left: 3px solid var(--attend);
  padding-left: 10px;
}

kbd {
  font: inherit;
  font-size: 13px;
  border: 1px solid var(--hair);
  border-radius: 3px;
  padding: 0 6px;
}

.link {
  display: inline;
  min-height: 0;
  padding: 0;
  border: 0;
  background: none;
  font: inherit;
  color: inherit;
  text-decoration: underline;
}
</style>
