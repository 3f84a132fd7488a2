import { describe, expect, it, vi } from 'vitest'

import { kept } from '@/device/kept'
import { event, school, signedIn, type Asked } from '@/test/school'
import { useOutbox } from './outbox'

const events = (asked: Asked) => (asked.body as { events: { id: string }[] }).events
/** Takes everything it is sent. */
const takes = (asked: Asked) => ({ answers: events(asked).map(({ id }) => ({ id, status: 'held' })) })
const states = async () => Object.fromEntries((await kept.marks.toArray()).map((m) => [m.id, m.state]))

async function outbox() {
  signedIn()
  const box = useOutbox()
  await vi.waitFor(() => expect(box.counted).toBe(true))
  return box
}

describe('the outbox', () => {
  it('keeps a mark before it is sent, and until the school holds it', async () => {
    const asked = school(takes)
    const box = await outbox()
    await box.keep('a', [event('1'), event('2', 2)])
    expect(await states()).toEqual({ 1: 'waiting', 2: 'waiting' })
    await box.settle('a')
    expect(await states()).toEqual({ 1: 'held', 2: 'held' })
    expect(asked.map((a) => a.path)).toEqual(['/lessons/a/events'])
    await vi.waitFor(() => expect(box.words).toBe('all marks at the school'))
  })

  it('says what waits while the school is away, and sends it when it is back', async () => {
    let away = true
    school((a) => (away ? undefined : takes(a)))
    const box = await outbox()
    await box.keep('a', [event('1')])
    await expect(box.settle('a')).rejects.toThrow(
      /^Not sent yet: 1 mark kept on this device since \d\d:\d\d\./,
    )
    away = false
    dispatchEvent(new Event('online'))
    await vi.waitFor(async () => expect(await states()).toEqual({ 1: 'held' }))
  })

  it('says nothing of what waits for one person until it is counted for the next', async () => {
    school(() => undefined)
    const box = await outbox()
    await box.keep('a', [event('1')])
    signedIn('bela')
    expect(box.words).toBe('counting the marks on this device')
    await vi.waitFor(() => expect(box.words).toMatch('1 mark of somebody else'))
    signedIn()
    expect([box.counted, box.words]).toEqual([false, 'counting the marks on this device'])
    await vi.waitFor(() => expect(box.words).toMatch(/^Not sent yet: 1 mark kept/))
  })

  it('lets no lesson that is stuck hold another up', async () => {
    school((a) => (a.path.includes('/a/') ? 503 : takes(a)))
    const box = await outbox()
    await box.keep('a', [event('1')])
    await box.keep('b', [event('2')])
    await box.send()
    expect(await states()).toEqual({ 1: 'waiting', 2: 'held' })
  })

  it('shows what was refused with its reason, sends it again, and lets it go', async () => {
    school((a) => ({
      answers: events(a).map(({ id }) => ({ id, status: 'refused', reason: 'came too late' })),
    }))
    const box = await outbox()
    await box.keep('a', [event('1'), event('2', 2)])
    await box.send()
    await vi.waitFor(() =>
      expect(box.refused.map((m) => m.reason)).toEqual(['came too late', 'came too late']),
    )
    expect(box.words).toBe('2 marks refused by the school')
    expect(await box.known('a')).toEqual([])
    await box.letGo(box.refused[1]!)
    school(takes)
    await box.again(box.refused[0]!)
    await box.send()
    await vi.waitFor(async () => expect(await states()).toEqual({ 1: 'held' }))
  })

  it('sends for ever neither what the school will never take nor what it does not answer', async () => {
    school(() => 422)
    const box = await outbox()
    await box.keep('a', [event('1')])
    await box.send()
    expect(await states()).toEqual({ 1: 'refused' })
    school((a) => ({ answers: takes(a).answers.slice(1) }))
    await box.keep('b', [event('2'), event('3', 2)])
    await box.send()
    expect(await states()).toMatchObject({ 2: 'waiting', 3: 'held' })
    expect(box.trouble).toContain('cut short')
  })

  it('keeps marks for whom they belong to when the session has ended', async () => {
    school(() => 401)
    const box = await outbox()
    await box.keep('a', [event('1')])
    await box.send()
    expect(box.expired).toBe(true)
    expect(await states()).toEqual({ 1: 'waiting' })
    const asked = school(takes)
    signedIn('bo')
    await box.send()
    expect(asked).toEqual([])
    await vi.waitFor(() => expect(box.words).toContain('1 mark of somebody else wait'))
  })

  it('holds on this page what the device cannot keep, and sends it from there', async () => {
    let away = true
    school((a) => (away ? undefined : takes(a)))
    const box = await outbox()
    const full = Object.assign(new Error('full'), { name: 'QuotaExceededError' })
    vi.spyOn(kept.marks, 'bulkPut').mockRejectedValue(full)
    await box.keep('a', [event('1')])
    expect(box.words).toBe(
      'This device’s storage is full. 1 mark only on this page: leave it open until the school holds them',
    )
    expect((await box.known('a')).map((e) => e.id)).toEqual(['1'])
    away = false
    await box.settle('a')
    expect(await box.known('a')).toEqual([])
  })

  it('sends pictures and signatures after the marks that they belong to', async () => {
    const asked = school((a) => (a.path.endsWith('/events') ? takes(a) : {}))
    const box = await outbox()
    const owner = box.owner
    await kept.pictures.put({
      owner,
      hash: 'h',
      lesson: 'a',
      data: new ArrayBuffer(2),
      state: 'waiting',
      at: 1,
    })
    const of = { owner, lesson: 'a', eventHash: 'e', event: 'x', at: '', key: 'k', signature: 's', seen: [] }
    await kept.signatures.put({ ...of, reason: '' })
    await box.keep('a', [event('1')])
    await box.send()
    await vi.waitFor(async () => expect(await kept.signatures.count()).toBe(0))
    expect((await kept.pictures.toArray())[0]!.state).toBe('held')
    const order = asked.map((a) => a.path.split('/')[3])
    expect(order.lastIndexOf('events')).toBeLessThan(order.indexOf('sign'))
  })
})
