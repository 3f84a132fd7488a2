import { computed, type Ref } from 'vue'

import type { Item, ItemState, LessonState, List, Schemas } from '@/schema/schemas'

/**
 * An item in its place, as the rules have it. Items that are worked once an
 * engine, side by side, share a row: mates are all of them, itself among them.
 */
export type Place = Omit<Schemas['LessonRow'], 'item' | 'mates'> & {
  item: Item
  state: ItemState
  mates: Place[]
}

/** The places of a list; one is another only when it, or one beside it, has changed. */
export const usePlaces = (
  list: Ref<List | null>,
  rows: Ref<Schemas['LessonRow'][]>,
  state: Ref<LessonState | null>,
) =>
  computed<Place[]>((before) => {
    if (!list.value || !state.value) return []
    const items = list.value.phases.flatMap((p) => p.items)
    const states = state.value.items
    const all: Place[] = []
    const same = (i: number) => before?.[i]?.item === items[i] && before?.[i]?.state === states[i]
    rows.value.forEach((row, i) => {
      if (all[i]) return
      const mates = row.mates.every(same)
        ? before![i]!.mates
        : row.mates.map((m): Place => ({ ...rows.value[m]!, item: items[m]!, state: states[m]!, mates: [] }))
      row.mates.forEach((m, n) => (all[m] = mates[n]!))
      for (const p of mates) p.mates = mates
    })
    return all
  })
