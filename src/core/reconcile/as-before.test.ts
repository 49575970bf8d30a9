/** What is taken of scenes that were touched here and there, held against what it was: see tests/core/approved/tell.ts. */
import { test } from 'vitest'
import { chanceOf } from '../base/math/chance.ts'
import { compareScenes } from '../compare/compare-scenes.ts'
import { TRAITS } from '../compare/traits/registry.ts'
import { renumberMesh } from '../practice/standins/sculptor.ts'
import { reconcileThreeWays } from './three-ways/reconcile-three-ways.ts'
import { expectApproved, said, tellScene } from '../../../tests/core/approved/tell.ts'
import { storyOf, tellLedger } from '../../../tests/core/approved/tell-returns.ts'
import { scenesOf, touch } from '../../../tests/core/approved/touch.ts'
import { anyTaking, tellReconciled } from '../../../tests/core/approved/tell-reconciled.ts'

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
