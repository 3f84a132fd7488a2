import { onUnmounted, ref } from 'vue'

import { api, take } from '@/api/client'
import type { Schemas } from '@/schema/schemas'
import { rules } from '@/rules/rules'
import type { Running } from './running'

/** How often a stand tells the school what was done on it, in milliseconds. */
const EVERY = 700

/** Tells the school what is done on a stand, and takes what an instructor does to it. */
export function useTelling(running: Running) {
  const watched = ref(0)
  let id = ''
  let told = 0
  let jumps = 0
  let asking: ReturnType<typeof setInterval> | undefined
  let under: Promise<void> | undefined

  async function tell(of: string) {
    const whole = rules.standRun(0)
    if (jumps !== running.jumps.value) told = 0 // the student went back: from the beginning
    jumps = running.jumps.value
    const from = Math.min(told, whole.deeds.length)
    const body: Schemas['LiveStep'] = {
      run: { ...whole, deeds: [] },
      from,
      deeds: whole.deeds.slice(from),
      tick: whole.ticks,
      // What was done to it and was gone back over is done again.
      known: whole.deeds.filter((d) => d.change || d.call?.instructor).length,
    }
    const answer = await take(
      api.POST('/api/v1/practice-live/{id}', { params: { path: { id: of } }, body }),
    ).catch(() => undefined) // without the school nobody looks on
    if (!answer || of !== id) return
    told = answer.at
    watched.value = answer.watched
    running.frozen.value = answer.frozen
    for (const wish of answer.wishes) running.act(wish)
  }
  const once = () => (under ??= tell(id).finally(() => (under = undefined)))
  function end() {
    clearInterval(asking)
    id = ''
    watched.value = 0
    running.frozen.value = false
  }
  function begin(practice: string) {
    end()
    id = practice
    told = 0
    asking = setInterval(() => void once(), EVERY)
  }
  /** Everything that the instructor did is in the run. */
  async function settle() {
    clearInterval(asking)
    if (!id) return
    await under
    await once()
  }
  onUnmounted(end)
  return { watched, begin, end, settle }
}
