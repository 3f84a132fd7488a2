import { useEventListener, useTimeoutFn } from '@vueuse/core'
import { ref } from 'vue'

/** What a round came to: why something was left, and whether the session has ended. */
export type Round = { failed: string; expired: boolean }

/** How long the school is left alone after the n-th failure in a row, in milliseconds. */
export const pause = (failures: number) => Math.min(60_000, 2000 * 2 ** Math.min(failures - 1, 5))

/** Rounds of sending: of all tabs one sends at a time; after a failure again, later each time. */
export function useRounds(round: () => Promise<Round>) {
  /** Why the last round left something. */
  const trouble = ref('')
  /** The session has ended: marks wait for the next sign-in. */
  const expired = ref(false)
  const wait = ref(0)
  let failures = 0
  let running: Promise<void> | undefined
  const retry = useTimeoutFn(() => void send(), wait, { immediate: false })

  async function once() {
    retry.stop()
    const came = await round()
    trouble.value = came.failed
    expired.value = came.expired
    failures = came.failed ? failures + 1 : 0
    if (!came.failed) return
    wait.value = pause(failures)
    retry.start()
  }
  const alone = async () => {
    if (navigator.locks) await navigator.locks.request('jetprimer-outbox', once)
    else await once()
  }
  /** Sends what waits; what comes up meanwhile is sent by the next round. */
  function send(): Promise<void> {
    running ??= alone().finally(() => (running = undefined))
    return running
  }
  useEventListener(globalThis, 'online', () => void send())

  return { trouble, expired, send }
}
