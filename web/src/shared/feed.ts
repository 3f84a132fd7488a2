// The school's feed: told as soon as something changes, asked now and then
// where the connection does not carry the stream.
import { api, take } from '@/api/client'
import { reached } from '@/device/reach'

const pause = 10_000 // milliseconds between two questions

/**
 * Calls changed whenever the feed's cursor is another than the one that the
 * screen was drawn with, until the returned function is called.
 */
export function follow(drawn: () => number | undefined, changed: (cursor: number) => void): () => void {
  let asking: ReturnType<typeof setInterval> | undefined
  const heard = (cursor: number) => {
    if (cursor !== drawn()) changed(cursor)
  }
  const ask = () =>
    take(api.GET('/api/v1/feed', { params: { query: { after: drawn() ?? 0 } } }))
      .then((feed) => heard(feed.cursor))
      .catch(() => undefined) // the next question tries again
  const source = new EventSource('/api/v1/feed/stream')
  source.addEventListener('cursor', (e) => {
    clearInterval(asking)
    asking = undefined
    reached()
    heard(Number((e as MessageEvent<string>).data))
  })
  source.onerror = () => (asking ??= setInterval(() => void ask(), pause))
  return () => {
    source.close()
    clearInterval(asking)
  }
}

/**
 * Calls changed for what changes from now on, until the returned function is called; and once when the school
 * is first heard, since it may have changed before that.
 */
export function heed(changed: () => void): () => void {
  let cursor: number | undefined
  return follow(
    () => cursor,
    (now) => {
      cursor = now
      changed()
    },
  )
}
