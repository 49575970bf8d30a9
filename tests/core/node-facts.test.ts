/** Facts of a scene that another thread works out, beside the same worked out here. Needs `dist/server`. */
import { describe, expect, test } from 'vitest'
import { describeScene } from '../../src/app/describe.ts'
import { packScene } from '../../src/core/scene/pack-scene.ts'
import { completeIds } from '../../src/core/scene/ids.ts'
import { EMPTY_MESH } from '../../src/core/scene/mesh.ts'
import { EMPTY_SCENE, rootNodes } from '../../src/core/scene/scene.ts'
import { listedFacts } from '../../src/core/view/listed-facts.ts'
import { beginFacts } from '../../src/host/node-facts.ts'

/** A wavy sheet of side x side quads. */
function sheet(side: number) {
  const across = side + 1
  const points = new Float64Array(3 * across * across)
  for (let at = 0; at < across * across; at++)
    points.set([at % across, Math.sin(at / 7), Math.floor(at / across)], 3 * at)
  const faceVertices = new Uint32Array(4 * side * side)
  for (let face = 0; face < side * side; face++) {
    const first = Math.floor(face / side) * across + (face % side)
    faceVertices.set([first, first + across, first + across + 1, first + 1], 4 * face)
  }
  const faceOffsets = Uint32Array.from({ length: side * side + 1 }, (_, face) => 4 * face)
  const meshes = [{ ...EMPTY_MESH, name: 'sheet', points, faceVertices, faceOffsets }]
  return completeIds({ ...EMPTY_SCENE, meshes, nodes: rootNodes(meshes) })
}

describe('facts on another thread', () => {
  test('are those that are worked out here', () => {
    const scene = sheet(800)
    const waited = beginFacts(packScene(scene), true)
    expect(waited).not.toBeNull()
    expect(waited!()).toEqual(listedFacts(scene, true))
  })
  test('a small scene needs none, and a thread that fails is not missed', () => {
    const scene = sheet(10)
    expect(beginFacts(packScene(scene), true)).toBeNull()
    const here = describeScene(scene)
    expect(here.picture).not.toBeNull()
    expect(describeScene(scene, [], true, () => () => null)).toEqual(here)
    expect(describeScene(scene, [], false).picture).toBeNull()
  })
})
