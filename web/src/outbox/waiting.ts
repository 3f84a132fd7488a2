import Dexie from 'dexie'
import { useTimeoutFn } from '@vueuse/core'
import { ref, shallowRef, watch, type Ref } from 'vue'

import { tellWaiting } from '@/device/cleared'
import { keepingFailed, type KeptMark } from '@/device/kept'
import { count, timeWords } from '@/shared/words'
import type { Marks } from './marks'

/** Counting waits until what was touched has been painted, in milliseconds. */
export const afterPaint = 120

/** How many marks wait on this device, counted again whenever what is kept changes, in whichever tab. */
export function useWaiting(owner: Ref<string>, marks: Marks) {
  /** How many marks of the person wait here, and since when; all of others. */
  const waiting = ref(0)
  const since = ref(0)
  const others = ref(0)
  const pictures = ref(0)
  /** Whether it has been counted what waits: until then nothing is said of it. */
  const counted = ref(false)
  const refused = shallowRef<KeptMark[]>([])

  function show(found: Awaited<ReturnType<Marks['count']>>) {
    const here = marks.mine()
    counted.value = true
    pictures.value = found.pictures
    waiting.value = found.own + here.length
    const first = Math.min(...[found.since, ...here.map((m) => m.at)].filter(Boolean))
    since.value = Number.isFinite(first) ? first : 0
    others.value = found.others
    refused.value = found.refused
    // Where others' wait as well, since when is theirs to know.
    tellWaiting(waiting.value + found.others + found.refused.length, since.value)
  }
  /** Counts at once; a device that cannot be read still counts what this page holds. */
  async function look() {
    const whose = owner.value
    const found = await marks.count().catch((e: unknown) => {
      marks.storage.value = keepingFailed(e)
      return { own: 0, refused: [], pictures: 0, others: 0, since: 0 }
    })
    if (whose === owner.value) show(found)
  }

  const soon = useTimeoutFn(() => void look(), afterPaint, { immediate: false })
  Dexie.on('storagemutated', () => soon.start())
  /** What was counted for one person is not said to the next. */
  function begin() {
    counted.value = false
    void look()
  }
  watch(owner, begin, { immediate: true, flush: 'sync' })

  /** Marks have just been kept: said before they are counted. */
  function more(marks: number, at: number) {
    if (counted.value) waiting.value += marks
    since.value ||= at
  }

  return { waiting, since, others, pictures, counted, refused, look, more }
}

/** What of a device has not reached the school, and why. */
export type Backlog = {
  counted: boolean
  waiting: number
  since: number
  others: number
  pictures: number
  refused: number
  /** Marks only on this page, and why. */
  unkept: number
  storage: string
  /** Why the last sending failed, and whether the school was not reached. */
  trouble: string
  away: boolean
  zone: string
}

/** What waits on this device, in words. */
export function waitingWords(t: Backlog): string {
  if (!t.counted) return 'counting the marks on this device'
  if (t.unkept)
    return `${t.storage} ${count(t.unkept, 'mark')} only on this page: leave it open until the school holds them`
  const held = t.others ? `; ${count(t.others, 'mark')} of somebody else wait for them` : ''
  if (t.refused) return `${count(t.refused, 'mark')} refused by the school${held}`
  const from = t.since ? ` since ${timeWords(t.since, t.zone)}` : ''
  const pictures = t.pictures ? count(t.pictures, 'picture') : ''
  if ((t.trouble || t.away) && t.waiting) {
    const too = pictures && ` and ${pictures}`
    return `Not sent yet: ${count(t.waiting, 'mark')}${too} kept on this device${from}${held}`
  }
  if (t.trouble && pictures) return `Not sent yet: ${pictures} kept on this device${held}`
  return (t.waiting ? `sending ${t.waiting}` : 'all marks at the school') + held
}
