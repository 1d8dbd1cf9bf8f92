// Reads a 3MF file with the consortium's own library, strictly, and prints what it found as JSON.
import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'

const require = createRequire(new URL('../../web/package.json', import.meta.url))
const library = await require('@3mfconsortium/lib3mf')()
const model = new library.CWrapper().CreateModel()
const reader = model.QueryReader('3mf')
reader.SetStrictModeActive(true)
library.FS.writeFile('/in.3mf', new Uint8Array(readFileSync(process.argv[2])))
let refused = null
try {
  reader.ReadFromFile('/in.3mf')
} catch {
  refused = 'the file is not read'
}
const objects = []
for (const all = model.GetMeshObjects(); all.MoveNext(); ) {
  const mesh = all.GetCurrentMeshObject()
  objects.push({
    name: mesh.GetName(),
    triangles: mesh.GetTriangleCount(),
    closed: mesh.IsManifoldAndOriented(),
    valid: mesh.IsValid(),
  })
}
let items = 0
for (const all = model.GetBuildItems(); all.MoveNext(); ) items++
console.log(JSON.stringify({ refused, warnings: reader.GetWarningCount(), objects, items }))
