import { useTimeoutFn } from '@vueuse/core'
import { defineStore } from 'pinia'
import { v7 as uuid } from 'uuid'
import { computed, watch } from 'vue'

import { Refused } from '@/api/client'
import { ownerOf, type KeptMark } from '@/device/kept'
import { reach } from '@/device/reach'
import type { LessonEvent } from '@/schema/schemas'
import { useSession } from '@/shared/session'
import { inWords } from '@/shared/errors'
import { openNow, sendMarks, sendPictures, sendSignatures } from './deliveries'
import { useMarks } from './marks'
import { useRounds, type Round } from './rounds'
import { afterPaint, useWaiting, waitingWords } from './waiting'

/** The name of this page among those that mark a lesson; it survives a reload. */
function deviceName(): string {
  const name = sessionStorage.getItem('device') ?? `page-${uuid().slice(-12)}`
  sessionStorage.setItem('device', name)
  return name
}

/**
 * The one way in which marks leave a screen. An event is kept on the device
 * before the screen moves, and waits there until the school has answered that
 * it holds it; refused ones stay to be seen, with a way out. They belong to the
 * person who made them, at their school: nobody else's sign-in sends them. Of
 * all tabs one sends at a time.
 */
export const useOutbox = defineStore('outbox', () => {
  const session = useSession()
  const device = deviceName()
  const owner = computed(() => (session.current ? ownerOf(session.current) : ''))
  const marks = useMarks(owner)
  const { waiting, since, others, pictures, counted, refused, look, more } = useWaiting(owner, marks)
  const { trouble, expired, send } = useRounds(round)
  const { storage, unkept } = marks
  /** Sends what was kept once the screen has moved. */
  const soon = useTimeoutFn(() => void send(), afterPaint, { immediate: false })

  const words = computed(() =>
    waitingWords({
      counted: counted.value,
      waiting: waiting.value,
      since: since.value,
      others: others.value,
      pictures: pictures.value,
      refused: refused.value.length,
      unkept: unkept.value.length,
      storage: storage.value,
      trouble: trouble.value,
      away: reach.away,
      zone: session.current?.zone ?? 'UTC',
    }),
  )

  /** Sends every lesson's marks, then what follows them; a lesson that is stuck holds no other up. */
  async function round(): Promise<Round> {
    const stuck = new Set<string>()
    const whose = owner.value
    let [failed, ended] = ['', false]
    for (;;) {
      const batch = whose ? await marks.next(stuck) : []
      if (!batch.length || whose !== owner.value) break
      try {
        await sendMarks(batch, marks.settled)
      } catch (e) {
        stuck.add(batch[0]!.lesson)
        ended ||= e instanceof Refused && e.status === 401
        failed = inWords(e)
      }
    }
    const rest = [await sendPictures(owner.value, stuck), await sendSignatures(owner.value, stuck)]
    return { failed: failed || (rest.find(Boolean) ?? ''), expired: ended }
  }

  /**
   * Keeps events on the device until the school holds them. When it resolves
   * they are kept; where the device cannot, this page holds them and says so.
   */
  async function keep(lesson: string, events: LessonEvent[]): Promise<void> {
    const at = Date.now()
    if (await marks.keep(lesson, events, at)) more(events.length, at)
    else await look()
    if (!soon.isPending.value) soon.start()
  }

  /** The events of a lesson that this device has, in no order. */
  const known = async (lesson: string) => (await marks.of(lesson)).map((m) => m.event)

  /** Resolves when everything of a lesson is at the school; fails when it cannot be sent. */
  async function settle(lesson: string) {
    const waits = async () => (await marks.of(lesson)).some((m) => m.state === 'waiting')
    if (await waits()) await send()
    // A round may have begun before the last mark was kept.
    if (await waits()) await send()
    if (await waits()) throw new Error(`${words.value}. ${trouble.value}`)
  }

  async function again(mark: KeptMark) {
    await marks.again(mark)
    void send()
  }

  watch(owner, () => void send(), { immediate: true })

  return {
    device,
    owner,
    waiting,
    counted,
    others,
    refused,
    trouble,
    expired,
    storage,
    words,
    keep,
    known,
    unsent: marks.unsent,
    send,
    settle,
    openNow,
    again,
    letGo: marks.letGo,
  }
})
