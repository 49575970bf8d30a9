/** What a file holds beside the model is told wherever it can't go, by every format that is written. */
import { expect, test } from 'vitest'
import { cubeOf, sceneOf } from '../../../../tests/solids.ts'
import type { KeptContent, KeptRecord } from '../../scene/kept.ts'
import { FORMATS } from '../registry.ts'

const record: KeptRecord = { name: 'animation', kinds: '', values: ['swing'], children: [] }
const bare = { objects: [], links: [], sections: [], settings: [] }
const KEPT: readonly (readonly [KeptContent, boolean])[] = [
  [{ ...bare, format: 'gltf', sections: [record] }, true],
  [{ ...bare, format: 'usd', sections: [record] }, true],
  [{ ...bare, format: 'collada', sections: [record] }, true],
  [{ ...bare, format: 'alembic', sections: [record] }, true],
  [{ ...bare, format: 'fbx', objects: [{ id: '1', record }] }, true],
  // every FBX says how it was made
  [{ ...bare, format: 'fbx', sections: [{ ...record, name: 'Documents' }] }, false],
  [{ ...bare, format: 'gltf' }, false],
]

test.each(FORMATS.map((format) => [format.id, format] as const))('%s', (id, format) => {
  for (const [kept, isThere] of KEPT) {
    if (kept.format === id) continue
    const scene = { ...sceneOf([cubeOf()]), kept }
    const { findings } = format.write(scene, `x${format.endings[0]}`, {})
    const told = findings.filter(({ parameters }) => /beside the model/.test(String(parameters.what)))
    expect([kept.format, told.map(({ code }) => code)]).toEqual([
      kept.format,
      isThere ? ['write.not-carried'] : [],
    ])
  }
})
