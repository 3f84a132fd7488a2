import { ref } from 'vue'

import { Refused } from '@/api/client'

/** The code of an authenticator, for accounts that have one: it is asked for once the password was right. */
export function useCode() {
  const code = ref('')
  const asked = ref(false)
  async function asking(run: () => Promise<unknown>) {
    try {
      await run()
    } catch (e) {
      if (e instanceof Refused && e.problem.errors?.some((f) => f.location === 'body.code'))
        asked.value = true
      throw e
    }
  }
  return { code, asked, asking }
}
