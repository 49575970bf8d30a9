/** Writes the generated documents. */
import { writeFileSync } from 'node:fs'
import { catalogueDocument } from '../src/core/messages/catalogue-document.ts'

writeFileSync('docs/messages.md', catalogueDocument())
