/** What holds of every scene that is written as FBX and read back. */
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { readFbx } from '../../src/core/formats/fbx/read-fbx.ts'
import { writeFbx } from '../../src/core/formats/fbx/write-fbx.ts'
import type { FbxReadOptions, FbxWriteOptions } from '../../src/core/formats/fbx/options.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import { compareScenes } from '../../src/core/compare/compare-scenes.ts'
import { fingerprintScene } from '../../src/core/compare/fingerprint.ts'
import { TRAITS, type Trait } from '../../src/core/compare/traits/registry.ts'
import { anyScene } from '../any-scene.ts'
import { howMany } from '../how-many.ts'

const back = (
  scene: Scene,
  write: Partial<FbxWriteOptions> = {},
  read: Partial<FbxReadOptions> = {},
): { scene: Scene; bytes: Uint8Array; codes: string[] } => {
  const { files, findings } = writeFbx(scene, 'x.fbx', write)
  const again = readFbx(files[0]!, files, read)
  return {
    scene: again.scene,
    bytes: files[0]!.bytes,
    codes: [...findings, ...again.findings].map((finding) => finding.code),
  }
}
/** Traits that are not the same to the last bit; for a matrix that was taken apart, to its last digits. */
const changed = (a: Scene, b: Scene): Trait[] => {
  const [before, after] = [fingerprintScene(a), fingerprintScene(b)]
  const near = compareScenes(a, b).rows.every(
    ({ cells }) => cells.transforms!.empty || ['same', 'within'].includes(cells.transforms!.state),
  )
  return TRAITS.filter((trait) => before[trait] !== after[trait] && !(trait === 'transforms' && near))
}
const FORMS = [
  { version: 7400, form: 'binary' },
  { version: 7500, form: 'binary' },
  { version: 7400, form: 'text' },
  { version: 7500, form: 'text' },
] as const

describe.each(FORMS)('$version $form', (form) => {
  test('every trait of every scene comes back the same', () => {
    fc.assert(
      fc.property(anyScene, (scene) => {
        const again = back(scene, form)
        expect(changed(scene, again.scene)).toEqual([])
        expect(again.codes).toEqual([])
      }),
      { numRuns: howMany(50, 1500), seed: 7 },
    )
  })
  test('what was read is written with the same bytes again', () => {
    fc.assert(
      fc.property(anyScene, (scene) => {
        const once = back(back(scene, form).scene, form)
        const twice = back(once.scene, form)
        expect(Buffer.compare(once.bytes, twice.bytes)).toBe(0)
      }),
      { numRuns: howMany(15, 400), seed: 8 },
    )
  })
})
