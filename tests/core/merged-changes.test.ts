/**
 * One value changed on the way and another one in the master meanwhile: what is merged by itself has both and nothing else,
 * however it came back; where it is asked, both were of one trait.
 */
import { expect, test } from 'vitest'
import { chanceOf } from '../../src/core/base/math/chance.ts'
import { compareScenes } from '../../src/core/compare/compare-scenes.ts'
import type { Trait } from '../../src/core/compare/traits/registry.ts'
import { reconcileThreeWays } from '../../src/core/reconcile/three-ways/reconcile-three-ways.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import { ARRANGED } from '../arranged.ts'
import { howMany } from '../how-many.ts'
import {
  changedAt,
  fullScene,
  HOLDS_IT_TOGETHER,
  IN_NO_LEDGER,
  leavesOf,
  NOT_OF_THE_MODEL,
  TAKEN,
  type Path,
} from '../full-scene.ts'

/** Values of what can be taken; what names elements is one with the polygons, and how a shape turns normals is lost by cutting. */
const OF_OTHER_THINGS =
  /faceVertices|\.name$|joint|Binds|method|edgePoints|hardEdge|cornerPoints|lines|pointElements|shapes\.0\.(points|normals|channel|weight|fullWeight)|subdivision|names/

const full = fullScene()
const base: Scene = {
  ...full,
  meshes: full.meshes.map((mesh) => ({
    ...mesh,
    shapes: mesh.shapes.map((shape) => ({ ...shape, normals: null })),
  })),
}
const toldOf = (own: Scene, other: Scene): string[] => {
  const { rows, scene } = compareScenes(own, other)
  return [...Object.values(rows[0]!.cells), scene]
    .filter((cell) => !['same', 'within'].includes(cell!.state) && cell!.note !== 'lines-changed')
    .map((cell) => cell!.note)
}
/** What a change there is told as. */
const traitOf = (path: Path): string =>
  Object.entries(compareScenes(base, changedAt(base, path) as Scene).rows[0]!.cells)
    .filter(([, cell]) => cell!.state !== 'same')
    .map(([trait]) => trait)
    .filter((trait) => trait !== 'topology')
    .join()

test.each([['as it left', (scene: Scene) => scene] as const, ...ARRANGED])('%s', (_name, arrange) => {
  const paths = Array.from({ length: 3 }, (_value, seed) => leavesOf(base.meshes, ['meshes'], chanceOf(11 + seed)))
    .flat()
    .filter(
      (path) =>
        ![NOT_OF_THE_MODEL, IN_NO_LEDGER, HOLDS_IT_TOGETHER, OF_OTHER_THINGS].some((not) =>
          not.test(path.join('.')),
        ),
    ) // prettier-ignore
  const chance = chanceOf(99)
  const pick = (): Path => paths[Math.floor(chance() * paths.length)]!
  const wrong: string[] = []
  let merged = 0
  for (let turn = 0; turn < howMany(60, 2000); turn++) {
    const [there, here] = [pick(), pick()]
    const came = arrange(changedAt(base, there) as Scene)
    const { scene } = reconcileThreeWays(base, came, changedAt(base, here) as Scene, { take: TAKEN })
    const words = `${there.join('.')} there, ${here.join('.')} here`
    if (!scene) {
      if (traitOf(there) !== traitOf(here)) wrong.push(`${words}: asked`)
      continue
    }
    merged++
    const both = changedAt(there.join() === here.join() ? base : changedAt(base, there), here) as Scene
    const told = toldOf(both, scene)
    if (told.length > 0) wrong.push(`${words}: ${told.join()}`)
  }
  expect(wrong).toEqual([])
  expect(merged).toBeGreaterThan(30)
})

/** Names of nodes tell joints. */
const NAMES_THINGS = /^space|nodes\.[12]\.name|node$/

test('nodes, materials, cameras, lights and properties', () => {
  const { meshes: _meshes, ...rest } = base
  const paths = Array.from({ length: 3 }, (_value, seed) => leavesOf(rest, [], chanceOf(21 + seed)))
    .flat()
    .filter(
      (path) =>
        ![NOT_OF_THE_MODEL, IN_NO_LEDGER, HOLDS_IT_TOGETHER, NAMES_THINGS].some((not) =>
          not.test(path.join('.')),
        ),
    )
  const chance = chanceOf(98)
  const pick = (): Path => paths[Math.floor(chance() * paths.length)]!
  const traitsOf = (other: Scene): Trait[] => {
    const { rows, scene } = compareScenes(base, other)
    return [...Object.entries(rows[0]!.cells), ['scene', scene] as const]
      .filter(([, cell]) => cell!.state !== 'same')
      .map(([trait]) => trait as Trait)
  }
  const wrong: string[] = []
  let merged = 0
  for (let turn = 0; turn < howMany(200, 4000); turn++) {
    const [there, here] = [pick(), pick()]
    const [came, is] = [changedAt(base, there) as Scene, changedAt(base, here) as Scene]
    const { scene, conflicts } = reconcileThreeWays(base, came, is, { take: traitsOf(came) })
    const words = `${there.join('.')} there, ${here.join('.')} here`
    if (!scene) {
      const shared = conflicts.every(({ trait }) => traitsOf(came).includes(trait) && traitsOf(is).includes(trait)) // prettier-ignore
      if (!shared) wrong.push(`${words}: asked`)
      continue
    }
    merged++
    const told = toldOf(changedAt(there.join() === here.join() ? base : came, here) as Scene, scene)
    if (told.length > 0) wrong.push(`${words}: ${told.join()}`)
  }
  expect(wrong).toEqual([])
  expect(merged).toBeGreaterThan(50)
})
