import { reactive, ref, shallowRef } from 'vue'

import { api, Refused, take } from '@/api/client'
import type { Schemas } from '@/schema/schemas'
import { useTrying } from '@/shared/trying'
import { base, said, siteOf, typedSite, type TypedSite } from '@/sites/sites'

/** A base as it is typed; name is what the school calls it, empty for one that is not kept yet. */
type TypedBase = { typed: TypedSite; climate?: Schemas['WeatherClimate']; name: string }

/** The school itself, part by part: each is kept by itself. */
export function usePlace() {
  const { problem, busy, tried } = useTrying()
  const place = shallowRef<Schemas['Place'] | null>(null)
  const typed = reactive({ name: '', timeZone: '' })
  const bases = ref<TypedBase[]>([])
  const kept = ref('')

  const asKept = (b: Schemas['Place']['bases'][number]): TypedBase => ({
    typed: typedSite(b),
    climate: b.climate,
    name: b.name,
  })
  const load = async () => (place.value = await take(api.GET('/api/v1/place')))
  const showName = (p: Schemas['Place']) => Object.assign(typed, { name: p.name, timeZone: p.timeZone })
  const open = () =>
    tried(async () => {
      const p = await load()
      showName(p)
      bases.value = p.bases.map(asKept)
    })
  const add = () => bases.value.push({ typed: base(), name: '' })

  /** Keeps one part. What is typed in the others stays as it is. */
  const keeping = (run: () => Promise<unknown>, words: string, shown: (p: Schemas['Place']) => void) =>
    tried(async () => {
      kept.value = ''
      await run().catch((e: unknown) => {
        throw e instanceof Refused ? new Error(said(e)) : e
      })
      shown(await load())
      kept.value = words
    })
  const keepPlace = () =>
    keeping(
      () => take(api.PUT('/api/v1/place', { body: { ...typed } })),
      `The school is ${typed.name}, its day told in ${typed.timeZone.replaceAll('_', ' ')}.`,
      showName,
    )
  const keepBase = (b: TypedBase) =>
    keeping(
      () => take(api.PUT('/api/v1/place/bases', { body: siteOf(b.typed, b.climate) })),
      `${b.typed.name} is kept.`,
      (p) => {
        const now = p.bases.find((one) => one.id === b.typed.id)
        if (now) Object.assign(b, asKept(now))
      },
    )

  return { problem, busy, tried, place, typed, bases, kept, open, load, keepPlace, keepBase, add }
}
