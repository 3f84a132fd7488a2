import { Refused } from '@/api/client'

/** What went wrong, in words for a person; of a refusal its fields too, where a screen has no place beside them. */
export function inWords(e: unknown, fields?: 'with fields'): string {
  if (fields && e instanceof Refused) return [e.message, ...e.fields].join(' ')
  return e instanceof Error ? e.message : String(e)
}
