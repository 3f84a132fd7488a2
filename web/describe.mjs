// Takes the trade's words, what a person begins with, and which answers a device keeps,
// out of the API's document: they are written once, in the rules and in the server.
import { readFileSync, writeFileSync } from 'node:fs'

const document = JSON.parse(readFileSync('src/api/openapi.json', 'utf8'))
const offline = Object.entries(document.paths)
  .filter(([, methods]) => methods.get?.['x-offline'])
  .map(([path]) => path)
writeFileSync('src/api/offline.gen.json', JSON.stringify(offline))
writeFileSync(
  'src/api/words.gen.json',
  JSON.stringify({
    words: document['x-words'],
    fresh: document['x-fresh'],
    formats: document['x-formats'],
  }),
)
