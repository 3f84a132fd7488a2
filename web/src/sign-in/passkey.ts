// Passkeys of this device: a finger signs. The browser binds them to a name in
// the address, never to a number.
import { api, take } from '@/api/client'

/** Why there are no passkeys here; empty when there can be. */
export function noPasskeys(): string {
  if (!('PublicKeyCredential' in globalThis) || !('parseCreationOptionsFromJSON' in PublicKeyCredential))
    return 'This browser has no passkeys here. Password and PIN sign as well.'
  if (/^[\d.]+$/.test(location.hostname) || location.hostname.includes(':'))
    return 'Passkeys need a name in the address, not a number: such as localhost, or the school’s own host. Password and PIN sign as well.'
  return ''
}

/** Makes a passkey on this device; the password says that it may. */
export async function makePasskey(password: string) {
  const { options } = await take(api.POST('/api/v1/session/passkey/begin', { body: { password } }))
  const publicKey = PublicKeyCredential.parseCreationOptionsFromJSON(
    options as PublicKeyCredentialCreationOptionsJSON,
  )
  const made = (await navigator.credentials.create({ publicKey })) as PublicKeyCredential | null
  if (!made) throw new Error('No passkey was made.')
  return take(api.POST('/api/v1/session/passkey', { body: { credential: made.toJSON() } }))
}

/** Asks the device for the passkey: what signs instead of a password. */
export async function askPasskey(): Promise<unknown> {
  const { options } = await take(api.POST('/api/v1/session/passkey/ask'))
  const publicKey = PublicKeyCredential.parseRequestOptionsFromJSON(
    options as PublicKeyCredentialRequestOptionsJSON,
  )
  const given = (await navigator.credentials.get({ publicKey })) as PublicKeyCredential | null
  if (!given) throw new Error('No passkey was given. Nothing was signed.')
  return given.toJSON()
}
