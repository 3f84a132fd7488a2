// Compresses the built screens once, so that no server does it at its start:
// each file becomes .br. Fonts and pictures are compressed already.
import { readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync, constants } from 'node:zlib'

const done = /\.(woff2?|png|br)$/
const kept = (name) => done.test(name) || name.endsWith('.keep')

for (const entry of readdirSync('dist', { recursive: true, withFileTypes: true })) {
  if (!entry.isFile() || kept(entry.name)) continue
  const file = join(entry.parentPath, entry.name)
  const data = readFileSync(file)
  const params = { [constants.BROTLI_PARAM_QUALITY]: 11, [constants.BROTLI_PARAM_SIZE_HINT]: data.length }
  writeFileSync(`${file}.br`, brotliCompressSync(data, { params }))
  rmSync(file)
}
