/** Looks of materials (KHR_materials_variants): kept, said, written back as they came; held against the Khronos validator. */
import { describe, expect, test } from 'vitest'
import { validatorComplaints } from '../../../../tests/gltf-validator.ts'
import { gridOf, materialOf, sceneOf } from '../../../../tests/solids.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import type { Scene } from '../../scene/scene.ts'
import { writeFbx } from '../fbx/write-fbx.ts'
import { readGltf } from './read-gltf.ts'
import { writeGltf } from './write-gltf.ts'

interface Document {
  extensionsUsed: string[]
  extensions?: Record<string, unknown>
  materials: { name: string }[]
  meshes: { primitives: { material?: number; extensions?: Record<string, unknown> }[] }[]
}

const metres = { unitMeters: 1, upAxis: 'y', frontAxis: 'z', handedness: 'right' } as const
/** Two sheets in one mesh, of tin and of rope; paint is on nothing. */
const sheets = sceneOf([{ ...gridOf(2, 1), faceMaterials: Int32Array.of(0, 1) }], {
  materials: [materialOf('tin'), materialOf('rope'), materialOf('paint')],
  space: metres,
})
const write = (scene: Scene, options = {}) => writeGltf(scene, 'x.gltf', { form: 'inside', ...options })
const documentOf = (scene: Scene, options = {}): Document =>
  JSON.parse(new TextDecoder().decode(write(scene, options).files[0]!.bytes)) as Document
const read = (document: unknown) =>
  readGltf({ name: 'x.gltf', bytes: encodeUtf8(JSON.stringify(document)) }, [])
/** The sheets as another program writes them, with looks. */
function withLooks(
  mappings: readonly (readonly object[])[],
  names: readonly unknown[] = [{ name: 'wet' }, { name: 'dry' }],
): Document {
  const document = documentOf(sheets)
  document.extensionsUsed = [...(document.extensionsUsed ?? []), 'KHR_materials_variants']
  document.extensions = { KHR_materials_variants: { variants: names } }
  document.meshes[0]!.primitives.forEach((primitive, at) => {
    if (mappings[at])
      primitive.extensions = { ...primitive.extensions, KHR_materials_variants: { mappings: mappings[at] } }
  })
  return document
}
const looksOf = ({ meshes }: Document) =>
  meshes.flatMap(({ primitives }) => primitives.map(({ extensions }) => extensions?.KHR_materials_variants))
const MAPPINGS = [
  [
    { material: 2, variants: [0] },
    { material: 1, variants: [1] },
  ],
  [{ material: 2, variants: [0, 1] }],
]

describe('looks of materials', () => {
  test('come back as they came, and the validator finds nothing', async () => {
    const { scene, findings } = read(withLooks(MAPPINGS))
    expect(findings.filter(({ code }) => code.startsWith('gltf.looks'))).toMatchObject([
      { code: 'gltf.looks', parameters: { count: 2, names: 'wet, dry' } },
    ])
    const result = write(scene)
    expect(result.findings).toEqual([])
    expect(await validatorComplaints(result.files)).toEqual([])
    const document = documentOf(scene)
    expect(document.extensions).toEqual({
      KHR_materials_variants: { variants: [{ name: 'wet' }, { name: 'dry' }] },
    })
    expect(looksOf(document)).toEqual(MAPPINGS.map((mappings) => ({ mappings })))
  })
  test('go with a material that is renamed or stands elsewhere in the list', () => {
    const { scene } = read(withLooks(MAPPINGS))
    const [tin, rope, paint] = scene.materials
    const moved: Scene = {
      ...scene,
      materials: [{ ...paint!, name: 'varnish' }, tin!, rope!],
      meshes: scene.meshes.map((mesh) => ({ ...mesh, faceMaterials: Int32Array.of(1, 2) })),
    }
    expect(looksOf(documentOf(moved))).toEqual([
      {
        mappings: [
          { material: 0, variants: [0] },
          { material: 2, variants: [1] },
        ],
      },
      { mappings: [{ material: 0, variants: [0, 1] }] },
    ])
  })
  test('what they can no longer show is told', () => {
    const { scene } = read(withLooks(MAPPINGS))
    const other = {
      ...scene,
      meshes: scene.meshes.map((mesh) => ({ ...mesh, faceMaterials: Int32Array.of(0, 0) })),
    }
    const { findings } = write(other)
    expect(findings).toMatchObject([{ code: 'write.not-carried' }])
    expect(String(findings[0]!.parameters.what)).toContain('“wet”, “dry”')
    expect(looksOf(documentOf(other))).toHaveLength(1)
    expect(write(scene, { materials: 'none' }).findings.map(({ parameters }) => parameters.what)).toContain(
      'looks of its materials',
    )
    expect(writeFbx(scene, 'x.fbx').findings.map(({ code }) => code)).toContain('write.not-carried')
  })
  test('two pieces of one material that looks paint differently are told', () => {
    const document = withLooks(MAPPINGS)
    for (const primitive of document.meshes[0]!.primitives) primitive.material = 0
    const { scene, findings } = read(document)
    expect(findings.map(({ code }) => code)).toContain('gltf.looks-apart')
    expect(looksOf(documentOf(scene))).toEqual([{ mappings: MAPPINGS[0] }])
  })
  test.each([
    ['a look that is not there', [[{ material: 2, variants: [7] }]]],
    ['a material that is not there', [[{ material: 9, variants: [0] }]]],
    ['no looks', [[{ material: 2, variants: [] }]]],
    ['nonsense', [['x' as unknown as object, null as unknown as object]]],
  ])('%s is passed over and told', (_what, mappings) => {
    const { scene, findings } = read(withLooks(mappings))
    expect(findings.map(({ code }) => code)).toContain('gltf.value')
    expect(looksOf(documentOf(scene)).filter(Boolean)).toEqual([])
  })
  test('looks without a name are numbered', () => {
    const { findings } = read(withLooks(MAPPINGS, [{}, 'x']))
    expect(findings.find(({ code }) => code === 'gltf.looks')!.parameters.names).toBe('look 1, look 2')
  })
})
