import { readdirSync, readFileSync, statSync } from 'node:fs'
import { dirname, join, normalize } from 'node:path'
import { expect, it } from 'vitest'

const files = (readdirSync('src', { recursive: true }) as string[])
  .map((f) => join('src', f))
  .filter((f) => /\.(ts|vue)$/.test(f) && !/\.(test|gen)\./.test(f))
const text = new Map(files.map((f) => [f, readFileSync(f, 'utf8')]))

/** The file that an import names, of those of the house. */
function named(from: string, spec: string) {
  const path = spec.startsWith('@/') ? join('src', spec.slice(2)) : normalize(join(dirname(from), spec))
  return ['', '.ts', '.vue'].map((end) => path + end).find((f) => text.has(f) && statSync(f).isFile())
}
const imports = new Map(
  files.map((f) => [
    f,
    [...text.get(f)!.matchAll(/(?:from|import)\s*\(?\s*['"]([@.][^'"]*)['"]/g)].flatMap(
      (m) => named(f, m[1]!) ?? [],
    ),
  ]),
)

/** A way from a place back to itself, or nothing. */
function circle(edges: Map<string, Iterable<string>>): string[] | undefined {
  const done = new Set<string>()
  const way: string[] = []
  const walk = (at: string): string[] | undefined => {
    if (way.includes(at)) return [...way.slice(way.indexOf(at)), at]
    if (done.has(at)) return undefined
    way.push(at)
    for (const to of edges.get(at) ?? []) {
      const found = walk(to)
      if (found) return found
    }
    way.pop()
    done.add(at)
    return undefined
  }
  for (const at of edges.keys()) {
    const found = walk(at)
    if (found) return found
  }
  return undefined
}

it('has no circle of files, and none of folders', () => {
  expect(circle(imports)).toBeUndefined()
  const folder = (f: string) => f.split('/').slice(0, 2).join('/')
  const folders = new Map<string, Set<string>>()
  for (const [f, to] of imports)
    for (const t of to)
      if (folder(t) !== folder(f))
        folders.set(folder(f), (folders.get(folder(f)) ?? new Set()).add(folder(t)))
  expect(circle(folders)).toBeUndefined()
})

/** The files of more than 300 lines, each with its reason. */
const long: Record<string, string> = {
  'src/documents/DocumentView.vue':
    'what every kind of document has around it; what differs stands in kinds.ts',
  'src/fleet/AircraftTrends.vue': 'the record of one aircraft, drawn as one page',
  'src/lesson/LessonPlace.vue':
    'the lesson at the aircraft: one screen, its keys and its layout at three widths',
  'src/lesson/OpenLesson.vue': 'one form, half of it layout; what is chosen stands in choosing.ts',
  'src/lists/ListsView.vue': 'the library of a type on one page',
  'src/schedule/ScheduleGrid.vue': 'half of it is the layout at three widths and in print',
  'src/school/SchoolView.vue': 'the sheet of the school, which is printed on one page',
  'src/sign-in/BeginSchool.vue': 'one form, sent as one',
  'src/stand/StandDebrief.vue': 'one page, most of it words',
  'src/stand/StandView.vue': 'one screen and its keys; what runs stands in running.ts',
  'src/student/StudentView.vue': 'the record of a student, which is printed as one',
  'src/today/TodayView.vue': 'the first page of six roles',
}

it('has no file of more than 300 lines without a reason', () => {
  const found = files.filter((f) => text.get(f)!.split('\n').length > 301)
  expect(found.filter((f) => !long[f])).toEqual([])
  expect(Object.keys(long).filter((f) => !found.includes(f))).toEqual([])
})
