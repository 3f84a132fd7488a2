import { defineStore } from 'pinia'
import { ref, watch } from 'vue'

import { api, Refused, take, type Schemas, type Session } from '@/api/client'
import { readIn } from '@/rules/rules'

/** Who is signed in. */
export const useSession = defineStore('session', () => {
  const current = ref<Session | null>(null)
  /** The units that numbers are read in; a place is drawn anew when they change. */
  const reading = ref('')
  /** Whether the units are being chosen. */
  const choosing = ref(false)
  watch(
    current,
    (session) => {
      if (!session) return
      readIn(session.units)
      reading.value = JSON.stringify(session.units)
    },
    { flush: 'sync' },
  )
  let asked = false

  /** Asks once who is signed in. */
  async function find(): Promise<Session | null> {
    if (!asked) {
      try {
        current.value = await take(api.GET('/api/v1/session'))
      } catch (e) {
        if (!(e instanceof Refused) || e.status !== 401) throw e
      }
      asked = true
    }
    return current.value
  }

  async function signIn(email: string, password: string) {
    current.value = await take(api.POST('/api/v1/session', { body: { email, password } }))
    asked = true
  }

  async function signOut() {
    await take(api.DELETE('/api/v1/session'))
    current.value = null
  }

  /** The units that the person reads instead of the school's. */
  async function readUnits(own: Schemas['QuantityUnits']) {
    current.value = await take(api.PUT('/api/v1/session/units', { body: own }))
  }

  /** What the school decides for itself. */
  async function decide(settings: Schemas['SchoolSettings']) {
    current.value = await take(api.PUT('/api/v1/school/settings', { body: settings }))
  }

  /** Whether the person may call an operation. */
  const may = (operation: string) => current.value?.may.includes(operation) ?? false

  return { current, reading, choosing, find, signIn, signOut, readUnits, decide, may }
})

/** Where a role begins. */
export function home(session: Session): string {
  return session.role === 'student' ? `/students/${session.account}` : '/today'
}
