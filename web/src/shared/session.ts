import { defineStore } from 'pinia'
import { ref } from 'vue'

import { api, Refused, take, type Session } from '@/api/client'

/** Who is signed in. */
export const useSession = defineStore('session', () => {
  const current = ref<Session | null>(null)
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

  /** Whether the person may call an operation. */
  const may = (operation: string) => current.value?.may.includes(operation) ?? false

  return { current, find, signIn, signOut, may }
})

/** Where a role begins. */
export function home(session: Session): string {
  return session.role === 'student' ? `/students/${session.account}` : '/today'
}
