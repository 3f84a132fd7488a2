// What a browser has and the test's does not: a database, with nothing in it at first, and
// requests whose addresses begin at the page's own.
import 'fake-indexeddb/auto'
import './request'

import { createPinia, disposePinia, setActivePinia, type Pinia } from 'pinia'
import { afterEach, beforeEach, vi } from 'vitest'

import { kept } from '@/device/kept'
import { reach } from '@/device/reach'

let pinia: Pinia
/** The stores of a test end with it: none of them asks the school of the next. */
afterEach(() => disposePinia(pinia))

beforeEach(async () => {
  vi.restoreAllMocks()
  vi.useRealTimers()
  sessionStorage.clear()
  localStorage.clear()
  Object.assign(reach, { away: false, from: 0 })
  await Promise.all(kept.tables.map((t) => t.clear()))
  pinia = createPinia()
  setActivePinia(pinia)
})
