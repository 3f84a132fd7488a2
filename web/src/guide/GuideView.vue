<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { useRouter } from 'vue-router'

import AppInput from '@/base/AppInput.vue'
import GuideText from '@/guide/GuideText.vue'
import { found, loadGuide, pages, type Page } from '@/guide/guide'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import TopBar from '@/shared/TopBar.vue'
import { useSession } from '@/shared/session'
import { useTrying } from '@/shared/trying'

/** The whole guide: its pages at one side, the one that is read at the other, and a search. */
const props = defineProps<{ page?: string }>()
const session = useSession()
const router = useRouter()
const { problem, tried } = useTrying()
onMounted(() => tried(loadGuide))
const asked = ref('')
const shown = computed(() => found(pages.value, asked.value))
const parts = computed(() => {
  const of = (words: string, all: Page[]) => ({ words, all })
  return [
    of(
      '',
      shown.value.filter((p) => !p.role && !p.places.length),
    ),
    of(
      'For each role',
      shown.value.filter((p) => p.role),
    ),
    of(
      'For each place',
      shown.value.filter((p) => p.places.length),
    ),
  ].filter((part) => part.all.length)
})
/** A page that was asked for stays; without one the first of one's own roles. */
const own = computed(() => pages.value.find((p) => session.current?.roles?.includes(p.role))?.id ?? 'about')
const page = computed(
  () =>
    (asked.value && !shown.value.some((p) => p.id === props.page) ? shown.value[0] : undefined) ??
    pages.value.find((p) => p.id === (props.page || own.value)),
)
const go = (id: string) => router.push(`/help/${id}`)
watch(page, () => scrollTo(0, 0))
</script>

<template>
  <div class="place">
    <TopBar v-if="session.current"><b>Help</b></TopBar>
    <header v-else class="bare"><b>Help</b> <router-link to="/sign-in">Sign in</router-link></header>
    <ProblemNotice v-model="problem" />
    <main v-if="pages.length" class="guide" :class="{ asking: asked }">
      <AppInput
        class="search"
        v-model="asked"
        type="search"
        name="guide-search"
        aria-label="Search the guide"
        placeholder="Search the guide"
      />
      <nav aria-label="Pages of the guide">
        <p v-if="!shown.length" class="soft">No page has all of these words.</p>
        <template v-for="part in parts" :key="part.words">
          <h2 v-if="part.words">{{ part.words }}</h2>
          <router-link
            v-for="p in part.all"
            :key="p.id"
            :to="`/help/${p.id}`"
            :class="{ chosen: p.id === page?.id }"
            :data-page="p.id"
            >{{ p.title }}</router-link
          >
        </template>
        <a class="print" href="/api/v1/guide.pdf" download data-action="print-guide">Print the guide</a>
      </nav>
      <article v-if="page" data-part="guide-page">
        <h1>{{ page.title }}</h1>
        <p class="soft">{{ page.about }}</p>
        <GuideText :blocks="page.blocks" @go="go" />
      </article>
    </main>
  </div>
</template>

<style scoped>
.guide {
  display: grid;
  grid-template: 'search article' auto 'pages article' 1fr / 250px minmax(0, 1fr);
  gap: 12px 48px;
  align-items: start;
  padding: 24px;
}

.search {
  grid-area: search;
}

nav {
  grid-area: pages;
  display: grid;
  gap: 2px;
}

article {
  grid-area: article;
}

nav h2 {
  margin: 14px 0 4px;
  font-size: 13px;
  color: var(--soft);
}

nav a {
  padding: 4px 0 4px 10px;
  border-left: 3px solid transparent;
  text-decoration: none;
}

nav a.chosen {
  border-left-color: var(--ink);
  font-weight: 700;
}

nav .print {
  margin-top: 18px;
  text-decoration: underline;
}

h1 {
  font-size: 22px;
  font-weight: 700;
  margin: 0 0 4px;
}

.bare {
  display: flex;
  justify-content: space-between;
  padding: 14px 24px;
  border-bottom: 1px solid var(--hair);
}

@media (max-width: 760px) {
  .guide {
    grid-template: 'search' 'article' 'pages' / minmax(0, 1fr);
    padding: 12px;
  }

  .asking {
    grid-template: 'search' 'pages' 'article' / minmax(0, 1fr);
  }
}
</style>
