/** One call of the command line: its words, the command that they name, and what it prints. */
import { parseArgs } from 'node:util'
import { findingLines } from './findings-text.ts'
import { KelboError } from '../core/base/messages/collector.ts'
import { StepRefusal } from '../core/steps/step.ts'
import { anyReadOptions } from '../core/formats/registry.ts'
import { entryOf, messageText } from '../core/formats/catalogue.ts'
import { hasValue } from '../core/base/options/option.ts'
import { DESTINATIONS } from '../core/trips/destinations/registry.ts'
import type { Command } from './command.ts'
import { checkCommand } from './commands/check.ts'
import { compareCommand } from './commands/compare.ts'
import { convertCommand } from './commands/convert.ts'
import { destinationsCommand } from './commands/destinations.ts'
import { inspectCommand } from './commands/inspect.ts'
import { practiseCommand } from './commands/practise.ts'
import { layoutCommand } from './commands/layout.ts'
import { panelsCommand } from './commands/panels.ts'
import { prepareCommand } from './commands/prepare.ts'
import { reconcileCommand } from './commands/reconcile.ts'
import { remapCommand } from './commands/remap.ts'
import { imageCommand } from './commands/image.ts'
import { surfaceCommand } from './commands/surface.ts'
import { surfaceNames } from './surfaces.ts'
import { UsageError } from './usage-error.ts'

const COMMANDS: Readonly<Record<string, Command>> = {
  inspect: inspectCommand,
  convert: convertCommand,
  compare: compareCommand,
  reconcile: reconcileCommand,
  check: checkCommand,
  prepare: prepareCommand,
  destinations: destinationsCommand,
  practise: practiseCommand,
  remap: remapCommand,
  image: imageCommand,
  layout: layoutCommand,
  panels: panelsCommand,
  surface: surfaceCommand,
}

const USAGE = `Usage:
  ./kelbo inspect FILE [--json]
  ./kelbo convert IN OUT [--to DESTINATION [--anyway]] [--option KEY=VALUE ...] [--json]
  ./kelbo compare A B [--undo-whole] [--json [--with-maps]]
  ./kelbo reconcile MASTER RETURNED OUT [--take TRAIT,TRAIT ...] [--undo-whole] [--json]
  ./kelbo check FILE [--for DESTINATION] [--option KEY=VALUE ...] [--json]
  ./kelbo prepare IN OUT --recipe FILE [--json]
  ./kelbo prepare --list [--json]
  ./kelbo destinations [ID [FILE.json]] [--json]
  ./kelbo practise FILE [--trips N] [--seed N] [--json]
  ./kelbo remap IN OUT --surface MODEL [--maps FOLDER] [--rules FILE] [--name-maps PATTERN]
                [--one-map SIZE [--one-map-set NAME] [--padding PIXELS]] [--json]
  ./kelbo surface FILE --to MODEL [--json]
  ./kelbo image OPERATION IMAGE ... FOLDER [--option KEY=VALUE ...] [--model FILE] [--json]
  ./kelbo image --list [--json]
  ./kelbo layout FILE OUT.svg [--option set=NAME] [--option size=PIXELS] [--option tile=NUMBER] [--json]
  ./kelbo panels FILE OUT.svg|OUT.pdf [--option set=NAME] [--option pages=one|a4|a3] [--json]

Options of reading, for every command: --read KEY=VALUE (${anyReadOptions()
  .filter(hasValue)
  .map((option) => option.id)
  .join(', ')}).
Of two files --read-a KEY=VALUE is meant for the first, --read-b for the second.
--undo-whole undoes a size, turn, mirror or move that all parts of the second file share, and what was done to its whole layout of UVs.
--with-maps gives which part, point, polygon and corner of B is which of A: one number an element of A, -1 for none.
--all lists what is counted otherwise: many lines of one kind.
practise changes the model in one to six ways that follow from a seed, on each of its trips, and counts what is found again.
--option selection=WORD,WORD writes these parts only: names, paths, patterns with *, or numbers of nodes.
What a destination wants clean has to be, or nothing is written; --anyway writes it all the same.
A destination is one that ships (${DESTINATIONS.map((entry) => entry.id).join(', ')}) or the JSON file of one.
A surface MODEL is one that ships (${surfaceNames()}) or the JSON file of one.
--maps is a folder or a ZIP of images; what their names leave open is told and left out, and --rules settles it.
--name-maps names the images that are written: {material}, {slot}, {parameter}, {file}; "/" makes folders.
--one-map draws all materials into one, with one image of SIZE pixels a slot, in one UV set (the one with the least overlaps).
Exit status: 0 done, 1 findings or differences, 2 a file or arguments that can't be used.`

/** Where a call prints: what was asked for, and what is said about it. Whole lines, without their end. */
export interface Prints {
  readonly out: (text: string) => void
  readonly say: (text: string) => void
}

/**
 * @param words behind the program's name; paths go by the process's folder.
 * @returns the exit status: 0 done, 1 findings or differences, 2 a file or arguments that can't be used.
 * @throws what is no fault of the file or the words.
 */
export async function runCommandLine(words: readonly string[], { out, say }: Prints): Promise<number> {
  const [command, ...rest] = words
  const run = command ? COMMANDS[command] : undefined
  if (
    command === '--help' ||
    command === '-h' ||
    command === 'help' ||
    (run && rest.some((word) => word === '--help' || word === '-h'))
  ) {
    out(USAGE)
    return 0
  }
  if (!run) {
    say(USAGE)
    return 2
  }
  try {
    const { values, positionals } = parseArgs({
      args: rest,
      allowPositionals: true,
      options: {
        json: { type: 'boolean', default: false },
        to: { type: 'string' },
        for: { type: 'string' },
        recipe: { type: 'string' },
        list: { type: 'boolean', default: false },
        anyway: { type: 'boolean', default: false },
        take: { type: 'string', multiple: true },
        option: { type: 'string', multiple: true },
        read: { type: 'string', multiple: true },
        'read-a': { type: 'string', multiple: true },
        'read-b': { type: 'string', multiple: true },
        'undo-whole': { type: 'boolean', default: false },
        'with-maps': { type: 'boolean', default: false },
        all: { type: 'boolean', default: false },
        trips: { type: 'string' },
        seed: { type: 'string' },
        surface: { type: 'string' },
        maps: { type: 'string' },
        rules: { type: 'string' },
        'name-maps': { type: 'string' },
        'one-map': { type: 'string' },
        'one-map-set': { type: 'string' },
        padding: { type: 'string' },
        model: { type: 'string' },
      },
    })
    const outcome = await run(positionals, values)
    if (values.json) out(JSON.stringify(outcome.output))
    else out(outcome.text)
    for (const line of findingLines(outcome.findings)) say(line)
    return outcome.status
  } catch (error) {
    if (error instanceof KelboError) {
      say(
        `${error.file ? `${error.file}: ` : ''}${messageText(error.code, error.parameters)} ${entryOf(error.code).advice}`,
      )
      return 2
    }
    if (error instanceof StepRefusal) {
      say(error.message)
      return 2
    }
    if (error instanceof UsageError && !error.showsUsage) {
      say(error.message)
      return 2
    }
    if (error instanceof UsageError || (error as { code?: string }).code?.startsWith('ERR_PARSE_ARGS')) {
      // the word that means nothing; not how it could be escaped
      const said = (error as Error).message.replace(/ To specify a positional .*$/s, '')
      say(`${said}\n\n${USAGE}`)
      return 2
    }
    throw error
  }
}
