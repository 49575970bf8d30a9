/**
 * Parts with features as small as what places are told apart by: the points of a cone's tip, the two sides of a thin sheet.
 * Nothing is done to them but what tools do of their own accord, so nothing may be told as changed.
 */
import { describe, expect, test } from 'vitest'
import { renumbered, split } from '../../../tests/arranged.ts'
import { IN_THE_LONG_RUN } from '../../../tests/how-many.ts'
import { loose, meshOf, sceneOf, sharedUvs, type Point } from '../../../tests/solids.ts'
import { triangulateScene } from '../formats/arrange/arrange-scene.ts'
import { faceCountOf, pointCountOf, type Mesh } from '../scene/mesh.ts'
import { computeNormals } from '../mesh/normals/compute-normals.ts'
import { compareScenes } from './compare-scenes.ts'
import { recogniseReturn } from './recognise/recognise-return.ts'

/** An open cone of triangles with a tip of so many points of its own. @param tip radius of the tip, of the cone's height. */
function coneOf(segments: number, tip: number, ownTip: boolean): Mesh {
  const points: Point[] = []
  const rings = 5
  for (let ring = 0; ring <= rings; ring++)
    for (let at = 0; at < segments; at++) {
      const angle = (2 * Math.PI * at) / segments + 0.1
      const radius = ring === rings ? tip : 0.5 * (1 - ring / rings) + tip
      points.push([radius * Math.cos(angle), ring / rings, radius * Math.sin(angle)])
    }
  const faces: number[][] = []
  for (let ring = 0; ring < rings; ring++)
    for (let at = 0; at < segments; at++) {
      const [a, b] = [ring * segments + at, ring * segments + ((at + 1) % segments)]
      const [c, d] = [a + segments, b + segments]
      faces.push([a, c, d], [a, d, b])
    }
  // every polygon but the first at a point of the tip has one of its own there
  const met = new Set<number>()
  for (const face of ownTip ? faces.slice(-2 * segments) : [])
    face.forEach((point, corner) => {
      if (point >= rings * segments && met.has(point) && point % 3 === 0)
        face[corner] = points.push(points[point]!) - 1
      met.add(point)
    })
  return meshOf(points, faces, { name: 'cone' })
}

/** Two sheets a gap apart, joined along one border. */
function thinSheet(count: number, gap: number): Mesh {
  const points: Point[] = []
  const faces: number[][] = []
  const heightAt = (x: number, z: number): number => 0.2 * Math.sin(3 * x + z) + 0.1 * z * z
  for (const side of [0, 1])
    for (let row = 0; row <= count; row++)
      for (let column = 0; column <= count; column++) {
        const [x, z] = [column / count, row / count]
        points.push([x, heightAt(x, z) + side * gap, z])
      }
  const all = (count + 1) ** 2
  for (let row = 0; row < count; row++)
    for (let column = 0; column < count; column++) {
      const a = row * (count + 1) + column
      const [b, c, d] = [a + 1, a + count + 2, a + count + 1]
      faces.push([a, d, c, b], [a + all, b + all, c + all, d + all])
    }
  for (let column = 0; column < count; column++) faces.push([column, column + 1, column + 1 + all, column + all]) // prettier-ignore
  return meshOf(points, faces, { name: 'sheet' })
}

const UVS: Record<string, (mesh: Mesh) => Mesh> = {
  'without UVs': (mesh) => mesh,
  'with UVs of no area': (mesh) => ({
    ...mesh,
    uvSets: [sharedUvs([[0, 0]], [...mesh.faceVertices].map(() => 0))], // prettier-ignore
  }),
  'with a layout': (mesh) => ({
    ...mesh,
    uvSets: [
      sharedUvs(
        Array.from({ length: pointCountOf(mesh) }, (_point, at): [number, number] => [
          (at % 31) / 31,
          at / 997,
        ]),
        [...mesh.faceVertices],
      ),
    ],
  }),
}
const ROUNDED: Record<string, (value: number) => number> = {
  exactly: (value) => value,
  'in 32 bits': Math.fround,
  'in seven digits': (value) => Number(value.toPrecision(7)),
}
const MADE: Record<string, (mesh: Mesh) => Mesh> = {
  renumbered: (mesh) => renumbered(mesh, 5),
  'with points of their own for all polygons': loose,
  'all of that': (mesh) => renumbered(loose(mesh), 6),
  'with every other polygon split off': (mesh) => renumbered(split(mesh), 7),
  'in triangles of their own': (mesh) => renumbered(loose(triangulateScene(sceneOf([mesh])).meshes[0]!), 8),
}
const SHAPES: Record<string, Mesh> = {
  'a cone with a tip of 1e-5': coneOf(24, 1e-5, false),
  'a cone with a tip of 1e-5, parted': coneOf(24, 1e-5, true),
  'two sheets 1e-5 apart': thinSheet(9, 1e-5),
  ...(IN_THE_LONG_RUN && {
    'a cone with a tip of 1e-4': coneOf(24, 1e-4, false),
    'a cone with a tip of 1e-4, parted': coneOf(24, 1e-4, true),
    'a cone with a tip of 3e-6': coneOf(24, 3e-6, false),
    'a cone with a tip of 3e-6, parted': coneOf(24, 3e-6, true),
    'two sheets 3e-6 apart': thinSheet(9, 3e-6),
  }),
}

describe.each(Object.keys(SHAPES))('%s', (shape) => {
  describe.each(Object.keys(UVS))('%s', (layout) => {
    test.each(Object.keys(ROUNDED).flatMap((rounded) => Object.keys(MADE).map((made) => [rounded, made])))(
      '%s, %s',
      (rounded, made) => {
        const plain = { ...UVS[layout]!(SHAPES[shape]!), name: 'part' }
        const master = sceneOf([{ ...plain, normals: computeNormals(plain, null) }])
        const sent = MADE[made!]!(master.meshes[0]!)
        const returned = sceneOf([{ ...sent, points: sent.points.map(ROUNDED[rounded!]!) }])
        const { returned: read, matching } = recogniseReturn(master, returned)
        const { cells } = compareScenes(master, read, undefined, matching).rows[0]!
        const { correspondence } = matching.matched[0]!
        expect(correspondence.matchedFaceCount).toBe(faceCountOf(plain))
        for (const trait of ['points', 'uvs', 'normals'] as const)
          expect(cells[trait]!.state, trait).toMatch(/^(same|within)$/)
        expect(cells.topology!.note).not.toBe('topology-changed')
      },
    )
  })
})

/** Moved all over, smoothly, by up to a twentieth of its height: what lies beside each other moves alike. */
const sculptedAt = (mesh: Mesh): Mesh => ({
  ...mesh,
  points: mesh.points.map((value, at) => {
    const [x, y, z] = mesh.points.subarray(3 * Math.floor(at / 3))
    return value + 0.05 * Math.sin(2 * x! + 3 * y! + z! + (at % 3))
  }),
})

describe.each(Object.keys(SHAPES))('%s, sculpted', (shape) => {
  test.each(Object.keys(UVS).flatMap((layout) => Object.keys(MADE).map((made) => [layout, made])))(
    '%s, %s',
    (layout, made) => {
      const plain = { ...UVS[layout!]!(SHAPES[shape]!), name: 'part' }
      const sent = MADE[made!]!(sculptedAt(plain))
      const returned = sceneOf([{ ...sent, points: sent.points.map(Math.fround) }])
      const { returned: read, matching } = recogniseReturn(sceneOf([plain]), returned)
      const [part] = matching.matched
      const { guess, matchedFaceCount, pointToReturned } = part!.correspondence
      expect(matchedFaceCount).toBe(faceCountOf(plain))
      expect(pointToReturned).not.toContain(-1)
      const { cells } = compareScenes(sceneOf([plain]), read, undefined, matching).rows[0]!
      expect(cells.uvs!.state).toMatch(/^(same|within|guess)$/)
      // which of a round thing's sides is which only a layout tells, or the order
      const meant = sculptedAt(plain).points
      const off = Array.from(pointToReturned, (other, point) =>
        Math.hypot(
          ...[0, 1, 2].map((axis) => meant[3 * point + axis]! - part!.returned.points[3 * other + axis]!),
        ),
      )
      if (!guess) expect(Math.max(...off)).toBeLessThan(2e-5)
      if (layout === 'with a layout') expect(guess ?? false).toBe(false)
    },
  )
})
