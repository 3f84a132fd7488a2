// Takes the trade's words, what a person begins with, which answers a device keeps, and the
// functions of the rules in the browser out of the API's document: they are written once, in
// the rules and in the server.
import { readFileSync, writeFileSync } from 'node:fs'

const document = JSON.parse(readFileSync('src/schema/openapi.json', 'utf8'))
const offline = Object.entries(document.paths)
  .filter(([, methods]) => methods.get?.['x-offline'])
  .map(([path]) => path)
writeFileSync('src/schema/offline.gen.json', JSON.stringify(offline))
writeFileSync(
  'src/schema/words.gen.json',
  JSON.stringify({
    words: document['x-words'],
    fresh: document['x-fresh'],
    formats: document['x-formats'],
  }),
)

/** A schema as a type of TypeScript. */
function typed(s) {
  if (!s) return 'null'
  if (s.$ref) return `Schemas['${s.$ref.split('/').at(-1)}']`
  if (s.type === 'array') return `${typed(s.items)}[]`
  if (s.type === 'object')
    return `Record<string, ${typeof s.additionalProperties === 'object' && Object.keys(s.additionalProperties).length ? typed(s.additionalProperties) : 'unknown'}>`
  if (s.enum) return s.enum.map((v) => `'${v}'`).join(' | ')
  const plain = { string: 'string', boolean: 'boolean', number: 'number', integer: 'number' }[s.type]
  if (!plain) throw new Error(`no type for ${JSON.stringify(s)}`)
  return plain
}
const functions = document['x-rules'].map(({ name, doc, long, args, answers }) => {
  const takes = args.map(
    (a) => `${a.name}${a.optional ? '?' : ''}: ${typed(a.schema)}${a.optional ? ' | null' : ''}`,
  )
  const asked = [`'${name}'`, ...args.map((a) => a.name)].join(', ')
  return `  /** ${doc} */
  ${name}: (${takes.join(', ')}) => ${long ? 'askLong' : 'ask'}<${typed(answers)}>(${asked}),`
})
writeFileSync(
  'src/rules/functions.gen.ts',
  `// Made from the table of functions that the rules in the browser answer. Do not edit.
import type { Schemas } from '@/schema/schemas'

type Ask = <T>(name: string, ...args: unknown[]) => T
type AskLong = <T>(name: string, ...args: unknown[]) => Promise<T>

export const functions = (ask: Ask, askLong: AskLong) => ({
${functions.join('\n')}
})
`,
)
