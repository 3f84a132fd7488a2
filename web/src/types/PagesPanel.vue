<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'

import AppButton from '@/base/AppButton.vue'
import AppCheck from '@/base/AppCheck.vue'
import type { AircraftType, Version } from '@/schema/schemas'
import { ready, rules } from '@/rules/rules'
import { useSession } from '@/shared/session'

/** The numbers in the order of the handbook, for the second person to hold to its pages. */
const props = defineProps<{ type: AircraftType; meta: Version; writer: boolean; busy: boolean }>()
const emit = defineEmits<{ confirm: [paths: string[]] }>()
const session = useSession()
const loaded = ref(false)
onMounted(async () => {
  await ready('rules')
  loaded.value = true
})
const sheet = computed(() => (loaded.value ? rules.sheet(props.type) : null))
const paths = computed(() => sheet.value?.pages.flatMap((p) => p.rows.map((r) => r.path)) ?? [])
const compared = ref<string[]>([])
const left = computed(() => paths.value.filter((p) => !compared.value.includes(p)).length)
const mine = computed(() => props.meta.writers.includes(session.current!.account))
const tick = (path: string, on: boolean) =>
  (compared.value = on ? [...compared.value, path] : compared.value.filter((p) => p !== path))
const off = computed(() => sheet.value?.parts.filter((p) => p.check && !p.judged) ?? [])
const open = computed(() => props.meta.status === 'draft' && props.writer && !mine.value)
</script>

<template>
  <section v-if="sheet" class="pages" aria-label="Page by page">
    <p v-if="meta.reviewedBy" class="within">● held to the pages by {{ meta.reviewedBy }}</p>
    <template v-else>
      <p v-if="mine" class="attend" data-part="second">
        ▲ You wrote on this version. Somebody else who teaches holds it to the pages; the first lesson waits
        for that.
      </p>
      <p v-else-if="sheet.waits.length" class="attend">
        ▲ Cannot be confirmed yet: {{ sheet.waits.join(', ') }}.
      </p>
      <p v-else>Handbook on the knee: touch each number that is the page’s own.</p>
    </template>
    <p v-for="p in off" :key="p.id" class="attend">
      ▲ {{ p.title }} is left off the list. Missing: {{ p.lacks }} of {{ p.of }} limits.
    </p>
    <div v-for="p in sheet.pages" :key="p.page" class="page">
      <h3 class="ruled">
        {{ p.page === 'our habit' ? 'Our habit, on no page' : `Page ${p.page}` }}
        <AppButton
          v-if="open"
          class="quiet"
          :data-page="p.page"
          @click="compared = [...new Set([...compared, ...p.rows.map((r) => r.path)])]"
        >
          all of this page are as it has them
        </AppButton>
      </h3>
      <label v-for="r in p.rows" :key="r.path" class="row">
        <AppCheck
          v-if="open"
          :name="r.path"
          :model-value="compared.includes(r.path)"
          @update:model-value="tick(r.path, $event!)"
        />
        <span>{{ r.label }}</span><b class="figure">{{ r.text }}</b
        ><span class="soft">{{ r.unit }}</span>
      </label>
    </div>
    <p v-if="!sheet.pages.length" class="soft">No number names its page yet.</p>
    <AppButton
      v-if="open"
      class="primary"
      :disabled="busy || left > 0 || sheet.waits.length > 0"
      data-action="confirm-type"
      @click="emit('confirm', compared)"
    >
      {{ left ? `${left} numbers are not compared yet` : 'I held every number to its page' }}
    </AppButton>
  </section>
</template>

<style scoped>
.pages {
  display: grid;
  gap: 10px;
  max-width: 760px;
}

h3 {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}

h3 button {
  min-height: 40px;
  text-decoration: underline;
}

.row {
  display: grid;
  grid-template-columns: 28px minmax(0, 1fr) 110px 60px;
  gap: 10px;
  align-items: center;
  min-height: 40px;
  border-bottom: 1px solid var(--fine);
}

.row > :first-child:not(input) {
  grid-column: span 2;
}

.row b {
  text-align: right;
  font-size: 18px;
}

.row input {
  width: 22px;
  height: 22px;
  accent-color: var(--ink);
}
</style>
