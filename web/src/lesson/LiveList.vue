<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'

import AppButton from '@/base/AppButton.vue'
import ListLine from '@/lesson/ListLine.vue'
import type { Aid } from '@/schema/schemas'
import type { Place } from '@/lesson/places'
import { markTone, markWords, reasonShape, reasonWords } from '@/shared/words'

/** The list moves under the live item, which stays where it is. */
const props = defineProps<{
  places: Place[]
  index: number
  before: number
  /** The memory aid of the phase, and the response aloud, for the method of two people. */
  aid?: Aid
  aloud: boolean
  closed: boolean
  /** A maintenance run passes nothing, and has no student. */
  run: boolean
}>()
const emit = defineEmits<{ open: [item: string]; pass: [] }>()
const now = computed(() => props.places[props.index])
const above = ref<HTMLElement>()
const below = ref<HTMLElement>()

watch(
  () => props.index,
  async () => {
    await nextTick()
    if (above.value) above.value.scrollTop = above.value.scrollHeight
    if (below.value) below.value.scrollTop = 0
  },
  { immediate: true },
)
/** The lines of the list: places worked side by side make one. */
const lines = computed(() => [...new Set(props.places.map((p) => p.mates))])
const at = computed(() => (now.value ? lines.value.indexOf(now.value.mates) : 0))
const earlier = computed(() => lines.value.slice(0, at.value))
const later = computed(() => lines.value.slice(at.value + 1))
const ordinal = (n: number) => ['first', 'second', 'third', 'fourth', 'fifth'][n] ?? `${n + 1}th`
</script>

<template>
  <section v-if="now" class="list" aria-label="Checklist">
    <div ref="above" class="above">
      <ListLine
        v-for="mates in earlier"
        :key="mates[0]!.item.id"
        v-memo="[mates]"
        :mates="mates"
        @open="emit('open', $event)"
      />
    </div>
    <div class="live" aria-live="polite">
      <p class="small soft head">
        <span class="figure">{{ now.number }}&ensp;{{ now.kind }}</span>
        <span v-if="aid" :title="aid.title"
          ><span
            v-for="l in aid.letters"
            :key="l.letter + l.word"
            :class="['letter figure', { here: l.items?.includes(now.item.of || now.item.id) }]"
            >{{ l.letter }}</span
          ></span
        >
        <span v-else-if="!run">{{ ordinal(before) }} lesson for this student</span>
        <AppButton v-if="!closed && !run" class="quiet pass" data-action="pass-phase" @click="emit('pass')">
          rest of the phase is right
        </AppButton>
      </p>
      <h2>{{ now.mates.length > 1 ? now.challenge : now.item.challenge }}</h2>
      <div v-if="now.mates.length > 1" class="engines" role="group" aria-label="Engines side by side">
        <AppButton
          v-for="m in now.mates"
          :key="m.item.id"
          :class="{ chosen: m === now }"
          :aria-pressed="m === now"
          :data-engine="m.item.engine"
          @click="emit('open', m.item.id)"
        >
          {{ m.engine }}
          <b :class="m === now ? '' : markTone(m.state.mark)">{{ markWords[m.state.mark] ?? '' }}</b>
        </AppButton>
      </div>
      <p class="response">
        <span v-if="aloud" class="soft small">student answers: </span>{{ now.item.response }}
        <b v-if="now.state.mark" :class="markTone(now.state.mark)">{{ markWords[now.state.mark] }}</b>
      </p>
      <p v-if="now.item.caution" class="attend caution">▲ {{ now.item.caution }}</p>
      <p class="soft why">{{ now.item.why }}</p>
      <p v-for="(r, i) in now.why" :key="i" class="small reason" data-part="reason">
        <b>{{ reasonShape[r.kind] }} {{ reasonWords[r.kind] }}</b>
        <template v-if="r.title"> by {{ r.title }}</template>
        <template v-if="r.why">: {{ r.why }}</template>
        <template v-if="r.because"> [{{ r.because }}]</template>
      </p>
    </div>
    <div ref="below" class="below">
      <ListLine
        v-for="mates in later"
        :key="mates[0]!.item.id"
        v-memo="[mates]"
        :mates="mates"
        soft
        @open="emit('open', $event)"
      />
    </div>
  </section>
</template>

<style scoped>
.list {
  display: grid;
  grid-template-rows: 136px minmax(224px, auto) minmax(0, 1fr);
  min-height: 0;
}

.list > * {
  contain: content;
}

.above,
.below {
  overflow: hidden auto;
  scrollbar-width: none;
  min-height: 0;
}

.above {
  display: flex;
  flex-direction: column;
}

.above > :first-child {
  margin-top: auto;
}

.live {
  background: var(--live);
  border-block: 2px solid var(--ink);
  padding: 10px 24px;
  overflow: hidden;
}

.engines {
  display: grid;
  grid-auto-flow: column;
  grid-auto-columns: minmax(0, 1fr);
  gap: 8px;
  margin: 4px 0;
}

.engines button {
  min-height: 44px;
  padding: 2px 10px;
}

.letter {
  padding: 0 4px;
}

.pass {
  min-height: 28px;
  padding: 0 4px;
  text-decoration: underline;
}

.letter.here {
  font-weight: 700;
  color: var(--ink);
  border-bottom: 2px solid var(--ink);
}

.reason {
  line-height: 1.25;
  border-left: 3px solid var(--hair);
  padding-left: 8px;
  margin-top: 3px;
}

.head {
  display: flex;
  justify-content: space-between;
}

h2 {
  font-size: 26px;
  font-weight: 700;
  line-height: 1.25;
}

.response {
  font-size: 19px;
  line-height: 1.3;
}

.caution {
  font-size: 15px;
  font-weight: 700;
}

.why {
  margin-top: 4px;
  line-height: 1.3;
}

@media (max-width: 800px) {
  .list {
    grid-template-rows: 46px minmax(150px, auto) 91px;
  }

  .list.roomy {
    grid-template-rows: 46px minmax(150px, auto) minmax(0, 1fr);
  }

  .live {
    padding: 8px 12px;
  }
}

@media (max-width: 560px) {
  .list {
    grid-template-rows: 0 auto 46px;
  }

  .list.roomy {
    grid-template-rows: 0 auto minmax(0, 1fr);
  }

  h2 {
    font-size: 22px;
  }
}
</style>
