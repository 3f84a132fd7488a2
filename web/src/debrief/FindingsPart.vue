<script setup lang="ts">
import { computed } from 'vue'

import { useItemName } from '@/debrief/names'
import FindingBehind from '@/lesson/FindingBehind.vue'
import { useLesson } from '@/lesson/lesson'
import type { Reading } from '@/schema/schemas'
import { decisionWords, outcomeTone, outcomeWords, severityWords } from '@/shared/words'

/** The errors of the lesson, its findings with what stands behind them, and the readings that stand alone. */
defineProps<{ id: string }>()
const lesson = useLesson()
const name = useItemName()
const state = computed(() => lesson.state!)
const foundAt = (item?: string) => !!item && state.value.findings.some((f) => f.item === item)
const said = (r: Reading) =>
  r.verdict
    ? `${outcomeWords[r.verdict.outcome]!.toLowerCase()}. ${r.verdict.findings[0]?.message ?? ''}`
    : 'not judged'
/** A finding stands with every try of its item. */
const triesAt = (item?: string) =>
  state.value.readings
    .filter((r) => item && r.item === item)
    .map((r) => ({
      attempt: r.attempt,
      recorded: r.source === 'recorder',
      state: outcomeTone(r.verdict?.outcome ?? ''),
      words: said(r),
    }))
</script>

<template>
  <section class="part">
    <h2>Errors</h2>
    <p v-if="!state.errors.length" class="soft">None noted.</p>
    <p v-for="e in state.errors" :key="e.event">
      <b>{{ name(e.item) }}</b> {{ e.label }},
      <span class="soft">{{ severityWords[e.severity] }}</span>
      {{ e.words }}
    </p>
  </section>
  <section class="part">
    <h2>Findings and readings</h2>
    <p v-if="!state.findings.length" class="soft">No finding was written.</p>
    <p v-for="f in state.findings" :key="f.event">
      <b>{{ name(f.item) }}</b> {{ f.words }}
      <span class="soft"
        >{{ f.decision ? decisionWords[f.decision.decision] : 'no decision'
        }}{{ f.decision?.told ? `, told ${f.decision.told}` : '' }}</span
      >
      <FindingBehind :lesson="id" :words="f.words" :tries="triesAt(f.item)" :pictures="f.pictures ?? []" />
    </p>
    <p
      v-for="r in state.readings.filter(
        (r) => r.verdict && outcomeTone(r.verdict.outcome) !== 'within' && !foundAt(r.item),
      )"
      :key="r.event"
      class="small"
    >
      <b>{{ name(r.item) }}</b> try {{ r.attempt }}: {{ said(r) }}
    </p>
  </section>
</template>
