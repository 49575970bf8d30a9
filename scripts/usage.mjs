/** How the script's own commands are called, and what is no way to call them. */

const SUITES = ['core', 'server', 'browser', 'format', 'lint', 'types']

/**
 * Of each command: how it is called, a word on what it does, and what may stand behind it. `flags` take no value,
 * `values` do; `words` are those that may stand there by themselves, null where anything may.
 */
export const USAGES = {
  start: { call: './kelbo start', does: 'runs the application, with its demo at first', words: [] },
  test: {
    call: `./kelbo test [${SUITES.join(' | ')} ...]\n  ./kelbo test --long [--kills N] [--seed N]`,
    does: 'runs all tests, or some kinds of them; --long kills what runs while people work, then reads models of others and damaged files',
    flags: ['--long'],
    values: ['--kills', '--seed'],
    words: SUITES,
  },
  benchmark: {
    call: './kelbo benchmark [--page | --fbx | --interchange | --returns | --surfaces | --uvs | --large]',
    does: 'figures beside other libraries: all of them, or one kind',
    flags: ['--page', '--fbx', '--interchange', '--returns', '--surfaces', '--uvs', '--large'],
    words: [],
  },
  fuzz: {
    call: './kelbo fuzz [--count N] [--again]\n  ./kelbo fuzz --seed N',
    does: 'reads damaged files by seeds and goes on where it ended; --seed makes the files of one, --again begins anew',
    flags: ['--again'],
    values: ['--count', '--seed'],
    words: [],
  },
  backup: { call: './kelbo backup FILE', does: 'all data as one file', words: null },
  restore: { call: './kelbo restore FILE', does: 'all data from such a file', words: null },
  accounts: {
    call: './kelbo accounts [add NAME | password NAME | remove NAME]',
    does: 'who may sign in, where that is needed',
    words: null,
  },
}

const usageText = ({ call, does }) => `Usage:\n  ${call}\n${does[0].toUpperCase()}${does.slice(1)}.`

/**
 * @param args behind the command's name.
 * @returns null where the command may run; else what to say and the status to end with.
 */
export function refusal(name, args) {
  const usage = USAGES[name]
  if (!usage) return null
  if (args.some((word) => word === '--help' || word === '-h')) return { status: 0, text: usageText(usage) }
  const { flags = [], values = [], words } = usage
  for (let at = 0; at < args.length; at++) {
    const word = args[at]
    const [flag] = word.split('=', 1)
    if (flags.includes(word)) continue
    if (values.includes(flag)) {
      if (!word.includes('=') && ++at >= args.length)
        return { status: 2, text: `${flag} wants a value.\n\n${usageText(usage)}` }
      continue
    }
    if (!word.startsWith('-') && (words === null || words.includes(word))) continue
    return { status: 2, text: `“${word}” means nothing here.\n\n${usageText(usage)}` }
  }
  return null
}

/** A line for each command. */
export const overview = () =>
  Object.entries(USAGES)
    .map(([name, { does }]) => `  ./kelbo ${name.padEnd(10)} ${does}`)
    .join('\n')
