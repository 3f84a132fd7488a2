import { computed, onScopeDispose, ref, shallowRef, watch } from 'vue'

import { api, take } from '@/api/client'
import type { DocumentView, Version } from '@/schema/schemas'
import { put, type Path } from '@/shared/edit'
import { inWords } from '@/shared/errors'
import { useTrying } from '@/shared/trying'

type Step<T> = { doc: T; what: string }

/** One version being written: its text with undo, kept on this device until saved. */
export function useDraft<T extends object>(kind: string, id: string, version: number) {
  const meta = shallowRef<Version | null>(null)
  const doc = shallowRef<T | null>(null)
  const saved = shallowRef<T | null>(null)
  const past = shallowRef<Step<T>[]>([])
  const future = shallowRef<Step<T>[]>([])
  const { problem, busy, tried } = useTrying()
  const restored = ref(false)
  const key = `document:${kind}:${id}:${version}`
  const params = { path: { kind: kind as 'list', id, version } }
  let typedAt = 0

  const dirty = computed(() => doc.value !== saved.value)
  const writable = computed(() => meta.value?.status === 'draft')

  function show(view: DocumentView) {
    const { document, problems, ...rest } = view
    meta.value = rest as Version
    saved.value = document as T
    void problems
  }

  async function load() {
    problem.value = ''
    try {
      const view = await take(api.GET('/api/v1/library/{kind}/{id}/{version}', { params }))
      show(view)
      doc.value = saved.value
      past.value = future.value = []
      restore()
    } catch (e) {
      problem.value = inWords(e)
    }
  }

  /** Brings back what was typed on this device and not saved. */
  function restore() {
    const text = localStorage.getItem(key)
    if (!text || !writable.value) return
    const own = JSON.parse(text) as { revision: number; doc: T }
    if (own.revision === meta.value!.revision && JSON.stringify(own.doc) !== JSON.stringify(saved.value)) {
      past.value = [{ doc: doc.value!, what: 'all that was typed before' }]
      doc.value = own.doc
      restored.value = true
    }
  }

  /** Keeps what is not saved on this device; at the latest when the page goes. */
  let keeping: ReturnType<typeof setTimeout> | undefined
  function keep() {
    clearTimeout(keeping)
    keeping = undefined
    if (dirty.value && meta.value)
      localStorage.setItem(key, JSON.stringify({ revision: meta.value.revision, doc: doc.value }))
    else localStorage.removeItem(key)
  }
  watch(doc, () => (keeping ??= setTimeout(keep, 400)))
  const leaving = () => keeping !== undefined && keep()
  window.addEventListener('pagehide', leaving)
  onScopeDispose(() => {
    leaving()
    window.removeEventListener('pagehide', leaving)
  })

  /** Makes one change. Changes of the same thing within a second are one step of undo. */
  function change(what: string, next: T) {
    if (!doc.value || !writable.value) return
    const now = performance.now()
    const last = past.value.at(-1)
    if (!last || last.what !== what || now - typedAt > 1000)
      past.value = [...past.value, { doc: doc.value, what }]
    typedAt = now
    future.value = []
    doc.value = next
  }

  const set = (path: Path, value: unknown) => change(path.join('.'), put(doc.value!, path, value))

  function undo() {
    const last = past.value.at(-1)
    if (!last) return
    future.value = [...future.value, { doc: doc.value!, what: last.what }]
    past.value = past.value.slice(0, -1)
    doc.value = last.doc
    typedAt = 0
  }

  function redo() {
    const next = future.value.at(-1)
    if (!next) return
    past.value = [...past.value, { doc: doc.value!, what: next.what }]
    future.value = future.value.slice(0, -1)
    doc.value = next.doc
    typedAt = 0
  }

  const save = () =>
    tried(async () => {
      const sent = doc.value!
      const view = await take(
        api.PUT('/api/v1/library/{kind}/{id}/{version}', {
          params,
          body: { revision: meta.value!.revision, document: sent },
        }),
      )
      show(view)
      if (doc.value === sent) doc.value = saved.value
      restored.value = false
      localStorage.removeItem(key)
    })

  /** Takes the version on: review, reopen, approve or withdraw. */
  const step = (name: 'review' | 'reopen' | 'approve' | 'withdraw', from?: string, compared?: string[]) =>
    tried(async () => {
      if (dirty.value) await save()
      if (problem.value) return
      const body = {
        revision: meta.value!.revision,
        ...(from ? { from } : {}),
        ...(compared ? { compared } : {}),
      }
      const at =
        `/api/v1/library/{kind}/{id}/{version}/${name}` as '/api/v1/library/{kind}/{id}/{version}/approve'
      meta.value = await take(api.POST(at, { params, body: body as typeof body & { from: string } }))
      if (compared) await load()
    })

  const drop = () =>
    tried(async () => {
      await take(api.DELETE('/api/v1/library/{kind}/{id}/{version}', { params }))
      localStorage.removeItem(key)
    })

  return {
    meta,
    doc,
    saved,
    past,
    future,
    problem,
    restored,
    busy,
    dirty,
    writable,
    load,
    change,
    set,
    undo,
    redo,
    save,
    step,
    drop,
  }
}
