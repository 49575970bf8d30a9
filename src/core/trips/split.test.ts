import { describe, expect, test } from 'vitest'
import { cubeOf, gridOf, materialOf, moved, sceneOf, withNodes } from '../../../tests/solids.ts'
import { EMPTY_MESH, faceCountOf, type Mesh } from '../scene/mesh.ts'
import type { Scene } from '../scene/scene.ts'
import { fileWord, joinSplitParts, splitScene } from './split.ts'

const scene: Scene = withNodes(
  sceneOf(
    [
      cubeOf({ faceMaterials: Int32Array.of(0, 1, 0, -1, 0, 1) }),
      gridOf(2, 2, { faceMaterials: new Int32Array(4).fill(1) }),
      gridOf(3, 1, { faceMaterials: null }),
    ],
    { materials: [materialOf('Zinn'), materialOf('zinn!')] },
  ),
  (_node, at) => ({ name: ['Körper', 'körper', 'plate'][at]! }),
)
const facesOf = (part: Scene, node: number): number => faceCountOf(part.meshes[part.nodes[node]!.mesh]!)

describe('one model in several files', () => {
  test('in one it is what it was', () => {
    expect(splitScene(scene, 'one', [0, 2])).toEqual([{ suffix: '', scene, selection: [0, 2] }])
  })
  test('by part: each once, of those that leave; names of files don’t clash', () => {
    const parts = splitScene(scene, 'parts', [0, 1, 2])
    expect(parts.map(({ suffix, selection }) => [suffix, selection])).toEqual([
      ['_Korper', [0]],
      ['_korper_2', [1]],
      ['_plate', [2]],
    ])
    expect(parts.every((part) => part.scene === scene)).toBe(true)
    expect(splitScene(scene, 'parts', [2]).map(({ selection }) => selection)).toEqual([[2]])
  })
  test('by material: every polygon once, what has none in a file of its own that goes first', () => {
    const parts = splitScene(scene, 'materials', [0, 1, 2])
    expect(parts.map(({ suffix, selection }) => [suffix, selection])).toEqual([
      ['_no_material', [0, 2]],
      ['_Zinn', [0]],
      ['_zinn_2', [0, 1]],
    ])
    expect(parts.map((part) => part.selection.map((node) => facesOf(part.scene, node)))).toEqual([
      [1, 3],
      [3],
      [2, 4],
    ])
    // a mesh that is of one material whole is the very mesh
    expect(parts[2]!.scene.meshes[1]).toBe(scene.meshes[1])
    expect(parts[0]!.scene.meshes[2]).toBe(scene.meshes[2])
  })
  test('by material: lines and loose points go once, and a part without polygons goes too', () => {
    const lines = { offsets: Uint32Array.of(0, 2), points: Uint32Array.of(6, 7), uvs: Int32Array.of(-1, -1) }
    const guide: Mesh = { ...EMPTY_MESH, name: 'guide', points: new Float64Array(6), lines }
    const wired = sceneOf(
      [
        {
          ...cubeOf({ faceMaterials: Int32Array.of(0, 1, 0, 1, 0, 1), lines }),
          pointElements: Uint32Array.of(3),
        },
        guide,
      ],
      { materials: scene.materials },
    )
    const parts = splitScene(wired, 'materials', [0, 1])
    expect(parts.map(({ suffix, selection }) => [suffix, selection])).toEqual([
      ['_no_material', [1]],
      ['_Zinn', [0]],
      ['_zinn_2', [0]],
    ])
    const [bare, first, second] = parts.map((part) => part.scene.meshes) as [Mesh[], Mesh[], Mesh[]]
    expect(bare[1]).toBe(wired.meshes[1])
    expect([first[0]!.lines?.offsets.length, first[0]!.pointElements?.length]).toEqual([2, 1])
    expect([second[0]!.lines, second[0]!.pointElements]).toEqual([null, null])
  })
  test('by material: what stays at home brings none of its own', () => {
    expect(splitScene(scene, 'materials', [1]).map(({ suffix }) => suffix)).toEqual(['_zinn'])
  })
  test('a word for a file: plain and not too long', () => {
    expect(fileWord('Größe / 12')).toBe('Gro_e_12')
    expect(fileWord('x'.repeat(99))).toBe('x'.repeat(80))
  })
})

describe('put together again', () => {
  test('pieces of one path are one part on shared points; others stay', () => {
    const pieces = splitScene(scene, 'materials', [0, 1, 2])
    // as a tool has them that took in one file after the other
    const nodes = pieces.flatMap(({ scene: piece, selection }) =>
      selection.map((node) => ({ node: piece.nodes[node]!, mesh: piece.meshes[piece.nodes[node]!.mesh]! })),
    )
    const loaded: Scene = {
      ...scene,
      nodes: nodes.map(({ node }, mesh) => ({ ...node, mesh })),
      meshes: nodes.map(({ mesh }) => mesh),
    }
    const joined = joinSplitParts(loaded)
    expect(joined.nodes.map(({ name }) => name).sort()).toEqual(['Körper', 'körper', 'plate'])
    const whole = (name: string) => joined.meshes[joined.nodes.find((node) => node.name === name)!.mesh]!
    expect([faceCountOf(whole('Körper')), whole('Körper').points.length / 3]).toEqual([6, 8])
    expect(whole('Körper').name).toBe('Körper')
    expect(whole('plate')).toBe(scene.meshes[2])
    expect(joined.meshes).toHaveLength(3)
  })
  test('parts of different paths are not joined, whatever they are called; points apart stay apart', () => {
    const same = withNodes(scene, (_node, at) => ({ name: 'limb', parent: at === 2 ? 0 : -1 }))
    const joined = joinSplitParts(same)
    expect(joined.nodes.map(({ parent }) => parent < 0)).toEqual([true, false])
    const first = joined.meshes[joined.nodes[0]!.mesh]!
    expect(faceCountOf(first)).toBe(10)
    const once = joinSplitParts(withNodes(scene, (_node, at) => ({ local: moved(at, 0, 0) })))
    expect(once.nodes).toHaveLength(3)
  })
  test('where nothing is to be joined it is the very scene; a bare node is no piece', () => {
    expect(joinSplitParts(scene)).toBe(scene)
    const bare = { ...scene, nodes: [...scene.nodes, { ...scene.nodes[0]!, id: 'bare', mesh: -1 }] }
    expect(joinSplitParts(bare)).toBe(bare)
  })
})
