/** Writes the generated documents. */
import { writeFileSync } from 'node:fs'
import { checksDocument } from '../src/core/steps/bench-document.ts'
import { catalogueDocument } from '../src/core/formats/catalogue-document.ts'

writeFileSync('docs/messages.md', catalogueDocument())
writeFileSync('docs/checks.md', checksDocument())
