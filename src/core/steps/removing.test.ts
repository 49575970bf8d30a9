/** Steps that take away what was chosen, and that put one material in place of another. */
import { describe, expect, test } from 'vitest'
import { cubeOf, materialOf, moved, sceneOf } from '../../../tests/solids.ts'
import { completeIds } from '../scene/ids.ts'
import { faceCountOf } from '../scene/mesh.ts'
import { plainNode, type Scene } from '../scene/scene.ts'
import { runStep } from './run-steps.ts'
import { StepRefusal } from './step.ts'

const scene = completeIds({
  ...sceneOf([cubeOf({ name: 'hull', faceMaterials: Int32Array.of(0, 0, 0, 1, 1, -1) }), cubeOf({ name: 'keel', faceMaterials: new Int32Array(6).fill(1) })], { materials: [materialOf('oak'), materialOf('iron')] }), // prettier-ignore
  format: 'fbx',
  nodes: [
    plainNode('hull', { mesh: 0, local: moved(0, 2, 0) }),
    plainNode('keel', { mesh: 1, parent: 0, local: moved(1, 0, 0) }),
  ],
})
const idOf = (name: string): string => scene.nodes.find((node) => node.name === name)!.id
const names = ({ nodes }: Scene): string[] => nodes.map(({ name }) => name)

describe('removing parts', () => {
  test('takes the chosen away, and what hangs under them stays in its place', () => {
    const done = runStep(scene, { step: 'remove-parts', params: {}, nodes: [idOf('hull')] })
    expect(names(done.scene)).toEqual(['keel'])
    expect(done.scene.nodes[0]!.local.slice(12, 15)).toEqual([1, 2, 0])
    expect(done.scene.meshes).toHaveLength(1)
    expect(done.notes.join(' ')).toContain('“hull” went.')
  })
  test('never takes all', () => {
    expect(() => runStep(scene, { step: 'remove-parts', params: {} })).toThrow(StepRefusal)
  })
})

describe('removing polygons', () => {
  const only = (elements: number[]) => [{ node: idOf('hull'), element: 'faces' as const, elements }]
  test('takes the chosen away with the points that no other has', () => {
    const done = runStep(scene, { step: 'remove-polygons', params: {}, only: only([0]) })
    expect(faceCountOf(done.scene.meshes[0]!)).toBe(5)
    expect(done.scene.meshes[0]!.points).toHaveLength(24)
    const most = runStep(scene, { step: 'remove-polygons', params: {}, only: only([0, 1, 2, 3, 4]) })
    expect([faceCountOf(most.scene.meshes[0]!), most.scene.meshes[0]!.points.length]).toEqual([1, 12])
    expect(most.scene.meshes[1]).toBe(scene.meshes[1])
  })
  test('refuses without a choice, and leaves a part that would have none left', () => {
    expect(() => runStep(scene, { step: 'remove-polygons', params: {} })).toThrow('Choose the polygons')
    const done = runStep(scene, { step: 'remove-polygons', params: {}, only: only([0, 1, 2, 3, 4, 5]) })
    expect([done.changedCount, faceCountOf(done.scene.meshes[0]!)]).toEqual([0, 6])
    expect(done.notes.join(' ')).toContain('would have none left')
  })
})

describe('one material in place of another', () => {
  const replace = (from: string, to: string, nodes?: string[]) =>
    runStep(scene, { step: 'replace-material', params: { from, to }, ...(nodes ? { nodes } : {}) })
  test('over all parts, or those chosen', () => {
    const all = replace('iron', 'oak')
    expect([...all.scene.meshes[0]!.faceMaterials!]).toEqual([0, 0, 0, 0, 0, -1])
    expect([...all.scene.meshes[1]!.faceMaterials!]).toEqual([0, 0, 0, 0, 0, 0])
    expect(all.changedCount).toBe(8)
    const one = replace('iron', 'oak', [idOf('keel')])
    expect(one.scene.meshes[0]).toBe(scene.meshes[0])
  })
  test('is made where there is none of that name, and that is said', () => {
    const done = replace('oak', 'ash')
    expect(done.scene.materials.map(({ name }) => name)).toEqual(['oak', 'iron', 'ash'])
    expect(done.scene.materials[2]!.id).not.toBe('')
    expect([...done.scene.meshes[0]!.faceMaterials!]).toEqual([2, 2, 2, 1, 1, -1])
    expect(done.notes).toContain('“ash” is new; it has only its name so far.')
  })
  test('that nobody uses changes nothing; one that is not there is refused', () => {
    expect(replace('oak', 'oak').changedCount).toBe(0)
    expect(() => replace('tin', 'oak')).toThrow('There is no material “tin”')
    expect(() => replace('oak', ' ')).toThrow('Say both materials')
  })
})

describe('keeping one of twins', () => {
  const uvs = (shift: number) => ({
    uvSets: [
      {
        name: 'uv',
        values: Float64Array.of(shift, 0, shift + 1, 0, shift + 1, 1, shift, 1),
        depths: null,
        indices: Int32Array.from({ length: 24 }, (_value, corner) => corner % 4),
      },
    ],
  })
  const pair = (second: object): Scene =>
    completeIds({
      ...sceneOf([cubeOf({ name: 'ear_left', ...uvs(0) }), cubeOf({ name: 'ear_right', ...second })]),
      nodes: [plainNode('ear_left', { mesh: 0 }), plainNode('ear_right', { mesh: 1, local: moved(4, 0, 0) })],
    })
  const notesOf = (scene: Scene): string =>
    runStep(scene, { step: 'keep-one-twin', params: {} }).notes.join(' ')
  test('says that UVs of its own go with a twin', () => {
    expect(notesOf(pair(uvs(2)))).toMatch(
      /“ear_\w+” had UVs of its own: they go, and those of “ear_\w+” take their place/,
    )
  })
  test('says nothing of what is the same', () => expect(notesOf(pair(uvs(0)))).not.toContain('of its own'))
})
