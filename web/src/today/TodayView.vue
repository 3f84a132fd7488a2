<script setup lang="ts">
import { onMounted, onUnmounted, ref } from 'vue'

import { api, Refused, take, type LessonRow, type Today } from '@/api/client'
import LessonLine from '@/today/LessonLine.vue'
import TopBar from '@/shared/TopBar.vue'
import { follow } from '@/shared/feed'
import { useSession } from '@/shared/session'
import { dayWords, decisionWords } from '@/shared/words'

const session = useSession()
const today = ref<Today | null>(null)
const problem = ref('')
async function load() {
  try {
    today.value = await take(api.GET('/api/v1/today'))
    problem.value = ''
  } catch (e) {
    problem.value = e instanceof Refused ? e.message : String(e)
  }
}

let leave: (() => void) | undefined
let gone = false
onMounted(async () => {
  await load()
  if (gone) return
  leave = follow(
    () => today.value?.cursor,
    () => void load(),
  )
})
onUnmounted(() => {
  gone = true
  leave?.()
})

const groups = (t: Today): { title: string; lessons: LessonRow[]; empty: string }[] => [
  { title: 'Running', lessons: t.running, empty: 'No lesson is running.' },
  { title: 'Waiting for a signature', lessons: t.unsigned, empty: 'Everything is signed.' },
  {
    title: 'Signed in the last two weeks',
    lessons: t.recent,
    empty: 'No lesson was signed in the last two weeks.',
  },
]
</script>

<template>
  <div class="place">
    <TopBar
      ><b>Today</b>
      <span class="soft">{{ session.current?.school }}, {{ today ? dayWords(today.day) : '' }}</span>
    </TopBar>
    <p v-if="problem" class="problem" role="alert">
      {{ problem }} <button class="quiet" @click="load">Try again</button>
    </p>
    <div v-if="today" class="columns">
      <main>
        <router-link v-if="session.may('briefing')" to="/lessons/new" class="open"
          ><span>Open a lesson</span></router-link
        >
        <section v-for="group in groups(today)" :key="group.title">
          <h2>{{ group.title }}</h2>
          <p v-if="!group.lessons.length" class="soft none">{{ group.empty }}</p>
          <LessonLine v-for="l in group.lessons" :key="l.id" :lesson="l" />
        </section>
      </main>
      <aside>
        <h2>Aircraft</h2>
        <p v-if="!today.aircraft.length" class="soft">The school has no aircraft yet.</p>
        <article v-for="a in today.aircraft" :key="a.registration">
          <p class="craft">
            <b>{{ a.registration }}</b> <span class="soft">{{ a.typeName }}, {{ a.base }}</span>
            <span v-if="a.grounded" class="out state">■ stays on the ground</span>
            <span v-else-if="a.findings.length" class="attend state">▲ {{ a.findings.length }} open</span>
            <span v-else class="within state">no open finding</span>
          </p>
          <p v-for="f in a.findings" :key="f.event" class="finding">
            {{ f.words }}
            <span class="soft">
              {{ dayWords(f.on) }}, {{ decisionWords[f.decision] ?? 'nobody has decided'
              }}{{ f.told ? `, told ${f.told}` : '' }}</span
            >
          </p>
        </article>
        <p class="soft caution">
          What stands here was measured and decided by people. The handbook and the operator’s rules govern.
        </p>
      </aside>
    </div>
  </div>
</template>

<style scoped>
.place {
  min-height: 100%;
  display: flex;
  flex-direction: column;
}

.columns {
  flex: 1;
  display: grid;
  grid-template-columns: minmax(0, 1.55fr) minmax(0, 1fr);
}

main {
  padding: 20px 24px;
}

aside {
  padding: 20px 24px;
  background: var(--sheet);
  border-left: 1px solid var(--hair);
}

.open {
  display: flex;
  align-items: center;
  justify-content: center;
  min-height: 72px;
  background: var(--primary);
  color: var(--on-primary);
  border-radius: 3px;
  font-size: 22px;
  font-weight: 700;
  text-decoration: none;
  margin-bottom: 12px;
}

h2 {
  font-size: 18px;
  font-weight: 700;
  padding: 12px 0 8px;
  border-bottom: 1px solid var(--ink);
}

.none {
  padding: 12px 0;
}

.craft {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  align-items: baseline;
  padding-top: 14px;
}

.craft b {
  font-size: 22px;
}

.state {
  margin-left: auto;
  font-weight: 700;
}

.finding {
  padding: 4px 0 0;
}

article {
  padding-bottom: 14px;
  border-bottom: 1px solid var(--fine);
}

.caution {
  font-size: 13px;
  padding-top: 16px;
}

.place > .problem {
  margin: 12px 24px;
}

@media (max-width: 900px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }

  aside {
    border-left: 0;
    border-top: 1px solid var(--hair);
  }
}

@media (max-width: 500px) {
  main,
  aside {
    padding: 12px;
  }
}
</style>
