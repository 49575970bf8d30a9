/** Parts that were cut up and subdivided, in either order: their pieces are one part again, and what is no piece stays out. */
import { expect, test } from 'vitest'
import { chanceOf } from '../../base/math/chance.ts'
import { subdivideMesh } from '../../mesh/subdividing/subdivide-mesh.ts'
import { buildMooringBollard } from '../../practice/demo/mooring-bollard.ts'
import { damageScene, flatten, scoreScene, type SceneFault } from '../../practice/faults/scene-faults.ts'
import { compareScenes } from '../compare-scenes.ts'
import { recogniseReturn } from '../recognise/recognise-return.ts'

const master = flatten(buildMooringBollard())
const refined = (scene: typeof master): typeof master => ({
  ...scene,
  meshes: scene.meshes.map((mesh) => subdivideMesh(mesh, { levels: 1, uvMode: 'boundaries', sharpCorners: false })), // prettier-ignore
})

test.each([
  [['cutUp'], []],
  [['cutUp'], ['renumbered']],
  [
    ['cutUp', 'added'],
    ['renumbered', 'sculpted'],
  ],
  [['cutUp', 'renamed', 'reordered'], []],
  [['cutUp', 'sized'], []],
] as const)('%j %j and subdivided', (ofScene, ofMeshes) => {
  const made = damageScene(master, [...ofScene] as SceneFault[], ofMeshes, chanceOf(5))
  const found = recogniseReturn(master, refined(made.returned), { undoWhole: true })
  const { right, wrong } = scoreScene(master, made, found.matching.matched)
  expect(wrong).toEqual([])
  expect(right).toBeGreaterThan(0.98 * master.meshes.reduce((sum, { points }) => sum + points.length / 3, 0))
  const codes = found.findings.map(({ code }) => code)
  expect(codes).toContain('return.subdivided')
  expect(codes.some((code) => code === 'return.part-cut')).toBe(true)
  const { rows } = compareScenes(master, found.returned, () => {}, found.matching)
  for (const { cells } of rows.filter(({ match }) => match.masterNode >= 0)) expect(cells.materials!.state).toBe('same') // prettier-ignore
})
