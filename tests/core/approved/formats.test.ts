/** What the formats read and write, of made, real and damaged files: see tell.ts. */
import { expect, test } from 'vitest'
import { chanceOf } from '../../../src/core/base/math/chance.ts'
import { KelboError } from '../../../src/core/base/messages/collector.ts'
import type { OptionValues } from '../../../src/core/base/options/option.ts'
import { entryOf, messageText } from '../../../src/core/formats/catalogue.ts'
import { FORMATS } from '../../../src/core/formats/registry.ts'
import type { PackageFile } from '../../../src/core/formats/package/package-file.ts'
import { readPackage } from '../../../src/core/formats/package/read-package.ts'
import { buildStormLantern } from '../../../src/core/practice/demo/storm-lantern.ts'
import type { Scene } from '../../../src/core/scene/scene.ts'
import { NODE_DECODERS } from '../../../src/host/geometry-decoders.ts'
import { fuzzSources, mutationOf } from '../../fuzz/mutations.ts'
import { anyOptions, expectApproved, mark, said, tellScene } from './tell.ts'
import { richScene, scenesOf } from './touch.ts'

/** What reading gives: the scene, or why there is none. */
function tellRead(files: readonly PackageFile[], options: OptionValues = {}): string[] {
  try {
    const { scene, findings } = readPackage(files, { ...options, decoders: NODE_DECODERS })
    return [...said(findings), ...tellScene(scene)]
  } catch (error) {
    if (!(error instanceof KelboError)) throw error
    return [`    ${messageText(error.code, error.parameters)} ${entryOf(error.code).advice}`]
  }
}

test.each(FORMATS.map(({ id }) => id))('%s written with any options, and read again', async (id) => {
  const format = FORMATS.find((one) => one.id === id)!
  const lines: string[] = []
  const scenes: Scene[] = [...scenesOf(22, 24), buildStormLantern(), richScene(), richScene(), richScene()]
  scenes.forEach((scene, seed) => {
    const options = anyOptions(format.writeOptions, chanceOf(seed))
    const ending = format.endingFor?.(options) ?? format.endings[0]!
    const { files, findings, space } = format.write(scene, `model${ending}`, options)
    lines.push(`${seed} ${JSON.stringify(options)}`, ...said(findings))
    lines.push(`    ${files.map((file) => `${file.name} ${mark(file.bytes)}`).join(', ')} ${mark(space)}`)
    lines.push(...tellRead(files, anyOptions(format.readOptions, chanceOf(seed))))
  })
  await expectApproved(`written-${id}`, lines)
})

test('files of others, and damaged ones', async () => {
  const sources = fuzzSources()
  expect(sources.length).toBeGreaterThan(40)
  const lines: string[] = []
  for (const { name, files } of sources) lines.push(name, ...tellRead(files))
  for (let seed = 0; seed < 2 * sources.length; seed++)
    lines.push(`damaged ${seed}`, ...tellRead(mutationOf(sources, seed).files))
  await expectApproved('read', lines)
})
