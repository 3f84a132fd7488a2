import { expect, it } from 'vitest'

import { usePlace } from '@/sites/place'
import { school } from '@/test/school'

const site = (id: string, name: string, elevationFt: number) => ({
  id,
  name,
  elevationFt,
  variationDegEast: 3,
  runways: [{ name: '20', headingDegMagnetic: 198, lengthM: 920, surface: 'asphalt' }],
  climate: {},
})

it('keeps one part and leaves alone what is typed in the others', async () => {
  const kept = { name: 'The School', timeZone: 'Europe/London', bases: [site('XTHW', 'Tarn Hollow', 412)] }
  school(({ method, path, body }) => {
    if (method === 'PUT' && path === '/place') Object.assign(kept, body)
    if (path === '/place/bases') {
      const sent = body as (typeof kept.bases)[number]
      kept.bases = [sent, ...kept.bases.filter((b) => b.id !== sent.id)] // in an order of its own
    }
    return kept
  })
  const place = usePlace()
  await place.open()
  place.add()
  Object.assign(place.bases.value[1]!.typed, { id: 'XSTB', name: 'Stonebridge', elevationFt: '90' })
  place.bases.value[0]!.typed.elevationFt = '415'
  place.typed.name = 'Another name'
  await place.keepBase(place.bases.value[1]!)
  expect(place.kept.value).toBe('Stonebridge is kept.')
  expect(place.bases.value.map((b) => [b.name, b.typed.elevationFt])).toEqual([
    ['Tarn Hollow', '415'],
    ['Stonebridge', '90'],
  ])
  expect(place.typed.name).toBe('Another name')
  await place.keepPlace()
  expect(kept.name).toBe('Another name')
  expect(place.bases.value[0]!.typed.elevationFt).toBe('415')
})
