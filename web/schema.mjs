// Writes the types of the HTTP API and of the live link, src/api/schema.d.ts, from the server's document of both;
// with --check only says whether they are current.
import { readFileSync, writeFileSync } from 'node:fs'
import openapiTS, { astToString, COMMENT_HEADER } from 'openapi-typescript'
import ts from 'typescript'

const bytes = ts.factory.createTypeReferenceNode('Uint8Array')
const number = ts.factory.createKeywordTypeNode(ts.SyntaxKind.NumberKeyword)
const point = ts.factory.createTupleTypeNode([number, number, number])
const document = JSON.parse(readFileSync('src/api/openapi.json', 'utf8'))
const types = await openapiTS(document, {
  transform: (schema) => {
    // Raw bytes of the live link; over HTTP they are texts.
    if (schema.format === 'octets') return bytes
    if (schema.type === 'array' && schema.minItems === 3 && schema.maxItems === 3) return point
    return undefined
  },
})
const text = COMMENT_HEADER + astToString(types)
if (!process.argv.includes('--check')) writeFileSync('src/api/schema.d.ts', text)
else if (readFileSync('src/api/schema.d.ts', 'utf8') !== text) {
  console.error('src/api/schema.d.ts is not what src/api/openapi.json says: run scripts/api')
  process.exit(1)
}
