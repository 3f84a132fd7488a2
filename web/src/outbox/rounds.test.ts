import { expect, it, vi } from 'vitest'
import { effectScope } from 'vue'

import { pause, useRounds } from './rounds'
import { waitingWords, type Backlog } from './waiting'

it('leaves the school alone longer after each failure, and a minute at most', () => {
  expect([1, 2, 3, 4, 5, 6, 7, 50].map(pause)).toEqual([2, 4, 8, 16, 32, 60, 60, 60].map((s) => s * 1000))
})

it('goes round one at a time, and again by itself after a failure', async () => {
  vi.useFakeTimers()
  let [under, most, times] = [0, 0, 0]
  const scope = effectScope()
  const { send, trouble } = scope.run(() =>
    useRounds(async () => {
      most = Math.max(most, ++under)
      await Promise.resolve()
      under--
      return { failed: ++times < 3 ? 'away' : '', expired: false }
    }),
  )!
  await Promise.all([send(), send()])
  expect([times, most, trouble.value]).toEqual([1, 1, 'away'])
  await vi.advanceTimersByTimeAsync(1999)
  expect(times).toBe(1)
  await vi.advanceTimersByTimeAsync(1)
  expect(times).toBe(2)
  await vi.advanceTimersByTimeAsync(4000)
  expect([times, trouble.value]).toEqual([3, ''])
  await vi.advanceTimersByTimeAsync(600_000)
  expect(times).toBe(3)
  scope.stop()
})

const nothing: Backlog = {
  counted: true,
  waiting: 0,
  since: 0,
  others: 0,
  pictures: 0,
  refused: 0,
  unkept: 0,
  storage: '',
  trouble: '',
  away: false,
  zone: 'UTC',
}
it.each<[Partial<Backlog>, string]>([
  [{ counted: false, waiting: 3 }, 'counting the marks on this device'],
  [{}, 'all marks at the school'],
  [{ waiting: 2 }, 'sending 2'],
  [{ waiting: 1, away: true, since: 32400000 }, 'Not sent yet: 1 mark kept on this device since 09:00'],
  [{ waiting: 2, pictures: 1, trouble: 'x' }, 'Not sent yet: 2 marks and 1 picture kept on this device'],
  [{ pictures: 2, trouble: 'x' }, 'Not sent yet: 2 pictures kept on this device'],
  [{ others: 1 }, 'all marks at the school; 1 mark of somebody else wait for them'],
  [{ refused: 1, waiting: 4 }, '1 mark refused by the school'],
])('says of %o: %s', (backlog, words) => expect(waitingWords({ ...nothing, ...backlog })).toBe(words))
