/** Writes the generated documents. */
import { writeFileSync } from 'node:fs'
import { checksDocument } from '../src/core/steps/bench-document.ts'
import { catalogueDocument } from '../src/core/formats/catalogue-document.ts'
import { logDocument } from '../src/server/plugins/log-document.ts'

writeFileSync('docs/messages.md', catalogueDocument())
writeFileSync('docs/checks.md', checksDocument())
writeFileSync('docs/log.md', logDocument())
