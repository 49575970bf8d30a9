/** Writes the generated documents. */
import { writeFileSync } from 'node:fs'
import { checksDocument } from '../src/core/checks/document.ts'
import { catalogueDocument } from '../src/core/messages/catalogue-document.ts'

writeFileSync('docs/messages.md', catalogueDocument())
writeFileSync('docs/checks.md', checksDocument())
