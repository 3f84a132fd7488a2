import { useTimeoutFn } from '@vueuse/core'
import { computed, reactive, ref, shallowRef, watch } from 'vue'

import { api, take } from '@/api/client'
import { ready, RuleError, rules } from '@/rules/rules'
import type { Briefing, DeskView, Flown, Schemas } from '@/schema/schemas'
import { inWords } from '@/shared/errors'
import { useSession } from '@/shared/session'
import { fresh } from '@/shared/words'

/** What an instructor chose last is chosen again. */
const again = ['method', 'scale'] as const

/** How what is chosen is called where it cannot be used. */
const labels: Record<string, string> = {
  student: 'The student',
  aircraft: 'The aircraft',
  wind: 'The wind',
  oat: 'The outside air',
  dew: 'The dew',
  qnh: 'The altimeter setting',
  fuelLeft: 'The fuel in the left tank',
  fuelRight: 'The fuel in the right tank',
  'payload.paper.day': 'The day on the paper',
  'payload.paper.off': 'Off',
  'payload.paper.on': 'On',
}

/** What a lesson is to be opened with, as it is chosen, and the list as it would be flown. */
export function useChoosing() {
  const me = useSession().current!
  const briefing = shallowRef<Briefing | null>(null)
  const desk = shallowRef<DeskView | null>(null)
  const flown = shallowRef<Flown | null>(null)
  const problem = ref('')
  /** The field that cannot be used. */
  const wrong = ref('')
  const choice = reactive({
    student: '',
    aircraft: '',
    list: '',
    method: 'read-and-do',
    scale: 'independence',
    purpose: 'training',
    runway: '',
    wind: '',
    order: '',
    fuelLeft: '',
    fuelRight: '',
  })
  const day = reactive({ ...fresh.flown, exercises: [] as string[] })
  /** A lesson that was kept on paper: its day, and when it moved off and was shut down as it stands there. */
  const paper = reactive({ on: false, day: '', from: '', to: '' })
  const mayWriteDown = ref(false)

  const keptKey = `open-lesson:${me.account}`
  Object.assign(choice, JSON.parse(localStorage.getItem(keptKey) ?? '{}'))
  watch(
    () => again.map((k) => choice[k]),
    () => localStorage.setItem(keptKey, JSON.stringify(Object.fromEntries(again.map((k) => [k, choice[k]])))),
  )

  async function tried(run: () => Promise<void>) {
    problem.value = wrong.value = ''
    try {
      await run()
    } catch (e) {
      problem.value = e instanceof RuleError ? e.said(labels) : inWords(e)
      if (e instanceof RuleError) wrong.value = e.field
    }
  }

  const aircraft = computed(() => briefing.value?.aircraft.find((a) => a.registration === choice.aircraft))
  const list = computed(() => desk.value?.lists.find((l) => l.id === choice.list))
  const writtenOn = computed(() => (paper.on ? paper.day : ''))
  watch([aircraft, writtenOn], ([a, on]) => {
    desk.value = flown.value = null
    choice.list = choice.order = choice.fuelLeft = choice.fuelRight = ''
    if (a) void tried(() => serve(a.type, on))
  })
  /** What serves the aircraft's type on a day is chosen from, unless another was chosen meanwhile. */
  async function serve(type: string, on: string) {
    const asked = [aircraft.value, writtenOn.value]
    const d = await take(
      api.GET('/api/v1/desk/{type}', { params: { path: { type }, query: on ? { on } : {} } }),
    )
    if (asked[0] !== aircraft.value || asked[1] !== writtenOn.value) return
    desk.value = d
    mayWriteDown.value = d.paper
    choice.list = d.lists[0]?.id ?? ''
    const { startOrder, fuelMethod, skips, breakers } = d.policy
    choice.order = (startOrder.length ? startOrder : (d.type.startOrder ?? [])).join(',')
    Object.assign(day, { fuelMethod, skips, breakers })
  }

  /** Everything chosen and typed so far, as the rules take it. */
  const chosen = computed(
    () =>
      ({
        ...choice,
        instructor: me.account,
        equipment: aircraft.value?.equipment,
        elevationFt: aircraft.value?.elevationFt,
        startOrder: choice.order ? choice.order.split(',').map(Number) : undefined,
        date: briefing.value?.day,
        passing: desk.value?.policy.passing,
        paper: paper.on
          ? { day: paper.day, off: paper.from || undefined, on: paper.to || undefined }
          : undefined,
        day,
        list: list.value,
        type: desk.value?.type,
        layers: desk.value?.layers,
      }) as Schemas['LessonChoice'],
  )

  /** The list as flown today, by the rules in this browser. */
  async function tailor() {
    await ready()
    flown.value = list.value ? rules.choose(chosen.value) : null
  }
  const soon = useTimeoutFn(() => void tried(tailor), 150, { immediate: false })
  watch(chosen, () => soon.start(), { deep: true })

  /** A planned lesson says who, on what and what for. */
  function takePlanned(p: Schemas['Planned']) {
    choice.student = p.studentId
    choice.aircraft = p.registration
    day.exercises = [...p.exercises]
  }
  /** A weather report fills the boxes that it speaks of. */
  function takeReport(read: Schemas['ChecklistReported']) {
    day.oat = read.oat || day.oat
    day.dew = read.dew || day.dew
    day.qnh = read.qnh || day.qnh
    choice.wind = read.wind || choice.wind
    choice.runway = read.runway || choice.runway
  }

  const begin = () =>
    tried(async () => {
      const [answer] = await Promise.all([take(api.GET('/api/v1/briefing')), ready()])
      briefing.value = answer
    })
  /** Opens what is chosen by a function that takes the opening event's payload. */
  const open = (
    by: (payload: Record<string, unknown>, desk: DeskView, briefing: Briefing) => Promise<void>,
  ) => {
    soon.stop() // what is refused stays to be read
    return tried(async () => {
      await tailor()
      await by(rules.opened(chosen.value), desk.value!, briefing.value!)
    })
  }

  return {
    briefing,
    desk,
    flown,
    problem,
    wrong,
    choice,
    day,
    paper,
    mayWriteDown,
    aircraft,
    list,
    begin,
    open,
    takePlanned,
    takeReport,
  }
}
