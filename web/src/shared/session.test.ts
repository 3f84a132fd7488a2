import { createPinia, setActivePinia } from 'pinia'
import { describe, expect, it, vi } from 'vitest'

import { kept } from '@/device/kept'
import type { Session } from '@/schema/schemas'
import { school } from '@/test/school'
import { home, useSession } from './session'

vi.mock('@/rules/rules', () => ({ readIn: () => undefined, ready: () => Promise.resolve() }))
const ada = {
  account: 'ada',
  school: 'tharwood',
  zone: 'UTC',
  units: {},
  may: ['sign-lesson'],
  roles: ['instructor'],
} as unknown as Session
const people = async () => (await kept.people.toArray()).map((p) => [p.owner, p.signedIn, !!p.leaving])

describe('a session', () => {
  it('is asked for once, and kept on this device', async () => {
    const asked = school(() => ada)
    const session = useSession()
    await Promise.all([session.find(), session.find()])
    expect(asked).toHaveLength(1)
    expect(await people()).toEqual([['tharwood ada', 1, false]])
    expect([session.may('sign-lesson'), session.may('govern')]).toEqual([true, false])
  })

  it('goes on without the school as who was signed in here, and not where the school says nobody is', async () => {
    school(() => ada)
    await useSession().find()
    for (const [answer, account] of [
      [undefined, 'ada'],
      [503, 'ada'],
      [401, undefined],
    ] as const) {
      school(() => answer)
      setActivePinia(createPinia()) // another page
      const found = await useSession().find()
      expect([answer, found?.account]).toEqual([answer, account])
    }
  })

  it('ends at the school as soon as it is reached', async () => {
    school(() => ada)
    const session = useSession()
    await session.find()
    school(() => undefined)
    await session.signOut()
    expect([session.current, await people()]).toEqual([null, [['tharwood ada', 0, true]]])
    const asked = school((a) => (a.method === 'DELETE' ? {} : 401))
    setActivePinia(createPinia())
    expect(await useSession().find()).toBeNull()
    expect(asked.map((a) => a.method)).toEqual(['DELETE', 'GET'])
    expect(await people()).toEqual([['tharwood ada', 0, false]])
  })

  it('begins where the person works', () => {
    expect(home(ada)).toBe('/today')
    expect(home({ ...ada, roles: ['student'] })).toBe('/students/ada')
  })
})
