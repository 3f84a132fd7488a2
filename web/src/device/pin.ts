// The PIN that opens this device without the school. What is kept of it is
// what PBKDF2 makes of it; wrong tries are counted, and the time is limited.
import { kept, type KeptPerson } from './kept'

const rounds = 600_000
/** Wrong tries before only the school opens the device again. */
export const triesMost = 5
/** For how long the device opens without the school: with a PIN, and without. */
const withPin = 72 * 3600_000
const withoutPin = 12 * 3600_000
/** How far a clock may be set back before the time can no longer be told. */
const slack = 10 * 60_000

/** PINs need a secure place: loopback, or TLS. */
export const pinsWork = () => typeof crypto !== 'undefined' && crypto.subtle !== undefined

async function hashOf(pin: string, salt: Uint8Array<ArrayBuffer>) {
  const key = await crypto.subtle.importKey('raw', new TextEncoder().encode(pin), 'PBKDF2', false, [
    'deriveBits',
  ])
  const params = { name: 'PBKDF2', hash: 'SHA-256', salt, iterations: rounds }
  return new Uint8Array(await crypto.subtle.deriveBits(params, key, 256))
}

/** Lets a PIN that the school has taken open this device. */
export async function keepPin(owner: string, pin: string) {
  if (!pinsWork()) return
  const salt = crypto.getRandomValues(new Uint8Array(16))
  await kept.people.update(owner, { pin: { salt, hash: await hashOf(pin, salt), tries: 0 } })
}

/** Why the device does not open for a person without the school; empty when it does. */
export function closedTo(person: KeptPerson, now = Date.now()): string {
  const away = now - person.seen
  if (away < -slack)
    return 'This device’s clock stands earlier than when it was last used, so it cannot be told for how long it may be used without the school. Set the clock, or go where the school is reached. Marks that were made are kept.'
  if (away > (person.pin ? withPin : withoutPin))
    return 'The time to work without the school is over on this device. Go where the school is reached and sign in. Marks that were made are kept.'
  if (person.pin && person.pin.tries >= triesMost)
    return 'The PIN was tried too often. Go where the school is reached and sign in with the password. Marks that were made are kept.'
  return ''
}

const unlockedKey = (owner: string) => `unlocked ${owner}`
/** Whether the PIN has been given in this tab. */
export const unlocked = (person: KeptPerson) =>
  !person.pin || sessionStorage.getItem(unlockedKey(person.owner)) === '1'
export const unlock = (owner: string) => sessionStorage.setItem(unlockedKey(owner), '1')

/** Tries a PIN; says why it does not open, or nothing when it does. */
export async function tryPin(owner: string, pin: string): Promise<string> {
  // The try is counted before it is known how it ends: reloading gains nothing.
  const { person, shut } = await kept.transaction('rw', kept.people, async () => {
    const person = await kept.people.get(owner)
    if (!person?.pin) return { person, shut: 'No PIN was set on this device.' }
    const shut = closedTo(person)
    if (!shut) {
      person.pin.tries++
      await kept.people.put(person)
    }
    return { person, shut }
  })
  if (shut || !person?.pin) return shut
  const made = await hashOf(pin, person.pin.salt)
  if (!made.every((byte, i) => byte === person.pin!.hash[i])) {
    const left = triesMost - person.pin.tries
    return closedTo(person) || `That is not the PIN. ${left === 1 ? 'One try is' : `${left} tries are`} left.`
  }
  await kept.people.update(owner, { pin: { ...person.pin, tries: 0 } })
  unlock(owner)
  return ''
}
