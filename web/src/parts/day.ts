import type { Schemas } from '../api/client'

export type Day = Schemas['ChecklistDay']

/** The day as it is typed; empty is not known. */
export type DayText = {
  oat: string
  dew: string
  wind: string
  gust: string
  elevation: string
  qnh: string
  night: string
  rules: string
  engineState: string
  firstFlight: string
  exercises: string[]
}

export const freshDay = (): DayText => ({
  oat: '',
  dew: '',
  wind: '',
  gust: '',
  elevation: '',
  qnh: '',
  night: 'day',
  rules: 'VFR',
  engineState: 'cold',
  firstFlight: 'yes',
  exercises: [],
})

/** What cannot be used, and the field it stands in. */
export class WrongField extends Error {
  constructor(
    readonly field: string,
    reason: string,
  ) {
    super(reason)
  }
}

/** Reads a number within bounds, or says what is wrong with it. */
export function number(
  field: string,
  text: string,
  low: number,
  high: number,
  unit: string,
): number | undefined {
  const t = text.trim()
  if (t === '') return undefined
  if (!/^-?\d+(\.\d+)?$/.test(t))
    throw new WrongField(
      field,
      /^-?\d+,\d+$/.test(t)
        ? `“${t}”: write a point, as in ${t.replace(',', '.')}.`
        : `“${t}” is not a plain number; write it like 12.5, without the unit.`,
    )
  const n = Number(t)
  if (n < low || n > high) throw new WrongField(field, `${t} is outside ${low} to ${high} ${unit}.`)
  return n
}

/** The day that lists are tailored to. */
export function dayOf(t: DayText): Day {
  const oatC = number('oat', t.oat, -60, 60, '°C')
  const dewPointC = number('dew', t.dew, -60, 60, '°C')
  if (oatC !== undefined && dewPointC !== undefined && dewPointC > oatC)
    throw new WrongField(
      'dew',
      `The dew point, ${dewPointC} °C, cannot be above the outside air, ${oatC} °C.`,
    )
  return {
    oatC,
    dewPointC,
    windKt: number('wind', t.wind, 0, 99, 'kt'),
    gustKt: number('gust', t.gust, 0, 99, 'kt'),
    elevationFt: number('elevation', t.elevation, -1500, 20000, 'ft'),
    qnhHPa: number('qnh', t.qnh, 900, 1080, 'hPa'),
    night: t.night === 'night',
    firstFlight: t.firstFlight === 'yes',
    rules: t.rules,
    engineState: t.engineState,
    exercises: t.exercises.length ? t.exercises : undefined,
  }
}

export const reasonWords: Record<string, string> = {
  added: 'added',
  changed: 'changed',
  dropped: 'left off today',
  included: 'on the list because of today',
  overruled: 'overruled',
  refused: 'cannot be made',
}

/** The shape that stands for a kind of reason or difference, so that colour is never alone. */
export const reasonShape: Record<string, string> = {
  added: '+',
  changed: '≠',
  dropped: '–',
  included: '◆',
  overruled: '⊘',
  refused: '×',
  removed: '–',
  moved: '↕',
}
