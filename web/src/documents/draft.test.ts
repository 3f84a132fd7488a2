import { describe, expect, it, vi } from 'vitest'
import { effectScope } from 'vue'

import { freeId, put } from '@/shared/edit'
import { school, type Asked } from '@/test/school'
import { useDraft } from './draft'

type Doc = { title: string; items: { name: string }[] }
const stored = () => localStorage.getItem('document:list:l:1')

/** A school that keeps one draft. */
function library(doc: Doc, more: object = {}) {
  let revision = 1
  return school((a: Asked) => {
    if (a.method === 'PUT') {
      const sent = a.body as { revision: number; document: Doc }
      if (sent.revision !== revision) return 409
      ;[doc, revision] = [sent.document, revision + 1]
    }
    return {
      id: 'l',
      kind: 'list',
      version: 1,
      status: 'draft',
      revision,
      document: doc,
      problems: [],
      ...more,
    }
  })
}
const first = { title: 'Alder 110', items: [{ name: 'Beacon' }, { name: 'Fuel' }] }

async function draft() {
  const scope = effectScope()
  const d = scope.run(() => useDraft<Doc>('list', 'l', 1))!
  await d.load()
  return { ...d, leave: () => scope.stop() }
}

describe('a draft', () => {
  it('is one step of undo a thing, where it is changed within a second', async () => {
    library(first)
    const d = await draft()
    const at = vi.spyOn(performance, 'now').mockReturnValue(10_000)
    d.set(['title'], 'A')
    d.set(['title'], 'Al')
    d.set(['items', 0, 'name'], 'Beacons')
    at.mockReturnValue(12_000)
    d.set(['items', 0, 'name'], 'Beacon lights')
    expect(d.past.value.map((s) => s.what)).toEqual(['title', 'items.0.name', 'items.0.name'])
    for (let i = 0; i < 5; i++) d.undo()
    expect([d.doc.value, d.dirty.value]).toEqual([first, false])
    for (let i = 0; i < 5; i++) d.redo()
    expect(d.doc.value!.items[0]!.name).toBe('Beacon lights')
    d.undo()
    d.set(['title'], 'B')
    expect(d.future.value).toEqual([])
  })

  it('is kept on this device until it is saved, and comes back with undo', async () => {
    library(first)
    const d = await draft()
    d.set(['title'], 'Changed')
    d.leave()
    expect(JSON.parse(stored()!)).toMatchObject({ revision: 1, doc: { title: 'Changed' } })
    const again = await draft()
    expect([again.doc.value!.title, again.restored.value]).toEqual(['Changed', true])
    await again.save()
    expect([again.dirty.value, again.restored.value, stored()]).toEqual([false, false, null])
  })

  it('does not come back over what somebody else has saved since', async () => {
    library(first)
    const d = await draft()
    d.set(['title'], 'Mine')
    d.leave()
    library({ ...first, title: 'Theirs' }, { revision: 2 })
    expect((await draft()).doc.value!.title).toBe('Theirs')
  })

  it('keeps what is typed while it is saved, and says why a saving failed', async () => {
    library(first)
    const d = await draft()
    d.set(['title'], 'A')
    const saving = d.save()
    d.set(['title'], 'AB')
    await saving
    expect([d.doc.value!.title, d.dirty.value]).toEqual(['AB', true])
    school(() => 409)
    await d.save()
    expect([d.problem.value, d.doc.value!.title]).toEqual(['The school answers 409.', 'AB'])
  })

  it('is not changed once it is reviewed', async () => {
    library(first, { status: 'reviewed' })
    const d = await draft()
    d.set(['title'], 'A')
    expect([d.doc.value!.title, d.writable.value]).toEqual(['Alder 110', false])
  })
})

it('puts one value and shares the rest', () => {
  const doc = { a: [{ b: 1 }, { b: 2 }], c: { d: 3 } }
  const changed = put(doc, ['a', 1, 'b'], 5)
  expect(changed).toEqual({ a: [{ b: 1 }, { b: 5 }], c: { d: 3 } })
  expect(changed.a[0]).toBe(doc.a[0])
  expect(changed.c).toBe(doc.c)
  expect(put(doc, ['c', 'd'], undefined)).toEqual({ a: doc.a, c: {} })
})

it('finds an id that is free', () => {
  expect([freeId('a', []), freeId('a', ['a']), freeId('a', ['a', 'a-2'])]).toEqual(['a', 'a-2', 'a-3'])
})
