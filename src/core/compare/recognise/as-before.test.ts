/** Matchings, ledgers and what is taken of returns by seeds, held against what they were: see tests/core/approved/tell.ts. */
import { test } from 'vitest'
import { chanceOf } from '../../base/math/chance.ts'
import { compareScenes } from '../compare-scenes.ts'
import { correspond } from '../match/correspond.ts'
import { subdivideMesh } from '../../mesh/subdividing/subdivide-mesh.ts'
import { completeIds } from '../../scene/ids.ts'
import { faceCountOf, type Mesh } from '../../scene/mesh.ts'
import { recogniseReturn } from './recognise-return.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { damage, FAULTS, type FaultName } from '../../practice/faults/mesh-faults.ts'
import { anySceneReturn, flatten } from '../../practice/faults/scene-faults.ts'
import { plainNode, type Scene } from '../../scene/scene.ts'
import { ballOf, cubeOf, gridOf } from '../../../../tests/solids.ts'
import { expectApproved, mark, said } from '../../../../tests/core/approved/tell.ts'
import { storyOf, tellLedger, tellMatch, tellMatching } from '../../../../tests/core/approved/tell-returns.ts'
import { tellReconciled } from '../../../../tests/core/approved/tell-reconciled.ts'

const heron = flatten(buildCourierHeron())
const small = { ...heron, nodes: heron.nodes.slice(3, 9), meshes: heron.meshes.slice(3, 9) }
const withParts = (like: Scene, meshes: readonly Mesh[]): Scene =>
  completeIds({
    ...like,
    meshes: meshes.map((mesh) => ({ ...mesh, id: '' })),
    nodes: meshes.map(({ name }, mesh) => plainNode(name, { mesh })),
  })
const cloth = gridOf(5, 4, {}, (x, z) => Math.sin(x * 0.7) * 0.4 + Math.cos(z * 0.9) * 0.3)
const groupedBy = (mesh: Mesh, count: number): Mesh => ({
  ...mesh,
  faceMaterials: Int32Array.from({ length: faceCountOf(mesh) }, (_face, at) => at % count),
  smoothing: {
    kind: 'groups',
    faceGroups: Int32Array.from({ length: faceCountOf(mesh) }, (_face, at) => at % 3),
  },
})
/** Small ones, so that many mixes take little time: with UVs and without, alike and symmetrical ones among them. */
const SOLIDS: readonly Mesh[] = [
  cubeOf({ name: 'crate' }),
  cubeOf({ name: 'lid' }, 2, [4, 0, 0]),
  groupedBy({ ...cloth, name: 'cloth' }, 2),
  { ...ballOf(8, 5, 1), name: 'knob' },
  {
    ...ballOf(6, 4, 1),
    name: 'other_knob',
    points: ballOf(6, 4, 1).points.map((value, at) => value + (at % 3 ? 0 : 7)),
  },
  { ...gridOf(3, 3), name: 'plate', uvSets: [] },
  {
    ...groupedBy(cloth, 3),
    name: 'flag',
    points: cloth.points.map((value, at) => (at % 3 === 1 ? value + 6 : value)),
  },
]

test('shapes with mixes of faults: which element is which', async () => {
  const shapes = [...SOLIDS, ...small.meshes.slice(0, 2)]
  const names = Object.keys(FAULTS) as FaultName[]
  const lines: string[] = []
  shapes.forEach((shape, at) => {
    for (let seed = 0; seed < (at < SOLIDS.length ? 45 : 6); seed++) {
      const chance = chanceOf(1000 * at + seed)
      const faults = names.filter(() => chance() < 0.3)
      const { mesh } = damage(shape, faults, chance)
      lines.push(`${at} ${faults.join('+')}: ${tellMatch(correspond(shape, mesh))}`)
    }
  })
  await expectApproved('shapes', lines)
})

test('parts with mixes of faults, all of it sized, turned and regrouped: what is recognised, told and taken', async () => {
  const lines: string[] = []
  for (let seed = 0; seed < 54; seed++) {
    const chance = chanceOf(500 + seed)
    const some = SOLIDS.filter(() => chance() < 0.5)
    const master = seed % 27 === 0 ? withParts(heron, small.meshes) : withParts(heron, some.length ? some : SOLIDS.slice(0, 1)) // prettier-ignore
    const made = anySceneReturn(master, chance)
    const refines = chance() < 0.15
    const came = refines
      ? { ...made.returned, meshes: made.returned.meshes.map((mesh) => subdivideMesh(mesh, { levels: 1, uvMode: 'all', sharpCorners: false })) } // prettier-ignore
      : made.returned
    const undoes = seed % 4 > 0
    const { returned, matching, undone, findings } = recogniseReturn(master, came, { undoWhole: undoes })
    lines.push(
      `${seed} ${made.faults.join('+')}${refines ? '+subdivided' : ''} undone ${mark(undone)}`,
      ...said(findings),
      ...tellMatching(matching),
    )
    const ledger = compareScenes(master, returned, () => {}, matching)
    lines.push(...tellLedger(ledger, false), ...storyOf({ ...ledger, undone }))
    if (seed % 2 === 0) lines.push(...tellReconciled(master, returned, matching, chance))
  }
  await expectApproved('parts', lines)
})
