<script setup lang="ts">
import { computed, defineAsyncComponent, onMounted, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'

import { api, take } from '@/api/client'
import AppButton from '@/base/AppButton.vue'
import type { Library, Version } from '@/schema/schemas'
import VersionLine from '@/shared/VersionLine.vue'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TopBar from '@/shared/TopBar.vue'
import { useSession } from '@/shared/session'
import { useTrying } from '@/shared/trying'

const ImportDialog = defineAsyncComponent(() => import('@/shared/ImportDialog.vue'))

/** The standards packs, edition by edition: those that ship and the school's own. */
const session = useSession()
const router = useRouter()
const { problem, tried } = useTrying()
const library = shallowRef<Library | null>(null)
onMounted(() => tried(async () => (library.value = await take(api.GET('/api/v1/library')))))
/** Another pack with the same elements, to be changed: its own id and title. */
const copy = (v: Version) =>
  tried(async () => {
    const path = { kind: 'pack' as const, id: v.id, version: v.version }
    const view = await take(api.GET('/api/v1/library/{kind}/{id}/{version}', { params: { path } }))
    const taken = new Set(packs.value.map((p) => p.id))
    let n = 1
    while (taken.has(`${v.id}-own-${n}`)) n++
    const own = { ...(view.document as object), id: `${v.id}-own-${n}`, title: `${v.title}, our own` }
    const made = await take(
      api.POST('/api/v1/library/{kind}', { params: { path: { kind: 'pack' } }, body: { document: own } }),
    )
    await router.push(`/documents/pack/${made.id}/${made.version}`)
  })
const importing = ref(false)
const packs = computed(() => {
  const all = (library.value?.versions ?? []).filter((v) => v.kind === 'pack')
  const ids = [...new Set(all.map((v) => v.id))]
  return ids.map((id) => ({
    id,
    versions: all.filter((v) => v.id === id).sort((a, b) => b.version - a.version),
  }))
})
</script>

<template>
  <div class="place">
    <TopBar><b>Standards</b> <span class="soft">what students are held to, edition by edition</span></TopBar>
    <ProblemNotice v-model="problem" />
    <main v-if="library">
      <section v-for="p in packs" :key="p.id">
        <h2>
          {{ p.versions[0]!.title }}
          <AppButton
            v-if="session.may('add-draft')"
            class="quiet"
            :data-copy="p.id"
            @click="copy(p.versions[0]!)"
          >
            copy as one of our own
          </AppButton>
        </h2>
        <VersionLine v-for="v in p.versions" :key="v.version" :version="v" />
      </section>
      <p v-if="session.may('add-draft')">
        <AppButton data-action="import" @click="importing = true">Bring in a pack</AppButton>
      </p>
      <ImportDialog
        v-if="importing"
        v-model="importing"
        :kinds="['pack']"
        words="A pack as YAML or JSON, or its elements as a table (CSV)."
      />
      <p class="soft">
        A pack is a paraphrase for training records; the published standard governs. Open one to read it, to
        see what your lists show of it, or to write a new version: your own words, another edition, more
        elements.
      </p>
    </main>
  </div>
</template>

<style scoped>
main {
  padding: 12px 24px;
  max-width: 860px;
  display: grid;
  gap: 14px;
}

h2 {
  font-size: 18px;
  font-weight: 700;
  border-bottom: 1px solid var(--ink);
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}

h2 button {
  font-weight: 400;
  font-size: 15px;
  text-decoration: underline;
  color: var(--soft);
}
</style>
