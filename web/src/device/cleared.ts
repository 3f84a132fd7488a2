// What a browser short of space has cleared away. It clears everything that is
// kept but its cookies: one of them says how many marks waited here and since
// when, so that their loss is not silent.
import { ref } from 'vue'

import { kept } from './kept'

const name = 'jetprimer-waiting'
/** As long as browsers let a cookie live, in seconds. */
const longest = 400 * 24 * 3600

/** The marks that were cleared away before the school had them. */
export const cleared = ref<{ marks: number; since: number }>()

function write(value: string) {
  document.cookie = `${name}=${value}; Path=/; SameSite=Strict; Max-Age=${value ? longest : 0}`
}

/** Says outside of what can be cleared how many marks wait here, and since when. */
export function tellWaiting(marks: number, since: number) {
  if (!cleared.value) write(marks ? `${marks}.${since}` : '')
}

/** Looks whether what waited here is gone with everything else; before anybody signs in. */
export async function lookForLoss() {
  const told = document.cookie.split('; ').find((c) => c.startsWith(`${name}=`))
  const [marks, since, lost] = (told?.slice(name.length + 1) ?? '').split('.')
  if (!Number(marks)) return
  // Whoever signed in here is remembered: with nobody known, nothing of before is left.
  if (!lost && (await kept.people.count().catch(() => 1))) return
  cleared.value = { marks: Number(marks), since: Number(since) || 0 }
  write(`${marks}.${since}.lost`) // until it has been read
}

export function readLoss() {
  cleared.value = undefined
  tellWaiting(0, 0)
}
