<script setup lang="ts">
import { computed, onMounted, ref, shallowRef, watch } from 'vue'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import type { DeskView, Library, Pack } from '@/schema/schemas'
import CoverageView from '@/standards/CoverageView.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useTrying } from '@/shared/trying'

/** What the lists in force show of a pack, type by type. */
const props = defineProps<{ pack: Pack }>()
const { problem, tried } = useTrying()
const library = shallowRef<Library | null>(null)
const desk = shallowRef<DeskView | null>(null)
const chosen = ref('')
onMounted(() =>
  tried(async () => {
    library.value = await take(api.GET('/api/v1/library'))
    chosen.value = types.value[0]?.id ?? ''
  }),
)
const types = computed(() => (library.value?.types ?? []).filter((t) => props.pack.classes.includes(t.class)))
watch(chosen, (id) =>
  tried(async () => {
    if (id) desk.value = await take(api.GET('/api/v1/desk/{type}', { params: { path: { type: id } } }))
  }),
)
</script>

<template>
  <div>
    <ProblemNotice v-model="problem" />
    <nav class="types" aria-label="Aircraft types">
      <AppButton
        v-for="t in types"
        :key="t.id"
        :class="['quiet', { on: t.id === chosen }]"
        :data-type="t.id"
        @click="chosen = t.id"
      >
        {{ t.name }}
      </AppButton>
    </nav>
    <p v-if="library && !types.length" class="soft">No aircraft type in force is of a class of this pack.</p>
    <template v-if="desk?.lists[0]">
      <p class="soft">
        {{ desk.lists[0].title }}, version {{ desk.lists[0].version }}. Links are changed in a draft of the
        list, under Coverage.
      </p>
      <CoverageView :key="desk.type.id" :list="desk.lists[0]" :type="desk.type" :packs="[pack]" readonly />
    </template>
    <p v-else-if="desk" class="soft">The type has no list in force.</p>
  </div>
</template>

<style scoped>
.types {
  display: flex;
  flex-wrap: wrap;
}
</style>
