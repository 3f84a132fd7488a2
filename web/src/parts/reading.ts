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
    if (inner === undefined) out.reading[name!] = v
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
export function tilesOf(verdict: Verdict, speed: string): Tile[] {
  const v = verdict.values as Numbers
  const l = verdict.limits as Numbers
  const tone = (side?: string, ...codes: string[]): Pick<Tile, 'tone' | 'word'> => {
    const hit = verdict.findings.find(
      (f) => codes.includes(f.code) && (side === undefined || f.side === side),
    )
    if (!hit) return { tone: 'within', word: 'within' }
    const hard = ['no-drop', 'drop-excessive', 'difference-excessive', 'no-heat'].includes(hit.code)
    return { tone: hard ? 'out' : 'attend', word: hit.code.replaceAll('-', ' ') }
  }
  const by = (value: number, limit: number) => `${Math.round((value - limit) * 10) / 10} ${speed} over`
  if (verdict.check === 'magneto') {
    const invalid = verdict.outcome === 'invalid'
    const side = (name: 'left' | 'right', drop: number | null | undefined): Tile => {
      const of = `of ${l.dropMax} ${speed}`
      if (verdict.findings.some((f) => f.code === 'engine-stopped' && f.side === name))
        return { label: `${name} drop`, value: '–', of, tone: 'out', word: '■ engine stopped' }
      if (drop === null || drop === undefined)
        return { label: `${name} drop`, value: '–', of, tone: 'soft', word: 'not judged' }
      const rough = verdict.findings.some((f) => f.code === 'rough-running' && f.side === name)
      const t = tone(name, 'no-drop', 'drop-excessive', 'rough-running')
      if (drop > l.dropMax! && t.tone === 'out') t.word = `■ ${by(drop, l.dropMax!)}`
      else if (t.tone === 'out') t.word = `■ at least ${l.dropMin} ${speed} must be seen`
      else if (rough) t.word = '▲ within, but rough'
      else if (invalid)
        return { label: `${name} drop`, value: String(drop), of, tone: 'soft', word: 'not judged' }
      return { label: `${name} drop`, value: String(drop), of, ...t }
    }
    const over = v.leftDrop! > l.dropMax! || v.rightDrop! > l.dropMax!
    const difference: Tile =
      v.difference === null || v.difference === undefined || invalid || over
        ? {
            label: 'difference',
            value: v.difference == null ? '–' : String(v.difference),
            of: `of ${l.differenceMax} ${speed}`,
            tone: 'soft',
            word: 'not judged',
          }
        : {
            label: 'difference',
            value: String(v.difference),
            of: `of ${l.differenceMax} ${speed}`,
            ...tone(undefined, 'difference-excessive'),
          }
    if (difference.tone === 'out') difference.word = `■ ${by(v.difference!, l.differenceMax!)}`
    return [side('left', v.leftDrop), side('right', v.rightDrop), difference]
  }
  if (verdict.check === 'carb-heat') {
    const ice = verdict.findings.some((f) => f.code === 'ice-cleared')
    return [
      {
        label: 'drop with heat',
        value: String(v.drop),
        of: `of ${l.dropMin} to ${l.dropMax} rpm`,
        ...(ice
          ? { tone: 'soft' as const, word: 'not judged' }
          : tone(undefined, 'no-heat', 'drop-excessive')),
      },
      {
        label: 'back on cold',
        value: `${v.recovery! > 0 ? '+' : ''}${v.recovery}`,
        of: `within ${l.recoveryTolerance} rpm`,
        ...tone(undefined, 'ice-cleared', 'heat-stays-on'),
      },
    ]
  }
  return []
}

export type Strip = {
  label: string
  unit: string
  value?: number
  min?: number
  max?: number
  low?: number
  high?: number
}

/** The readings of a check on their printed scales. */
export function stripsOf(
  def: CheckDefinition,
  built: Built,
  limits: Record<string, unknown>,
  gauges: GaugeName[],
  elevation?: number,
): Strip[] {
  const l = limits
  const own = (name: string) => (limits[name] ?? {}) as Record<string, number | undefined>
  const n = (x: unknown) => (typeof x === 'number' ? x : undefined)
  const r = built.reading
  const one = (label: string, unit: string, value: unknown, min: unknown, max: unknown): Strip => ({
    label,
    unit,
    value: n(value),
    min: n(min),
    max: n(max),
  })
  const rows = (name: string) => (Array.isArray(r[name]) ? (r[name] as Record<string, unknown>[]) : [])
  switch (def.name) {
    case 'gauges':
      return gauges.map((g) => ({
        ...one(g.label, g.unit, r[g.id], own(g.id).min, own(g.id).max),
        low: own(g.id).cautionMin,
        high: own(g.id).cautionMax,
      }))
    case 'suction':
      return [one('suction', 'inHg', r.inHg, l.min, l.max)]
    case 'idle':
      return [
        one('idle speed', 'rpm', r.rpm, l.min, l.max),
        one('held', 's', r.seconds, l.seconds, undefined),
      ]
    case 'charging':
      return (rows('sides').length ? rows('sides') : [{}]).flatMap((s: Record<string, unknown>) => [
        one('voltage', 'V', s.volts, l.voltsMin, l.voltsMax),
        one('current', 'A', s.amps, l.ampsMin, undefined),
      ])
    case 'piston-start':
      return [
        one('oil pressure after', 's', r.secondsToOilPressure, undefined, l.oilPressureSeconds),
        one('highest speed', 'rpm', r.rpmPeak, undefined, l.rpmMax),
      ]
    case 'altimeter': {
      const tolerance = n(l.toleranceFt) ?? 0
      if (elevation === undefined) return []
      return (rows('altimeters').length ? rows('altimeters') : [{}]).map((a: Record<string, unknown>, i) =>
        one(`altimeter ${i + 1}`, 'ft', a.indicatedFt, elevation - tolerance, elevation + tolerance),
      )
    }
  }
  return []
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
