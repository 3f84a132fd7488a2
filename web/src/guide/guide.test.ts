import { describe, expect, it } from 'vitest'

import { found, pageOf, type Page } from '@/guide/guide'
import { router } from '@/router'
import { placeWords } from '@/shared/words'

const page = (id: string, title: string, about: string, text: string, places: string[] = []): Page => ({
  id,
  title,
  about,
  role: '',
  places,
  blocks: [{ kind: 'text', items: [[{ kind: 'plain', text }]] }],
})
const pages = [
  page('about', 'What it is for', 'Read this first', 'Units and colours'),
  page('measured', 'Measured checks', 'What to type at a magneto check', 'Two drops', ['lesson']),
  page('lesson', 'Lesson', 'Grade by exception', 'A reading of the magneto check opens by itself', [
    'lesson',
  ]),
]

describe('the guide', () => {
  it('finds pages with every word, those first that are about it', () => {
    expect(found(pages, 'MAGNETO check').map((p) => p.id)).toEqual(['measured', 'lesson'])
    expect(found(pages, 'lesson').map((p) => p.id)).toEqual(['lesson'])
    expect(found(pages, 'two colours')).toEqual([])
    expect(found(pages, ' ')).toHaveLength(3)
  })
  it('begins with what explains a place, and elsewhere with what it is for', () => {
    expect(pageOf(pages, 'lesson')).toBe('lesson')
    expect(pageOf(pages.slice(0, 2), 'lesson')).toBe('measured')
    expect(pageOf(pages, 'nowhere')).toBe('about')
  })
  it('knows every place that there is', () => {
    const named = router.getRoutes().filter((r) => r.path !== '/' && !r.path.startsWith('/:rest'))
    expect(named.length).toBeGreaterThan(25)
    for (const r of named) expect(placeWords[r.meta.place ?? ''], r.path).toBeTruthy()
  })
})
