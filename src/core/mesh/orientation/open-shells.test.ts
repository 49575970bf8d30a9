import { expect, test } from 'vitest'
import { meshOf, type Point } from '../../../../tests/solids.ts'
import { createMeshFacts } from '../relations/mesh-facts.ts'
import { orientFaces } from './orient-faces.ts'

/** A ball's cap that looks at its own middle. */
function cap(degrees: number) {
  const [rings, around] = [12, 24]
  const points: Point[] = [[0, 1, 0]]
  for (let ring = 1; ring <= rings; ring++)
    for (let k = 0; k < around; k++) {
      const [a, b] = [((degrees * Math.PI) / 180) * (ring / rings), (2 * Math.PI * k) / around]
      points.push([Math.sin(a) * Math.cos(b), Math.cos(a), Math.sin(a) * Math.sin(b)])
    }
  const at = (ring: number, k: number): number => 1 + (ring - 1) * around + (k % around)
  const faces: number[][] = []
  for (let k = 0; k < around; k++) faces.push([0, at(1, k), at(1, k + 1)])
  for (let ring = 1; ring < rings; ring++)
    for (let k = 0; k < around; k++)
      faces.push([at(ring, k), at(ring + 1, k), at(ring + 1, k + 1), at(ring, k + 1)])
  return createMeshFacts(meshOf(points, faces))
}

test('deep bowls that look inwards are inside out, plates and cloth have no inside', () => {
  for (const degrees of [60, 90, 150])
    expect([degrees, ...orientFaces(cap(degrees)).inward]).toEqual([degrees, 1])
  for (const degrees of [5, 15, 25, 35])
    expect([degrees, ...orientFaces(cap(degrees)).inward]).toEqual([degrees, 0])
})
