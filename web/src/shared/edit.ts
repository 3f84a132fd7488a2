// Changes of one value in a document that is being written.
export type Path = (string | number)[]

/** A copy of a document with one value replaced; what is not touched is shared. */
export function put<T>(doc: T, path: Path, value: unknown): T {
  if (!path.length) return value as T
  const [head, ...rest] = path as [string | number, ...Path]
  if (Array.isArray(doc)) {
    const copy = [...doc]
    copy[head as number] = put(copy[head as number], rest, value)
    return copy as T
  }
  const copy = { ...(doc as Record<string, unknown>) }
  const inner = put(copy[head], rest, value)
  if (inner === undefined) delete copy[head]
  else copy[head] = inner
  return copy as T
}

/** What sets one value of the document that a part edits, and tells whoever keeps it. */
export const setter =
  <T>(doc: () => T, emit: (event: 'change', what: string, doc: T) => void) =>
  (path: Path, value: unknown) =>
    emit('change', path.join('.'), put(doc(), path, value))

/** What stands in the box that an event is of. */
export const boxText = (e: Event) => (e.target as HTMLInputElement).value

/** The id itself where nothing has it yet, or with the first number that is free. */
export function freeId(base: string, taken: string[]): string {
  let id = base
  for (let n = 2; taken.includes(id); n++) id = `${base}-${n}`
  return id
}
