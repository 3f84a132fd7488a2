// Takes the trade's words, and what a person begins with, out of the API's
// document: they are written once, in the rules.
import { readFileSync, writeFileSync } from 'node:fs'

const document = JSON.parse(readFileSync('src/api/openapi.json', 'utf8'))
writeFileSync(
  'src/api/words.gen.json',
  JSON.stringify({
    words: document['x-words'],
    fresh: document['x-fresh'],
    formats: document['x-formats'],
  }),
)
