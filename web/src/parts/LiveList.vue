<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'

import type { Place } from '../stores/lesson'
import { markTone, markWords } from '../words'

/** The list moves under the live item, which stays where it is. */
const props = defineProps<{ places: Place[]; index: number; before: number }>()
const emit = defineEmits<{ open: [item: string] }>()
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
const kind = (p: Place) =>
  [p.item.check ? 'measured' : '', p.item.critical ? 'critical' : ''].filter(Boolean).join(', ') || 'item'
const ordinal = (n: number) => ['first', 'second', 'third', 'fourth', 'fifth'][n] ?? `${n + 1}th`
</script>

<template>
  <section v-if="now" class="list" aria-label="Checklist">
    <div ref="above" class="above">
      <button
        v-for="p in places.slice(0, index)"
        :key="p.item.id"
        class="row"
        @click="emit('open', p.item.id)"
      >
        <span class="mono soft">{{ p.number }}</span>
        <span>{{ p.item.challenge }}</span>
        <span
          >{{ p.item.response }}
          <b :class="markTone(p.state.mark)">{{ markWords[p.state.mark] ?? '' }}</b></span
        >
      </button>
    </div>
    <div class="live" aria-live="polite">
      <p class="small soft head">
        <span class="mono">{{ now.number }}&ensp;{{ kind(now) }}</span>
        <span>{{ ordinal(before) }} lesson for this student</span>
      </p>
      <h2>{{ now.item.challenge }}</h2>
      <p class="response">
        {{ now.item.response }}
        <b v-if="now.state.mark" :class="markTone(now.state.mark)">{{ markWords[now.state.mark] }}</b>
      </p>
      <p v-if="now.item.caution" class="attend caution">▲ {{ now.item.caution }}</p>
      <p class="soft why">{{ now.item.why }}</p>
    </div>
    <div ref="below" class="below">
      <button
        v-for="p in places.slice(index + 1)"
        :key="p.item.id"
        class="row"
        @click="emit('open', p.item.id)"
      >
        <span class="mono soft">{{ p.number }}</span>
        <span>{{ p.item.challenge }}</span>
        <span class="soft"
          >{{ p.item.response }}
          <b :class="markTone(p.state.mark)">{{ markWords[p.state.mark] ?? '' }}</b></span
        >
      </button>
    </div>
  </section>
</template>

<style scoped>
.list {
  display: grid;
  grid-template-rows: 136px 196px minmax(0, 1fr);
  min-height: 0;
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

.row {
  flex: none;
  display: grid;
  grid-template-columns: 56px minmax(0, 1fr) minmax(0, 1fr);
  gap: 8px;
  align-items: center;
  width: 100%;
  min-height: 45px;
  padding: 2px 24px;
  border: 0;
  border-radius: 0;
  background: none;
  text-align: left;
  line-height: 1.2;
}

.live {
  background: var(--live);
  border-block: 2px solid var(--ink);
  padding: 10px 24px;
  overflow: hidden;
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

  .row {
    padding: 2px 12px;
  }

  .live {
    padding: 8px 12px;
  }
}

@media (max-width: 560px) {
  .list {
    grid-template-rows: 0 auto 46px;
  }

  h2 {
    font-size: 22px;
  }
}
</style>
