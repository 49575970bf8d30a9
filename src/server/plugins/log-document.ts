import { LOG_LINES } from './log-lines.ts'

/** docs/log.md: all that is written down, and what is not. */
export function logDocument(): string {
  return `# What is written to the log

Made by \`npx tsx scripts/write-docs.ts\` from \`src/server/plugins/log-lines.ts\`; do not edit. Server and workers write JSON lines to standard error; \`KELBO_LOG\` says from which level on (\`warn\`; \`silent\` for nothing). Nothing is written to files, and nothing is sent anywhere.

| level | line | beside it |
| --- | --- | --- |
${Object.values(LOG_LINES)
  .map(({ level, text, fields }) => `| ${level} | ${text} | ${fields} |`)
  .join('\n')}

With \`KELBO_LOG=info\` the server also writes each request as it comes and as it is answered: its number, method, path without what stands behind a question mark, the address that it came from, the answer's status and how long it took.

An **error** is written as its kind, its code, its sentence and the places in the program; a query of the database as its text, without what it was given; what PostgreSQL tells of rows is left out, and so are sentences of its that quote a value. Of a message about a file its code alone is written.

**Not written**, at any level: passwords, their hashes, cookies and other headers of requests, the address of the database with its password, bodies of requests, names of files, assets and parts, and anything that files hold. A test asks for everything that the interface has with such words in it, lets it fail in many ways, and looks for them in all that was written (\`tests/server/log.test.ts\`).

\`./kelbo start\` prints when a part (server, worker, database) ends and is started again, and how it ended.
`
}
