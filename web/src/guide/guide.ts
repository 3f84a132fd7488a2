// The pages of the user guide, found by place and by words.
import { shallowRef } from 'vue'

import { api, take } from '@/api/client'
import type { Schemas } from '@/schema/schemas'

export type Page = Schemas['GuidePage']
export type Block = Schemas['GuideBlock']

export const pages = shallowRef<Page[]>([])
/** Fetches the guide, once. */
export async function loadGuide() {
  if (!pages.value.length) pages.value = await take(api.GET('/api/v1/guide'))
}

/** The page that explains a place first. */
export const pageOf = (all: Page[], place: string) =>
  (all.find((p) => p.id === place) ?? all.find((p) => p.places.includes(place)))?.id ?? 'about'

const textOf = (p: Page) =>
  [
    p.title,
    p.about,
    ...p.blocks.flatMap((b) => b.items.map((i) => i.map((part) => part.text).join(''))),
  ].join('\n')

/** The pages that hold every word of a question, those that name them in the title first. */
export function found(all: Page[], question: string): Page[] {
  const words = question.toLowerCase().split(/\s+/).filter(Boolean)
  const holds = (text: string) => words.every((w) => text.toLowerCase().includes(w))
  const rank = (p: Page) => (holds(p.title) ? 0 : holds(p.about) ? 1 : 2)
  return all.filter((p) => holds(textOf(p))).sort((a, b) => rank(a) - rank(b))
}
