// Prints the report of the glTF validator on a file as JSON.
import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'

const require = createRequire(new URL('../../web/package.json', import.meta.url))
const report = await require('gltf-validator').validateBytes(new Uint8Array(readFileSync(process.argv[2])))
console.log(JSON.stringify(report))
