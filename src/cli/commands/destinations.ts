import { writeFileSync } from 'node:fs'
import { destinationFile } from '../../contract/destinations.ts'
import { DESTINATIONS } from '../../core/trips/destinations/registry.ts'
import type { Command } from '../command.ts'
import { destinationNamed } from '../load.ts'
import { UsageError } from '../usage-error.ts'

/** The destinations that ship; or one of them written out, to be changed and given back as a file. */
export const destinationsCommand: Command = (paths) => {
  const [id, to, ...rest] = paths
  if (rest.length) throw new UsageError('Expected nothing, ID, or ID FILE.', true)
  if (id === undefined)
    return {
      output: DESTINATIONS.map((destination) => ({
        id: destination.id,
        name: destination.name,
        format: destination.format,
      })),
      text: DESTINATIONS.map(({ id: own, name, format }) => `${own.padEnd(18)} ${name} (${format})`).join(
        '\n',
      ),
      findings: [],
      status: 0,
    }
  const document = destinationFile(destinationNamed(id)!)
  const text = JSON.stringify(document, null, 2)
  if (to === undefined) return { output: document, text, findings: [], status: 0 }
  if (!/\.json$/i.test(to))
    throw new UsageError(`“${to}” has to end in .json to be read as a destination again.`)
  try {
    writeFileSync(to, `${text}\n`, { flag: 'wx' })
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException
    throw new UsageError(
      code === 'EEXIST'
        ? `“${to}” is there already.`
        : `“${to}” can’t be written: ${(error as Error).message}.`,
    )
  }
  return { output: document, text: `${to}: ${document.destination.name}`, findings: [], status: 0 }
}
