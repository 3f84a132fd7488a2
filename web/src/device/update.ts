// The application itself on this device: kept whole by a service worker, and
// replaced only on the person's word, never while a lesson is open.
import { ref } from 'vue'
import { registerSW } from 'virtual:pwa-register'

/** A newer application waits to be taken. */
export const newer = ref(false)
/** Whether the application opens without the school from now on. */
export const aboard = ref(false)

/** How often the school is asked for a newer application, in milliseconds. */
const lookEvery = 3600_000
/** How long the browser may take to let go of the old application, in milliseconds. */
const lettingGo = 5000
const lessonLock = 'jetprimer-lesson'
let take: ((reload: boolean) => Promise<void>) | undefined

export function keepApplication() {
  if (!('serviceWorker' in navigator)) return
  take = registerSW({
    onNeedRefresh: () => (newer.value = true),
    onOfflineReady: () => (aboard.value = true),
    // A page that stays open for days still hears of a newer application.
    onRegisteredSW: (_, registration) =>
      void setInterval(() => registration?.update().catch(() => undefined), lookEvery),
  })
  void navigator.serviceWorker.ready.then(() => (aboard.value = true))
}

/** Holds updates off until the returned function is called. */
export function lessonOpen(): () => void {
  let released = false
  let release = () => {}
  void navigator.locks?.request(lessonLock, { mode: 'shared' }, () =>
    released ? undefined : new Promise<void>((ends) => (release = ends)),
  )
  return () => {
    released = true
    release()
  }
}

/** Takes the newer application, unless a lesson is open in some tab; says why not. */
export async function takeNewer(): Promise<string> {
  if (!navigator.locks) return ''
  return navigator.locks.request(lessonLock, { ifAvailable: true }, async (lock) => {
    if (!lock) return 'A lesson is open. The new version waits until it is left.'
    await take?.(true)
    // The page is loaded anew as soon as the browser lets go of the old one.
    await new Promise((resolve) => setTimeout(resolve, lettingGo))
    return 'The browser still holds the old version. Close every page of this application; the new one is there when it is opened again.'
  })
}
