/** What bears pairs out, against counting it edge by edge. */
import { expect, test } from 'vitest'
import { ballOf, gridOf, meshOf } from '../../../../../tests/solids.ts'
import { chanceOf } from '../../../base/math/chance.ts'
import { edgesOf } from '../../../mesh/relations/adjacency.ts'
import { pointCountOf, type Mesh } from '../../../scene/mesh.ts'
import { neighboursOf } from '../neighbours.ts'
import { createSupport } from './support.ts'

const textOf = (a: number, b: number): string => `${Math.min(a, b)} ${Math.max(a, b)}`
function counted(master: Mesh, returned: Mesh, pairs: Int32Array) {
  const sidesOf = (mesh: Mesh) => {
    const { edgePoints, edgeCount } = edgesOf(mesh)
    return Array.from({ length: edgeCount }, (_edge, at) => [edgePoints[2 * at]!, edgePoints[2 * at + 1]!] as const) // prettier-ignore
  }
  const there = new Set(sidesOf(returned).map(([a, b]) => textOf(a, b)))
  const [known, borne] = [0, 1].map(() => Array.from({ length: pointCountOf(master) }, () => 0)) as [number[], number[]] // prettier-ignore
  for (const [a, b] of sidesOf(master)) {
    if (pairs[a]! < 0 || pairs[b]! < 0) continue
    for (const end of [a, b]) known[end]!++
    if (a === b || pairs[a] === pairs[b] || !there.has(textOf(pairs[a]!, pairs[b]!))) continue
    for (const end of [a, b]) borne[end]!++
  }
  return { known, borne }
}

test('any pairs, and again after some of them were changed in place', () => {
  const twice = meshOf([[0, 0, 0], [1, 0, 0], [1, 1, 0]], [[0, 0, 1, 2]]) // prettier-ignore
  for (const [master, returned] of [
    [gridOf(6, 5), gridOf(6, 5)],
    [ballOf(8, 5, 1), gridOf(7, 7)],
    [twice, twice],
  ] as const) {
    const supportOf = createSupport(neighboursOf(master), neighboursOf(returned))
    for (let seed = 0; seed < 30; seed++) {
      const chance = chanceOf(seed)
      const count = pointCountOf(returned)
      const pairs = Int32Array.from({ length: pointCountOf(master) }, (_point, at) => (chance() < 0.2 ? -1 : chance() < 0.7 ? at % count : Math.floor(chance() * count))) // prettier-ignore
      for (let change = 0; change < 3; change++) {
        const { known, borne } = supportOf(pairs)
        expect({ known: [...known], borne: [...borne] }).toEqual(counted(master, returned, pairs))
        expect([...supportOf(pairs.slice()).borne]).toEqual([...borne])
        pairs[Math.floor(chance() * pairs.length)] = -1
      }
    }
  }
})
