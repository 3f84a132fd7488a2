import type { Schemas } from '@/schema/schemas'

/** What a printed scale reaches from and to, so that its band, limits and number have room. */
export function rangeOf(s: Schemas['CheckStrip']): { from: number; to: number } {
  const numbers = [s.min, s.max, s.low, s.high, s.value].filter((n) => n !== undefined)
  const bottom = s.min === undefined ? 0 : Math.min(...numbers)
  const top = s.max === undefined ? Math.max(...numbers) * 1.6 + 1 : Math.max(...numbers)
  const pad = (top - bottom || 1) * 0.15
  return { from: s.min === undefined ? bottom : bottom - pad, to: top + pad }
}
