// Writes the scripts and styles of a built page once more, compressed as far as they go; the server sends those to browsers that take them.
import { readFileSync, readdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { brotliCompressSync } from 'node:zlib'

const folder = process.argv[2]
for (const name of readdirSync(folder).filter((n) => /\.(js|css|svg)$/.test(n))) {
  const file = join(folder, name)
  writeFileSync(`${file}.br`, brotliCompressSync(readFileSync(file)))
}
