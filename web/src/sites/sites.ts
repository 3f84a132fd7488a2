import type { Refused } from '@/api/client'
import type { Schemas } from '@/schema/schemas'

/** A field that a school flies from, as it is typed. */
export type TypedSite = {
  id: string
  name: string
  elevationFt: string
  variationDegEast: string
  runways: { name: string; headingDegMagnetic: string; lengthM: string; surface: string }[]
}
export const runway = () => ({ name: '', headingDegMagnetic: '', lengthM: '', surface: 'asphalt' })
export const base = (): TypedSite => ({
  id: '',
  name: '',
  elevationFt: '',
  variationDegEast: '0',
  runways: [runway()],
})

/** A number as it was typed. What is none travels as null, and is refused with its field. */
const number = (text: string) => (text.trim() === '' ? NaN : Number(text.replace(',', '.')))
const whole = (text: string) => Math.round(number(text))
const unsaid = { meanC: 0, yearSwingC: 0, daySwingC: 0, windFromDeg: 0, windKt: 0, spreadC: 0 }

/** The field as it travels; a climate that is not said is the temperate one. */
export const siteOf = (b: TypedSite, climate: Schemas['WeatherClimate'] = unsaid) => ({
  id: b.id,
  name: b.name,
  elevationFt: whole(b.elevationFt),
  variationDegEast: number(b.variationDegEast),
  runways: b.runways.map((r) => ({
    ...r,
    headingDegMagnetic: whole(r.headingDegMagnetic),
    lengthM: whole(r.lengthM),
  })),
  climate,
})

/** A field that is known, to be changed. */
export const typedSite = (a: Schemas['WeatherAerodrome']): TypedSite => ({
  id: a.id,
  name: a.name,
  elevationFt: String(a.elevationFt),
  variationDegEast: String(a.variationDegEast),
  runways: a.runways.map((r) => ({
    ...r,
    headingDegMagnetic: String(r.headingDegMagnetic),
    lengthM: String(r.lengthM),
  })),
})

/** What the fields of a school are called. */
const called: Record<string, string> = {
  bases: 'Base',
  runways: 'runway',
  aircraft: 'Aircraft',
  students: 'Student',
  chief: 'You',
  code: 'The code',
  name: 'name',
  id: 'short name',
  email: 'address',
  timeZone: 'The time zone',
  elevationFt: 'elevation',
  variationDegEast: 'variation',
  headingDegMagnetic: 'heading',
  lengthM: 'length',
  type: 'type',
}
/** A refusal with its field as the page calls it: bases[0].runways[1].name is base 1, runway 2, name. */
export function said(e: Refused): string {
  const [first] = e.problem.errors ?? []
  if (!first?.location || !first.message) return e.message
  const words = first.location
    .replace('body.', '')
    .split('.')
    .map((part) => /^([^[]+)(?:\[(\d+)\])?$/.exec(part))
    .map((m) =>
      m?.[1] === 'learns' ? '' : `${called[m?.[1] ?? ''] ?? m?.[1]}${m?.[2] ? ` ${Number(m[2]) + 1}` : ''}`,
    )
    .filter(Boolean)
    .join(', ')
  return `${words[0]!.toUpperCase()}${words.slice(1)}: ${first.message}.`
}
