import Dexie from 'dexie'
import { ref, shallowRef, type Ref } from 'vue'

import { kept, keepingFailed, type KeptMark } from '@/device/kept'
import type { LessonEvent } from '@/schema/schemas'

const batchMost = 200

/** The marks of whoever is signed in: on this device, or on this page where the device cannot keep them. */
export function useMarks(owner: Ref<string>) {
  /** Marks that this page holds and the device could not keep. */
  const unkept = shallowRef<KeptMark[]>([])
  /** Why the device keeps nothing; empty while it does. */
  const storage = ref('')

  const mine = () => unkept.value.filter((m) => m.owner === owner.value)
  const ofState = (state: KeptMark['state']) => kept.marks.where('[owner+state]').equals([owner.value, state])
  const onDevice = (lesson: string) => kept.marks.where('[owner+lesson]').equals([owner.value, lesson])

  /** Keeps events until the school holds them; whether the device could. */
  async function keep(lesson: string, events: LessonEvent[], at: number): Promise<boolean> {
    const marks = events.map((event): KeptMark => {
      return { owner: owner.value, id: event.id, lesson, state: 'waiting', event, reason: '', at }
    })
    try {
      await kept.marks.bulkPut(marks)
      return true
    } catch (e) {
      storage.value = keepingFailed(e)
      unkept.value = [...unkept.value, ...marks]
      return false
    }
  }

  /** The marks of a lesson that nobody refused, in no order. */
  async function of(lesson: string): Promise<KeptMark[]> {
    const found = await onDevice(lesson)
      .toArray()
      .catch(() => [])
    return [...found.filter((m) => m.state !== 'refused'), ...mine().filter((m) => m.lesson === lesson)]
  }

  /** The ids of a lesson's marks that the school has not said it holds. */
  async function unsent(lesson: string): Promise<Set<string>> {
    const found = await onDevice(lesson)
      .filter((m) => m.state !== 'held')
      .toArray()
      .catch(() => [])
    return new Set([...found, ...mine()].map((m) => m.id))
  }

  /** Those that wait of the lesson that has waited longest and is not stuck, as many as are sent at once. */
  async function next(stuck: Set<string>): Promise<KeptMark[]> {
    const here = await ofState('waiting')
      .toArray()
      .catch(() => [])
    const all = [...here, ...mine()]
      .filter((m) => !stuck.has(m.lesson))
      .sort((a, b) => a.at - b.at || a.event.counter - b.event.counter)
    return all.filter((m) => m.lesson === all[0]!.lesson).slice(0, batchMost)
  }

  /** What the school answered: it holds a mark, or refuses it for a reason. */
  async function settled(marks: KeptMark[], reason: (m: KeptMark) => string) {
    const now = marks.map((m) => ({
      ...m,
      state: reason(m) ? ('refused' as const) : ('held' as const),
      reason: reason(m),
    }))
    const gone = new Set(marks.map((m) => m.id))
    await kept.marks.bulkPut(now).catch((e: unknown) => {
      // A device that is full still lets go of what the school has.
      storage.value = keepingFailed(e)
      return kept.marks.bulkDelete(
        now.filter((m) => m.state === 'held').map((m): [string, string] => [m.owner, m.id]),
      )
    })
    unkept.value = unkept.value.filter((m) => !gone.has(m.id))
  }

  /** What waits, counted in one view of what is kept: marks are kept and let go meanwhile. */
  const count = () =>
    kept.transaction('r', kept.marks, kept.pictures, async () => {
      const all = await kept.marks.where('state').anyOf('waiting', 'refused').count()
      const pictures = await kept.pictures.where('[owner+state]').equals([owner.value, 'waiting']).count()
      const [own, refused] = [await ofState('waiting').count(), await ofState('refused').toArray()]
      const first = own ? await oldest() : undefined
      return { own, refused, pictures, others: all - own - refused.length, since: first?.at ?? 0 }
    })

  async function oldest(): Promise<KeptMark | undefined> {
    let first: KeptMark | undefined
    await kept.marks
      .where('[state+at]')
      .between(['waiting', Dexie.minKey], ['waiting', Dexie.maxKey])
      .filter((m) => m.owner === owner.value)
      .until(() => first !== undefined)
      .each((m) => (first ??= m))
    return first
  }

  /** Sends a refused mark once more, or lets it go. */
  const again = (mark: KeptMark) => kept.marks.put({ ...mark, state: 'waiting', reason: '' })
  const letGo = (mark: KeptMark) => kept.marks.delete([mark.owner, mark.id])

  return { unkept, storage, mine, keep, of, unsent, next, settled, count, again, letGo }
}
export type Marks = ReturnType<typeof useMarks>
