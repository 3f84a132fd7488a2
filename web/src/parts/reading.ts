// From a check's declared fields to a request, and from its verdict to what is
// drawn. Nothing here judges: limits and findings come from the rules.
import type { CheckDefinition, Field, Verdict } from '../api/client'

export type Draft = Record<string, string | boolean>

/** One box to fill: a declared field at its path in the reading. */
export type Box = { path: string; field: Field; label: string; unit: string; row?: string }

export type GaugeName = { id: string; label: string; unit: string }

/** Lists the boxes of a check; rows are as many as the draft has opened. */
export function boxesOf(def: CheckDefinition, draft: Draft, gauges: GaugeName[]): Box[] {
  if (def.namedReading) {
    const field = def.namedReading
    if (field.each?.length)
      return gauges.flatMap((g) =>
        field.each!.map((f) => ({
          path: `${g.id}.${f.name}`,
          field: f,
          label: `${g.label}, ${f.name}`,
          unit: g.unit,
        })),
      )
    return gauges.map((g) => ({
      path: g.id,
      field: { ...field, kind: 'number' },
      label: g.label,
      unit: g.unit,
    }))
  }
  return def.fields.flatMap((field) => {
    if (field.kind !== 'rows') return [box(field, field.name, draft)]
    return Array.from({ length: rowCount(field, draft) }, (_, i) =>
      (field.each ?? []).map((inner) => ({
        ...box(inner, `${field.name}.${i}.${inner.name}`, draft),
        row: `${field.label} ${i + 1}`,
      })),
    ).flat()
  })
}

const box = (field: Field, path: string, draft: Draft): Box => ({
  path,
  field,
  label: field.label,
  unit: field.unit === 'speed' ? (draft.unit === 'percent' ? '%' : 'rpm') : (field.unit ?? ''),
})

export function rowCount(field: Field, draft: Draft): number {
  return Math.max(field.optional ? 0 : (field.atLeast ?? 0), Number(draft[`${field.name}#`] ?? 0))
}

/** What a fresh draft begins with: first choices, flags off. */
export function freshDraft(def: CheckDefinition): Draft {
  const draft: Draft = {}
  for (const f of def.fields) {
    if (f.kind === 'choice') draft[f.name] = f.choices?.[0] ?? ''
    if (f.kind === 'flag')
      draft[f.name] = f.name === 'fired' || f.name === 'starterLampOut' || f.name === 'chargeRestored'
  }
  return draft
}

/** Whether a field cannot be read, as a flag beside it says. */
export function cannotBe(field: Field, draft: Draft): boolean {
  return (field.nullWhen ?? []).some((flag) =>
    flag[0] === '!' ? !draft[flag.slice(1)] : draft[flag] === true,
  )
}

export type Built = { reading: Record<string, unknown>; missing: string[]; wrong: Record<string, string> }

/** Makes the reading of a draft; numbers are read strictly and in words refused. */
export function build(def: CheckDefinition, draft: Draft, gauges: GaugeName[]): Built {
  const out: Built = { reading: {}, missing: [], wrong: {} }
  const value = (b: Box): unknown => {
    const raw = draft[b.path]
    if (cannotBe(b.field, draft))
      return b.field.kind === 'flag' && raw !== true ? (b.field.nullWhen ? null : false) : null
    if (b.field.kind === 'flag') return raw === true
    if (b.field.kind === 'choice') return raw
    const text = String(raw ?? '').trim()
    if (text === '') {
      if (b.field.nullable && draft[`${b.path}!`] === true) return null
      if (!b.field.optional) out.missing.push(b.path)
      return undefined
    }
    if (b.field.kind === 'day') return text
    if (!/^-?\d+(\.\d+)?$/.test(text)) {
      out.wrong[b.path] = /,/.test(text)
        ? `“${text}”: write a point, as in ${text.replace(',', '.')}`
        : `“${text}” is not a plain number in ${b.unit || 'units'}`
      return undefined
    }
    return Number(text)
  }
  for (const b of boxesOf(def, draft, gauges)) {
    const v = value(b)
    if (v === undefined) continue
    const [name, index, inner] = b.path.split('.')
    if (def.namedReading && index !== undefined)
      out.reading[name!] = { ...(out.reading[name!] as object | undefined), [index]: v }
    else if (inner === undefined) out.reading[name!] = v
    else {
      const rows = (out.reading[name!] ??= []) as Record<string, unknown>[]
      rows[Number(index)] = { ...rows[Number(index)], [inner]: v }
    }
  }
  return out
}

export type Tile = {
  label: string
  value: string
  of: string
  tone: 'within' | 'attend' | 'out' | 'soft'
  word: string
}

type Numbers = Record<string, number | null | undefined>

/** The numbers that a verdict turns on, each with its limit and its word. */
export function tilesOf(def: CheckDefinition, verdict: Verdict, speed: string): Tile[] {
  const values = verdict.values as Numbers
  const hard = verdict.outcome === 'abnormal'
  let before = true // whether every scale so far lies within its limits
  return def.scales
    .filter((s) => s.computed && s.of in values)
    .map((s): Tile => {
      const value = values[s.of]
      const { min, max } = bounds(s, verdict.limits as Record<string, unknown>, {})
      const unit = s.unit === 'speed' ? speed : (s.unit ?? '')
      const of = s.within
        ? `within ${max} ${unit}`
        : max === undefined
          ? `at least ${min} ${unit}`
          : min !== undefined && !s.side
            ? `of ${min} to ${max} ${unit}`
            : `of ${max} ${unit}`
      const sign = s.within && value! > 0 ? '+' : ''
      const tile = (tone: Tile['tone'], word: string): Tile => ({
        label: s.label,
        value: value == null ? '–' : `${sign}${value}`,
        of,
        tone,
        word,
      })
      const own = (code: string) =>
        verdict.findings.some((f) => f.code === code && (!s.side || f.side === s.side))
      const out = (word: string) => {
        before = false
        return tile(hard ? 'out' : 'attend', `${hard ? '■' : '▲'} ${word}`)
      }
      if (s.side && own('engine-stopped')) return out('engine stopped')
      if (value == null || (s.last && !before) || (s.of === 'drop' && own('ice-cleared')))
        return tile('soft', 'not judged')
      if (min !== undefined && value < min) return out(`at least ${min} ${unit} must be seen`)
      if (verdict.outcome === 'invalid') return tile('soft', 'not judged')
      if (max !== undefined && value > max)
        return out(`${Math.round((value - max) * 100) / 100} ${unit} over`)
      if (s.side && own('rough-running')) return tile('attend', '▲ within, but rough')
      return tile('within', 'within')
    })
}

export type Strip = {
  /** The box whose number stands on it. */
  path: string
  label: string
  unit: string
  value?: number
  min?: number
  max?: number
  low?: number
  high?: number
}

type Scale = CheckDefinition['scales'][number]
const numeric = (x: unknown) => (typeof x === 'number' ? x : undefined)

/** The limits of a scale as numbers: around what, how far, from where to where. */
function bounds(s: Scale, limits: Record<string, unknown>, conditions: Record<string, unknown>) {
  const own = (name?: string) => (name ? (numeric(limits[name]) ?? numeric(conditions[name])) : undefined)
  if (s.within) {
    const [middle, by] = [s.around ? own(s.around) : 0, own(s.within)]
    if (middle === undefined || by === undefined) return {}
    return { min: middle - by, max: middle + by }
  }
  const caution = own(s.cautionHigh)
  return { min: own(s.low), max: own(s.high), high: caution }
}

/** The readings of a check on their printed scales, as its rules declare them. */
export function stripsOf(
  def: CheckDefinition,
  reading: Record<string, unknown>,
  limits: Record<string, unknown>,
  gauges: GaugeName[],
  conditions: Record<string, unknown>,
): Strip[] {
  if (def.namedReading)
    return gauges.map((g): Strip => {
      const own = (limits[g.id] ?? {}) as Record<string, number | undefined>
      if (own.apartMax !== undefined) {
        const r = reading[g.id] as { left?: number; right?: number } | undefined
        const apart = r?.left !== undefined && r.right !== undefined ? Math.abs(r.left - r.right) : undefined
        return { path: '', label: `${g.label}, apart`, unit: g.unit, value: apart, max: own.apartMax }
      }
      return {
        path: g.id,
        label: g.label,
        unit: g.unit,
        value: numeric(reading[g.id]),
        min: own.min,
        max: own.max,
        low: own.cautionMin,
        high: own.cautionMax,
      }
    })
  return def.scales
    .filter((s) => !s.computed)
    .flatMap((s) => {
      const [name, inner] = s.of.split('.') as [string, string?]
      const b = bounds(s, limits, conditions)
      if (b.min === undefined && b.max === undefined && b.high === undefined) return []
      const strip = (value: unknown, label: string, path: string): Strip => ({
        path,
        label,
        unit: s.unit ?? '',
        value: numeric(value),
        ...b,
      })
      if (!inner) return [strip(reading[name], s.label, name)]
      const rows = Array.isArray(reading[name]) ? (reading[name] as Record<string, unknown>[]) : [{}]
      return (rows.length ? rows : [{}]).map((r, i) =>
        strip(r?.[inner], rows.length > 1 ? `${s.label} ${i + 1}` : s.label, `${name}.${i}.${inner}`),
      )
    })
}

/** A reading in one line: its numbers with their units, as they were read off. */
export function readingWords(
  reading: Record<string, unknown>,
  def: CheckDefinition,
  gauges: GaugeName[],
): string {
  const fields = def.namedReading
    ? gauges.map((g) => ({ name: g.id, label: g.label, unit: g.unit }))
    : def.fields
        .filter((f) => f.kind === 'number')
        .map((f) => ({
          ...f,
          unit: f.unit === 'speed' ? (reading.unit === 'percent' ? '%' : 'rpm') : (f.unit ?? ''),
        }))
  return fields
    .filter((f) => typeof reading[f.name] === 'number')
    .map((f) => `${f.label} ${String(reading[f.name])} ${f.unit}`.trim())
    .join(', ')
}
