const isObject = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null

/**
 * The newer value, made of the older one's parts wherever nothing in them has
 * changed: what is drawn from an unchanged part is not drawn again.
 */
export function share<T>(older: unknown, newer: T): T {
  if (older === newer || !isObject(older) || !isObject(newer)) return newer
  if (Array.isArray(older) !== Array.isArray(newer)) return newer
  const [was, is] = [older, newer as Record<string, unknown>]
  const keys = Object.keys(is)
  let same = keys.length === Object.keys(was).length
  for (const key of keys) {
    is[key] = share(was[key], is[key])
    same &&= key in was && is[key] === was[key]
  }
  return same ? (older as T) : newer
}
