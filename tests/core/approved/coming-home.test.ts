/** Ledgers, matchings and reconciled scenes of returns by seeds: see tell.ts. */
import { test } from 'vitest'
import { chanceOf } from '../../../src/core/base/math/chance.ts'
import { compareScenes } from '../../../src/core/compare/compare-scenes.ts'
import { correspond } from '../../../src/core/compare/match/correspond.ts'
import type { SceneMatching } from '../../../src/core/compare/match-scenes.ts'
import { subdivideMesh } from '../../../src/core/mesh/subdividing/subdivide-mesh.ts'
import { completeIds } from '../../../src/core/scene/ids.ts'
import { faceCountOf, type Mesh } from '../../../src/core/scene/mesh.ts'
import { recogniseReturn } from '../../../src/core/compare/recognise/recognise-return.ts'
import { TRAITS, type Trait } from '../../../src/core/compare/traits/registry.ts'
import { buildCourierHeron } from '../../../src/core/practice/demo/courier-heron.ts'
import { damage, FAULTS, type FaultName } from '../../../src/core/practice/faults/mesh-faults.ts'
import { renumberMesh } from '../../../src/core/practice/standins/sculptor.ts'
import { anySceneReturn, flatten } from '../../../src/core/practice/faults/scene-faults.ts'
import { reconcile } from '../../../src/core/reconcile/reconcile.ts'
import { reconcileThreeWays } from '../../../src/core/reconcile/three-ways/reconcile-three-ways.ts'
import { plainNode, type Scene } from '../../../src/core/scene/scene.ts'
import { ballOf, cubeOf, gridOf } from '../../solids.ts'
import { expectApproved, mark, said, tellScene } from './tell.ts'
import { storyOf, tellLedger, tellMatch, tellMatching } from './tell-returns.ts'
import { scenesOf, touch } from './touch.ts'

/** What is taken of what came back, by a chance: traits for all, and others for one part. */
function anyTaking(master: Scene, chance: () => number) {
  const some = (): Trait[] => TRAITS.filter(() => chance() < 0.4)
  const part = master.nodes.find(({ mesh }) => mesh >= 0)
  return { take: some(), ...(part && chance() < 0.3 ? { takeByPart: { [part.id]: some() } } : {}) }
}

function tellReconciled(
  master: Scene,
  returned: Scene,
  matching: SceneMatching | undefined,
  chance: () => number,
): string[] {
  const options = anyTaking(master, chance)
  const { scene, findings, taken } = reconcile(master, returned, options, () => {}, matching)
  return [`  took ${JSON.stringify(taken)}`, ...said(findings), ...tellScene(scene)]
}

test('scenes of any kind, touched: the ledger, and what is taken from it', async () => {
  const lines: string[] = []
  const scenes = scenesOf(20, 60)
  for (let seed = 0; seed < 120; seed++) {
    const chance = chanceOf(seed)
    const master = scenes[seed % scenes.length]!
    let returned = touch(master, chance)
    if (chance() < 0.4)
      returned = { ...returned, meshes: returned.meshes.map((mesh, at) => renumberMesh(mesh, seed + at)) }
    const ledger = compareScenes(master, returned)
    lines.push(`${seed}`, ...tellLedger(ledger), ...storyOf(ledger))
    lines.push(...tellReconciled(master, returned, undefined, chance))
  }
  await expectApproved('touched', lines)
})

test('scenes of any kind, touched here and there: what comes together, and what has to be chosen', async () => {
  const lines: string[] = []
  const scenes = scenesOf(21, 40)
  for (let seed = 0; seed < 100; seed++) {
    const chance = chanceOf(seed)
    const base = scenes[seed % scenes.length]!
    const master = touch(base, chance)
    const returned = touch(base, chance)
    const options = anyTaking(base, chance)
    const choices = Object.fromEntries(
      ['', ...base.nodes.map(({ id }) => id)].map((id) => [
        id,
        Object.fromEntries(
          TRAITS.flatMap((trait) => (chance() < 0.5 ? [[trait, chance() < 0.5 ? 'here' : 'there']] : [])),
        ),
      ]),
    ) as NonNullable<Parameters<typeof reconcileThreeWays>[3]['choices']>
    for (const more of [{}, { choices }]) {
      const { scene, findings, taken, parts, conflicts } = reconcileThreeWays(base, returned, master, {
        ...options,
        ...more,
      })
      lines.push(`${seed} took ${JSON.stringify(taken)}`, ...said(findings))
      for (const { name, traits } of parts)
        if (Object.keys(traits).length) lines.push(`    “${name}” ${JSON.stringify(traits)}`)
      for (const { name, trait, elements } of conflicts)
        lines.push(`    to choose: “${name}” ${trait} ${elements}`)
      if (scene) lines.push(...tellScene(scene))
    }
  }
  await expectApproved('three-ways', lines)
})

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
