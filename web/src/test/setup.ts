// What a browser has and the test's does not: a database, with nothing in it at first, and
// requests whose addresses begin at the page's own.
import 'fake-indexeddb/auto'
import './request'

import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, vi } from 'vitest'

import { kept } from '@/device/kept'
import { reach } from '@/device/reach'

beforeEach(async () => {
  vi.restoreAllMocks()
  vi.useRealTimers()
  sessionStorage.clear()
  localStorage.clear()
  Object.assign(reach, { away: false, from: 0 })
  await Promise.all(kept.tables.map((t) => t.clear()))
  setActivePinia(createPinia())
})
