/** Models with mixes of faults, by a seed; and what mending them in the order of the findings leaves. */
import { findingText, runChecks } from '../../src/core/checks/run-checks.ts'
import type { Mesh } from '../../src/core/scene/mesh.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import { runStep } from '../../src/core/steps/run-steps.ts'
import { chanceOf } from '../../src/core/base/math/chance.ts'
import { meshOf, moved, scaled, sceneOf, withNodes } from '../solids.ts'

/** What one mend brings to light the next rounds mend. */
const ROUNDS = 8

/** The scene after all mends, and what is still offered then. */
export function mendAll(first: Scene): { scene: Scene; left: string[] } {
  let scene = first
  for (let round = 0; ; round++) {
    const findings = runChecks(scene).filter(({ fix }) => fix)
    if (findings.length === 0 || round === ROUNDS)
      return {
        scene,
        left: findings.map((finding) => `${finding.check}: ${findingText(finding)} – ${finding.fix!.step}`),
      }
    const fixes = new Map(findings.map(({ fix }) => [JSON.stringify(fix), fix!]))
    for (const { step, params } of fixes.values()) scene = runStep(scene, { step, params }).scene
  }
}

type Point = [number, number, number]
interface Shape {
  points: Point[]
  faces: number[][]
}
const add = (shape: Shape, more: Shape): void => {
  const from = shape.points.length
  shape.points.push(...more.points)
  shape.faces.push(...more.faces.map((face) => face.map((point) => point + from)))
}
/** A tube with caps of n corners: quads and two n-gons. */
const tube = (n: number, length: number, radius: number, at: Point): Shape => ({
  points: [0, 1].flatMap((end) =>
    Array.from({ length: n }, (_value, k): Point => {
      const angle = (2 * Math.PI * k) / n
      return [at[0] + radius * Math.cos(angle), at[1] + end * length, at[2] - radius * Math.sin(angle)]
    }),
  ),
  faces: [
    ...Array.from({ length: n }, (_value, k) => [k, (k + 1) % n, n + ((k + 1) % n), n + k]),
    Array.from({ length: n }, (_value, k) => n + k),
    Array.from({ length: n }, (_value, k) => n - 1 - k),
  ],
})
const block = (at: Point, size: Point): Shape => {
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((k): Point => [
    at[0] + (k & 1) * size[0],
    at[1] + ((k >> 1) & 1) * size[1],
    at[2] + ((k >> 2) & 1) * size[2],
  ])
  return {
    points: corners,
    faces: [[0, 2, 3, 1], [4, 5, 7, 6], [0, 1, 5, 4], [2, 6, 7, 3], [0, 4, 6, 2], [1, 3, 7, 5]], // prettier-ignore
  }
}

/** A mix of faults on a few closed shapes, by a seed. */
export function faulty(seed: number): Scene {
  const next = chanceOf(seed)
  const below = (count: number): number => Math.floor(next() * count)
  const pick = <Item>(items: readonly Item[]): Item => items[below(items.length)]!
  const meshes: Mesh[] = []
  for (let part = 0; part < 1 + below(3); part++) {
    const shape: Shape = { points: [], faces: [] }
    const base: Point = [10 * part, 0, 0]
    for (let k = 0; k < 1 + below(3); k++)
      add(
        shape,
        next() < 0.5
          ? tube(3 + below(8), 0.2 + 3 * next(), 0.1 + next(), [base[0] + 3 * k, 0, 0])
          : // blocks side by side touch in a face, an edge or a corner
            block([base[0] + k, pick([0, 0, 1]), pick([0, 1])], [1, 1, 1]),
      )
    for (let fault = 0; fault < 1 + below(6); fault++) {
      const face = below(shape.faces.length)
      const own = shape.faces[face]!
      switch (below(10)) {
        case 0: // a polygon of its own
          shape.faces[face] = own.map((point) => shape.points.push([...shape.points[point]!]) - 1)
          break
        case 1: // all polygons apart
          if (next() < 0.3)
            shape.faces = shape.faces.map((one) =>
              one.map((point) => shape.points.push([...shape.points[point]!]) - 1),
            )
          break
        case 2: // doubled, perhaps the other way round
          shape.faces.push(next() < 0.5 ? [...own] : [...own].reverse())
          break
        case 3:
          shape.faces[face] = [...own].reverse()
          break
        case 4: // a hole
          shape.faces.splice(face, 1)
          break
        case 5: // a fin on an edge
          shape.faces.push([own[0]!, own[1]!, shape.points.push([base[0] + next(), 2 + next(), next()]) - 1])
          break
        case 6: // a side without length
          shape.faces[face] = [own[0]!, shape.points.push([...shape.points[own[0]!]!]) - 1, ...own.slice(1)]
          break
        case 7: // a loose point, a corner twice
          shape.points.push([base[0], 3, 0])
          if (next() < 0.3) shape.faces[face] = [own[0]!, ...own]
          break
        case 8: {
          // a point in the middle of an edge, which the neighbour knows nothing of
          const [a, b] = [shape.points[own[0]!]!, shape.points[own[1]!]!]
          const middle = a.map((value, axis) => value + (b[axis]! - value) * 0.4)
          shape.faces[face] = [own[0]!, shape.points.push(middle as Point) - 1, ...own.slice(1)]
          break
        }
        default: {
          // cut into triangles, or bent
          if (next() < 0.5)
            shape.faces.splice(
              face,
              1,
              ...own.slice(2).map((_point, k) => [own[0]!, own[k + 1]!, own[k + 2]!]),
            )
          else
            shape.points[own[0]!] = shape.points[own[0]!]!.map(
              (value) => value + 0.4 * (next() - 0.5),
            ) as Point
        }
      }
      if (shape.faces.length === 0) shape.faces.push([0, 1, 2])
    }
    meshes.push(meshOf(shape.points, shape.faces))
  }
  if (next() < 0.3) meshes.push({ ...meshes[0]! })
  const kinds = [scaled(1, 1, 1), scaled(-1, 1, 1), scaled(1, 2, 1), moved(100, 3, 0)]
  return withNodes(sceneOf(meshes), () => ({ local: pick(kinds) }))
}
