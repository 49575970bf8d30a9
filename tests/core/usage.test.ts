/** The script's own commands: asking how one is called starts nothing, and what means nothing is refused in words. */
import { spawnSync } from 'node:child_process'
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from 'vitest'

const root = join(import.meta.dirname, '../..')
const kelbo = (...args: string[]) => {
  const { status, stdout, stderr } = spawnSync(process.execPath, [join(root, 'kelbo'), ...args], {
    encoding: 'utf8',
    cwd: root,
  })
  return { status, out: stdout, err: stderr }
}

test.each(['start', 'test', 'benchmark', 'fuzz', 'backup', 'restore', 'accounts'])(
  '%s --help says how it is called',
  (name) => {
    for (const flag of ['--help', '-h']) {
      const { status, out, err } = kelbo(name, flag)
      expect([status, err]).toEqual([0, ''])
      expect(out).toMatch(new RegExp(`^Usage:\\n  \\./kelbo ${name}`))
    }
    expect(existsSync(join(root, '--help'))).toBe(false)
  },
)
test.each([
  [['start', 'now'], 'now'],
  [['test', 'everything'], 'everything'],
  [['benchmark', '--quick'], '--quick'],
  [['fuzz', '--forever'], '--forever'],
  [['fuzz', 'obj'], 'obj'],
  [['backup', '--all'], '--all'],
])('%j is refused', (args, word) => {
  const { status, out, err } = kelbo(...args)
  expect([status, out]).toEqual([2, ''])
  expect(err).toContain(`“${word}” means nothing here.`)
  expect(err).not.toContain('    at ')
})
test('a value that is lacking is asked for', () => {
  expect(kelbo('fuzz', '--count').err).toContain('--count wants a value.')
})
