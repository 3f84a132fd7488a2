// A planned lesson put somewhere else: tried first, moved where it can be, and
// put back with one touch.
import { ref } from 'vue'

import { api, take } from '@/api/client'
import type { Schemas } from '@/schema/schemas'
import { minutesAt, clockAt, minutesOf } from '@/schedule/times'
import { dayIn } from '@/shared/words'
import { useTrying } from '@/shared/trying'

export type Planned = Schemas['Planned']
export type Place = Schemas['MoveInput']

/** What came of a move. */
export type Moved = {
  planned: Planned
  to: Place
  /** It was done, and can be put back. */
  done: boolean
  against: Schemas['ScheduleObstacle'][]
  instead: Schemas['ScheduleAlternative'][]
}

export const placeOf = (p: Planned, zone: string): Place => ({
  instructor: p.instructorId,
  registration: p.registration,
  on: dayIn(p.startsAt, zone),
  at: clockAt(minutesAt(p.startsAt, zone)),
  minutes: minutesOf(p),
})

export function useMoving(zone: string, drawn: () => Promise<void>) {
  const { problem, busy, tried } = useTrying()
  const moved = ref<Moved | null>(null)
  const params = (p: Planned) => ({ path: { id: p.id } })

  const move = (planned: Planned, to: Place) =>
    tried(async () => {
      const { obstacles: against, instead } = await take(
        api.POST('/api/v1/bookings/{id}/try', { params: params(planned), body: to }),
      )
      const done = !against.some((o) => o.refused)
      if (done) await take(api.POST('/api/v1/bookings/{id}/move', { params: params(planned), body: to }))
      moved.value = { planned, to, done, against, instead: done ? [] : instead }
      await drawn()
    })

  /** Another way that the school offered. */
  const takeInstead = (way: Schemas['ScheduleAlternative']) =>
    move(moved.value!.planned, {
      instructor: way.instructorId,
      registration: way.registration,
      on: dayIn(way.startsAt, zone),
      at: clockAt(minutesAt(way.startsAt, zone)),
      minutes: minutesOf(way),
    })

  const putBack = () =>
    tried(async () => {
      const { planned, done } = moved.value!
      if (done)
        await take(
          api.POST('/api/v1/bookings/{id}/move', { params: params(planned), body: placeOf(planned, zone) }),
        )
      moved.value = null
      await drawn()
    })

  return { moved, move, takeInstead, putBack, problem, busy }
}
