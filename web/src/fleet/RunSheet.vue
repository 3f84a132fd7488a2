<script setup lang="ts">
import { computed } from 'vue'

import AppButton from '@/base/AppButton.vue'
import SignBox from '@/sign-in/SignBox.vue'
import FindingBehind from '@/lesson/FindingBehind.vue'
import { useLesson } from '@/lesson/lesson'
import type { Again } from '@/lesson/signing'
import { rules } from '@/rules/rules'
import ProblemNotice from '@/shared/ProblemNotice.vue'
import { useTrying } from '@/shared/trying'
import { count, dayWords, decisionWords, outcomeTone, outcomeWords, shape } from '@/shared/words'

/** What a maintenance run measured, and its signature. */
const props = defineProps<{ id: string }>()
const lesson = useLesson()
const { problem, busy, tried } = useTrying()
const state = computed(() => lesson.state!)
const signed = computed(() => state.value.seals.length > 0)
const mine = computed(() => lesson.view?.mine === true)
const name = (item?: string) => lesson.places.find((p) => p.item.id === item)?.item.challenge ?? ''
/** The instrument of each check as it was read last: its numbers stand beside the verdict. */
const newest = computed(() =>
  Object.fromEntries(
    lesson.places
      .filter((p) => state.value.readings.some((r) => r.item === p.item.id))
      .map((p) => [p.item.id, rules.panel(p.item.id)]),
  ),
)
const left = computed(() => lesson.places.filter((p) => !p.state.status).length)
const end = () => tried(() => lesson.touch({ name: 'end' }))
const sign = (again: Again) =>
  tried(async () => {
    await lesson.sign(again)
    await lesson.load(props.id)
  })
</script>

<template>
  <div class="sheet">
    <section v-if="state.problems.length && !signed" class="part" data-part="open">
      <h2 class="out">■ Open: before anything is signed</h2>
      <p v-for="p in state.problems" :key="(p.event ?? '') + p.message">
        <b>{{ name(p.item) }}</b> {{ p.message }}
        <router-link v-if="mine && p.item" :to="{ path: `/lessons/${id}`, query: { item: p.item } }"
          >Decide at the item</router-link
        >
      </p>
    </section>
    <section class="part" data-part="measured">
      <h2>Measured</h2>
      <p v-if="!state.readings.length" class="soft">Nothing was measured yet.</p>
      <p v-for="r in state.readings" :key="r.event">
        <b>{{ name(r.item) }}</b> try {{ r.attempt }}:
        <template v-if="r.verdict"
          ><b :class="outcomeTone(r.verdict.outcome)"
            >{{ shape(outcomeTone(r.verdict.outcome)) }} {{ outcomeWords[r.verdict.outcome] }}</b
          >
          {{ r.verdict.findings.map((f) => f.message).join(' ') }}
          <span v-if="newest[r.item ?? '']?.event === r.event" class="soft block figure">{{
            newest[r.item ?? '']!.tiles.map((t) => `${t.label} ${t.value} ${t.limit}`).join(', ')
          }}</span></template
        >
        <template v-else>not judged: {{ r.unusable }}</template>
        <span v-if="r.decision" class="soft block"
          >{{ decisionWords[r.decision.decision] }}, told {{ r.decision.told }} {{ r.decision.why }}</span
        >
      </p>
      <p v-if="left" class="soft">
        {{ left === 1 ? '1 check was' : `${left} checks were` }} not worked in this run.
      </p>
    </section>
    <section v-if="state.findings.length" class="part">
      <h2>Findings</h2>
      <p v-for="f in state.findings" :key="f.event">
        <b>{{ name(f.item) }}</b> {{ f.words }}
        <span class="soft">{{ f.decision ? decisionWords[f.decision.decision] : 'no decision' }}</span>
        <FindingBehind :lesson="id" :words="f.words" :tries="[]" :pictures="f.pictures ?? []" />
      </p>
    </section>
    <section v-if="signed" class="part" data-part="signed">
      <h2 class="within">● Signed</h2>
      <p>
        {{ lesson.view!.lesson.instructor }}, {{ dayWords(state.seals[0]!.wall.slice(0, 10)) }},
        {{ count(state.seals[0]!.events, 'event') }}, rules {{ state.seals[0]!.rulesVersion }}
      </p>
      <p class="figure small soft seal">{{ state.seals[0]!.hash }}</p>
    </section>
    <section v-else-if="mine" class="part">
      <h2>Sign</h2>
      <AppButton v-if="!state.ended" class="primary wide" :disabled="busy" data-action="end" @click="end">
        End the run
      </AppButton>
      <p v-else-if="lesson.signedHere && !lesson.signedHere.reason" class="within" data-part="promised">
        ● Signed on this device. The school seals it as soon as it has it.
      </p>
      <SignBox
        v-else
        words="Sign the run"
        :busy="busy"
        :off="state.problems.length > 0"
        action="sign"
        @sign="sign"
      />
    </section>
    <ProblemNotice v-model="problem" />
    <p v-if="signed">
      <router-link :to="`/aircraft/${lesson.view!.lesson.registration}`" data-action="back-to-aircraft"
        >Return {{ lesson.view!.lesson.registration }} to service by this run</router-link
      >
    </p>
    <p class="soft small">
      What stands here was measured and judged by the numbers of the type. The handbook and the licensed
      person decide.
    </p>
  </div>
</template>

<style scoped>
.sheet {
  max-width: 900px;
  padding: 14px 24px;
}

.block {
  display: block;
}

.wide {
  min-height: 72px;
  font-size: 20px;
  width: 100%;
}

.seal {
  overflow-wrap: anywhere;
}
</style>
