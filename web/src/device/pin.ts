// The PIN that opens this device without the school. What is kept of it is
// what PBKDF2 makes of it; wrong tries are counted, and the time is limited.
import { kept, type KeptPerson, type PinProof } from './kept'

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

const bytes = (text: string) => new TextEncoder().encode(text)
const ecdsa = { name: 'ECDSA', namedCurve: 'P-256' }

/** What PBKDF2 makes of a PIN: a proof, and a key that the device's own is wrapped with. */
async function made(pin: string, salt: Uint8Array<ArrayBuffer>) {
  const key = await crypto.subtle.importKey('raw', bytes(pin), 'PBKDF2', false, ['deriveBits'])
  const params = { name: 'PBKDF2', hash: 'SHA-256', salt, iterations: rounds }
  const both = new Uint8Array(await crypto.subtle.deriveBits(params, key, 512))
  const wrapping = await crypto.subtle.importKey('raw', both.slice(32), 'AES-GCM', false, [
    'wrapKey',
    'unwrapKey',
  ])
  return { hash: both.slice(0, 32), wrapping }
}

/** A key for this device, wrapped with a PIN, and its public half for the school. */
export async function makePin(pin: string): Promise<{ proof: PinProof; public: string }> {
  const salt = crypto.getRandomValues(new Uint8Array(16))
  const iv = crypto.getRandomValues(new Uint8Array(12))
  const { hash, wrapping } = await made(pin, salt)
  const pair = await crypto.subtle.generateKey(ecdsa, true, ['sign', 'verify'])
  const wrapped = new Uint8Array(
    await crypto.subtle.wrapKey('pkcs8', pair.privateKey, wrapping, { name: 'AES-GCM', iv }),
  )
  const open = new Uint8Array(await crypto.subtle.exportKey('raw', pair.publicKey))
  const sum = new Uint8Array(await crypto.subtle.digest('SHA-256', open))
  const id = Array.from(sum.slice(0, 8), (b) => b.toString(16).padStart(2, '0')).join('')
  return { proof: { salt, hash, tries: 0, iv, wrapped, key: id }, public: btoa(String.fromCharCode(...open)) }
}

/** Lets a PIN that the school has taken open this device. */
export const keepPin = (owner: string, pin: PinProof) => kept.people.update(owner, { pin })

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
export const lock = (owner: string) => sessionStorage.removeItem(unlockedKey(owner))

/** Tries a PIN; says why it does not open, or gives what wraps the device's key. */
async function tried(
  owner: string,
  pin: string,
): Promise<{ why: string } | { wrapping: CryptoKey; proof: PinProof }> {
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
  if (shut || !person?.pin) return { why: shut }
  const { hash, wrapping } = await made(pin, person.pin.salt)
  if (!hash.every((byte, i) => byte === person.pin!.hash[i])) {
    const left = triesMost - person.pin.tries
    return {
      why:
        closedTo(person) || `That is not the PIN. ${left === 1 ? 'One try is' : `${left} tries are`} left.`,
    }
  }
  await kept.people.update(owner, { pin: { ...person.pin, tries: 0 } })
  return { wrapping, proof: person.pin }
}

/** Opens the device by PIN; says why it does not, or nothing when it does. */
export async function tryPin(owner: string, pin: string): Promise<string> {
  const opened = await tried(owner, pin)
  if ('why' in opened) return opened.why
  unlock(owner)
  return ''
}

/** Signs words with this device's key, which the PIN opens; throws why it does not. */
export async function signWith(
  owner: string,
  pin: string,
  words: string,
): Promise<{ key: string; signature: string }> {
  const opened = await tried(owner, pin)
  if ('why' in opened) throw new Error(opened.why)
  const { wrapped, iv, key } = opened.proof
  const own = await crypto.subtle.unwrapKey(
    'pkcs8',
    wrapped,
    opened.wrapping,
    { name: 'AES-GCM', iv },
    ecdsa,
    false,
    ['sign'],
  )
  const signed = await crypto.subtle.sign({ name: 'ECDSA', hash: 'SHA-256' }, own, bytes(words))
  return { key, signature: btoa(String.fromCharCode(...new Uint8Array(signed))) }
}
