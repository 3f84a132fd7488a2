import { v7 as uuid } from 'uuid'

import { rules } from '@/rules/rules'
import type { Briefing, DeskView, LessonEvent, LessonView, Session } from '@/schema/schemas'
import { wall } from '@/shared/clock'

/** The event that opens a lesson here and now. */
export const openingEvent = (device: string, payload: Record<string, unknown>): LessonEvent => ({
  id: uuid(),
  device,
  seq: 1,
  counter: 1,
  atMs: 0,
  wall: wall(),
  kind: 'lesson-opened',
  v: 1,
  payload,
})

/** A lesson that was opened here, before the school has said what it knows of it. */
export function lessonAlone(
  id: string,
  event: LessonEvent,
  desk: DeskView,
  briefing: Briefing,
  me: Session,
): LessonView {
  const book = rules.book({ type: desk.type, lists: desk.lists, scales: briefing.scales }, event)
  const { state } = rules.open(book, [event], event.device)
  const of = state.opened!
  return {
    kit: desk.kit,
    lesson: {
      id,
      studentId: of.student,
      student: briefing.students.find((s) => s.id === of.student)?.name ?? '',
      instructorId: of.instructor,
      instructor: me.name,
      registration: of.aircraft,
      type: of.aircraftType,
      openedAt: event.wall,
      status: 'open',
      marked: 0,
      total: state.items.length,
      phases: '',
      purpose: of.purpose,
      runway: of.runway ?? '',
      wind: of.wind ?? '',
      observers: [],
    },
    book,
    scale: briefing.scales.find((s) => s.id === of.scale)!,
    before: briefing.flown[of.student] ?? 0,
    mine: true,
    marks: true,
    withheld: false,
  }
}
