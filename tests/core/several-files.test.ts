/** A trip that left in several files, one a part or one a material, comes home in as many, in any order, also zipped. */
import { describe, expect, test } from 'vitest'
import { receiveFiles, type Received } from '../../src/app/receive-files.ts'
import { writeZip } from '../../src/core/formats/package/write-zip.ts'
import type { PackageFile } from '../../src/core/formats/package/package-file.ts'
import { buildCourierHeron } from '../../src/core/practice/demo/courier-heron.ts'
import { buildStormLantern } from '../../src/core/practice/demo/storm-lantern.ts'
import { sculptFiles } from '../../src/core/practice/standins/sculptor.ts'
import { completeIds } from '../../src/core/scene/ids.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import { deliver } from '../../src/core/trips/deliver.ts'
import { destinationOf } from '../../src/core/trips/destinations/registry.ts'

const scenes = { heron: completeIds(buildCourierHeron()), lantern: completeIds(buildStormLantern()) }

/** The model files that leave, one a part or a material. */
function sent(scene: Scene, split: 'parts' | 'materials'): PackageFile[] {
  const { files } = deliver(scene, {
    stem: 'model_v1',
    codec: null,
    destination: { ...destinationOf('sculpting')!, split },
    options: {},
    selection: null,
    withRecipe: false,
  })
  return files.filter(({ name }) => name.endsWith('.obj'))
}
const back = (scene: Scene, files: readonly PackageFile[]): Received =>
  receiveFiles(scene, { files, options: { unitMeters: 0.01 } })
const sculpted = (files: readonly PackageFile[], strength: number): PackageFile[] =>
  files.flatMap((file, at) =>
    sculptFiles([file], { strength, seed: at + 1, dropMaterials: false, addGroups: false }),
  )
const states = ({ ledger }: Received, trait: string): string[] => [
  ...new Set(ledger.rows.map(({ cells }) => cells[trait as 'points']!.state)),
]

describe.each(['heron', 'lantern'] as const)('%s', (name) => {
  const scene = scenes[name]
  describe.each(['parts', 'materials'] as const)('one file for each of its %s', (split) => {
    const files = sent(scene, split)
    test('as they left, and the other way round', () => {
      for (const given of [files, [...files].reverse()]) {
        const received = back(scene, given)
        expect(received.ledger.rows).toHaveLength(scene.meshes.length)
        for (const trait of ['points', 'uvs', 'smoothing', 'creases', 'materials', 'groups'])
          expect([trait, states(received, trait)]).toEqual([trait, ['same']])
      }
    })
    test('each renumbered by itself, and zipped', () => {
      const received = back(
        scene,
        sculpted(files, 0).map((file) => ({ name: `${file.name}.zip`, bytes: writeZip([file]) })),
      )
      for (const trait of ['uvs', 'materials', 'groups'])
        expect([trait, states(received, trait)]).toEqual([trait, ['same']])
      // six digits are what the tool writes
      expect(states(received, 'points').every((state) => state === 'same' || state === 'within')).toBe(true)
    })
    test('one that is missing takes its parts along and no others', () => {
      const received = back(scene, sculpted(files, 0.01).slice(1))
      const gone = received.ledger.rows.filter(({ match }) => match.returnedNode < 0)
      expect(gone.length).toBeGreaterThan(0)
      expect(gone.length).toBeLessThan(scene.meshes.length)
      for (const row of received.ledger.rows)
        expect([row.name, row.cells.points!.state]).toEqual([
          row.name,
          gone.includes(row) ? 'lost' : 'changed',
        ])
    })
  })
})
