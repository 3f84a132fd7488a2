import { ref } from 'vue'

import { inWords } from '@/shared/errors'

/** Something that may be refused: what is said of it, and whether it is under way. */
export function useTrying() {
  const problem = ref('')
  const busy = ref(false)
  async function tried(run: () => Promise<unknown>) {
    problem.value = ''
    busy.value = true
    try {
      await run()
    } catch (e) {
      problem.value = inWords(e)
    } finally {
      busy.value = false
    }
  }
  return { problem, busy, tried }
}
