import { defineStore } from 'pinia'
import { ref, watch } from 'vue'

import { api, Refused, take } from '@/api/client'
import type { Schemas, Session } from '@/schema/schemas'
import { clearOld, kept, ownerOf, type KeptPerson } from '@/device/kept'
import { closedTo, keepPin, lock, makePin, unlock, unlocked } from '@/device/pin'
import { asking } from '@/device/reach'
import { readIn } from '@/rules/rules'

/** Other tabs of this browser hear who signs in and out. */
const others = 'BroadcastChannel' in globalThis ? new BroadcastChannel('jetprimer-session') : undefined

/** Who is signed in. */
export const useSession = defineStore('session', () => {
  const current = ref<Session | null>(null)
  /** The units that numbers are read in; a place is drawn anew when they change. */
  const reading = ref('')
  /** Whether the units are being chosen, or the PIN. */
  const choosing = ref(false)
  const pinning = ref(false)
  /** Who was signed in on this device and has to be asked for the PIN first. */
  const locked = ref<KeptPerson | null>(null)
  /** Another tab has signed somebody else in, or this person out. */
  const replaced = ref(false)
  watch(
    current,
    (session) => {
      asking.owner = session ? ownerOf(session) : ''
      asking.account = session?.account ?? ''
      if (!session) return
      readIn(session.units)
      reading.value = JSON.stringify(session.units)
    },
    { flush: 'sync' },
  )
  others?.addEventListener('message', (e: MessageEvent<string>) => {
    if (current.value && e.data !== ownerOf(current.value)) replaced.value = true
  })
  let asked: Promise<void> | undefined

  /** Asks once who is signed in; without the school this device says who was. */
  async function find(): Promise<Session | null> {
    asked ??= begin().catch((e: unknown) => {
      asked = undefined
      throw e
    })
    await asked
    return current.value
  }

  async function begin() {
    const person = await kept.people
      .where('signedIn')
      .equals(1)
      .first()
      .catch(() => undefined)
    try {
      if (
        await kept.people
          .filter((p) => p.leaving === true)
          .count()
          .catch(() => 0)
      )
        await leave()
      await signedIn(await take(api.GET('/api/v1/session', { signal: AbortSignal.timeout(8000) })))
    } catch (e) {
      if (!(e instanceof Refused)) throw e
      if (e.status === 401 || !person) return
      if (unlocked(person)) open(person)
      else locked.value = person
    }
  }

  /** Goes on without the school, as the person who was signed in here. */
  function open(person: KeptPerson) {
    if (closedTo(person)) locked.value = person
    else {
      locked.value = null
      current.value = person.session
    }
  }

  /** The school knows who it is: this device keeps it. */
  async function signedIn(session: Session) {
    const owner = ownerOf(session)
    const person = await kept.people.get(owner).catch(() => undefined)
    const pin = person?.pin && { ...person.pin, tries: 0 }
    try {
      await kept.people.where('signedIn').equals(1).modify({ signedIn: 0 })
      // A proxy of Vue's cannot be kept.
      await kept.people.put({
        owner,
        session: JSON.parse(JSON.stringify(session)) as Session,
        seen: Date.now(),
        signedIn: 1,
        pin,
      })
      await clearOld()
    } catch {
      // Without storage the application works while the school is reached.
    }
    if (pin) unlock(owner)
    locked.value = null
    current.value = session
    others?.postMessage(owner)
  }

  async function signIn(email: string, password: string, code?: string) {
    await entered(await take(api.POST('/api/v1/session', { body: { email, password, code } })))
  }

  /** Comes into a school by an invitation. */
  async function join(
    path: { school: string; id: string },
    body: { code: string; password: string; second?: string },
  ) {
    await entered(await take(api.POST('/api/v1/join/{school}/{id}/enter', { params: { path }, body })))
  }

  /** Goes on at another school of the person's. */
  async function changeSchool(school: string) {
    await entered(await take(api.PUT('/api/v1/session/school', { body: { school } })))
  }

  async function entered(session: Session) {
    await signedIn(session)
    await kept.people
      .toCollection()
      .modify({ leaving: false })
      .catch(() => undefined)
    asked = Promise.resolve()
  }

  /** Ends the session at the school, now or as soon as it is reached. */
  async function leave() {
    await take(api.DELETE('/api/v1/session')).catch((e: unknown) => {
      if (!(e instanceof Refused) || e.status !== 401) throw e
    })
    await kept.people.toCollection().modify({ leaving: false })
  }

  async function signOut() {
    const owner = asking.owner
    await kept.people.update(owner, { signedIn: 0, leaving: true }).catch(() => undefined)
    await leave().catch((e: unknown) => {
      if (!(e instanceof Refused) || (e.status !== 0 && e.status < 500)) throw e
    })
    lock(owner)
    current.value = null
    others?.postMessage('')
  }

  /** The school has ended the session: a sign-in goes on from here, and nothing kept is lost. */
  function expire() {
    current.value = null
  }

  /** The units that the person reads instead of the school's. */
  async function readUnits(own: Schemas['QuantityUnits']) {
    current.value = await take(api.PUT('/api/v1/session/units', { body: own }))
  }

  /** A number that signs, and opens this device without the school. */
  async function setPin(password: string, pin: string) {
    const device = await makePin(pin)
    current.value = await take(
      api.PUT('/api/v1/session/pin', { body: { password, pin, device: device.public } }),
    )
    await keepPin(asking.owner, device.proof)
    unlock(asking.owner)
  }

  /** What the school decides for itself. */
  async function decide(settings: Schemas['SchoolSettings']) {
    current.value = await take(api.PUT('/api/v1/school/settings', { body: settings }))
  }

  /** What the school has changed of the session. */
  async function again() {
    current.value = await take(api.GET('/api/v1/session'))
  }

  /** Whether the person may call an operation. */
  const may = (operation: string) => current.value?.may.includes(operation) ?? false

  return {
    current,
    reading,
    choosing,
    pinning,
    locked,
    replaced,
    find,
    open,
    signIn,
    join,
    entered,
    changeSchool,
    signOut,
    expire,
    readUnits,
    setPin,
    decide,
    again,
    may,
  }
})

/** Where a person begins: who only learns, with the own standing. */
export function home(session: Session): string {
  return session.roles?.join() === 'student' ? `/students/${session.account}` : '/today'
}
