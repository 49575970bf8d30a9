/** Parts that a tool made anew, or cut through, against what is known of them: linear fields, closed forms, and edges that have to be there. */
import { describe, expect, test } from 'vitest'
import { materialOf, meshOf, sceneOf, type Point } from '../../../../tests/solids.ts'
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { compareScenes } from '../../compare/compare-scenes.ts'
import { recogniseReturn } from '../../compare/recognise/recognise-return.ts'
import type { Trait } from '../../compare/traits/registry.ts'
import { edgeKey } from '../../mesh/relations/adjacency.ts'
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../../practice/demo/mooring-bollard.ts'
import { buildStormLantern } from '../../practice/demo/storm-lantern.ts'
import { damage, type FaultName } from '../../practice/faults/mesh-faults.ts'
import { lightenMesh } from '../../practice/faults/lighten-mesh.ts'
import { flatten } from '../../practice/faults/scene-faults.ts'
import { cornerCountOf, faceCountOf, pointCountOf, type Mesh, type UvSet } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { reconcile } from '../reconcile.ts'
import { carryOverSurface } from './over-surface.ts'
import { howMany } from '../../../../tests/how-many.ts'

/** What the master becomes when the returned polygons and points are taken, and nothing else. */
function home(master: Scene, returned: Scene, take: readonly Trait[] = ['topology', 'points']) {
  const found = recogniseReturn(master, returned)
  const ledger = compareScenes(master, found.returned, () => {}, found.matching)
  return { ...reconcile(master, found.returned, { take }, () => {}, found.matching), ledger }
}
const inMeters = (mesh: Mesh, more: Partial<Scene> = {}): Scene => {
  const scene = sceneOf([mesh], more)
  return { ...scene, space: { ...scene.space, unitMeters: 1 } }
}
/** As a tool returns it that makes polygons and nothing else. */
const bare = (mesh: Mesh): Mesh => ({ ...mesh, uvSets: [], faceMaterials: null, groups: null, smoothing: null, creases: null, colorSets: [], skin: null, shapes: [], normals: null }) // prettier-ignore

interface Sided {
  readonly mesh: Mesh
  /** Of each point where it lies: which of the six sides, or several along edges. */
  readonly edges: readonly (readonly [number, number])[]
}

/** A cube of one unit on shared points, with `cells` by `cells` polygons a side; an island, a material and a group a side. */
function cube(cells: number): Sided {
  const points: Point[] = []
  const numberOf = new Map<string, number>()
  const at = (place: Point): number => {
    const key = place.map((value) => Math.round(value * cells)).join()
    let number = numberOf.get(key)
    if (number === undefined) {
      numberOf.set(key, (number = points.length))
      points.push(place)
    }
    return number
  }
  const faces: number[][] = []
  const uvs: [number, number][] = []
  const sides: number[] = []
  for (let side = 0; side < 6; side++) {
    const axis = side % 3
    const high = side > 2
    const placeOf = (i: number, j: number): Point => {
      const place = [0, 0, 0]
      place[axis] = high ? 1 : 0
      place[(axis + 1) % 3] = i / cells
      place[(axis + 2) % 3] = j / cells
      return place as unknown as Point
    }
    for (let i = 0; i < cells; i++)
      for (let j = 0; j < cells; j++) {
        const corners: [number, number][] = [[i, j], [i + 1, j], [i + 1, j + 1], [i, j + 1]] // prettier-ignore
        if (!high) corners.reverse()
        faces.push(corners.map(([a, b]) => at(placeOf(a, b))))
        uvs.push(...corners.map(([a, b]): [number, number] => [side + (a / cells) * 0.9, b / cells]))
        sides.push(side)
      }
  }
  const edges: [number, number][] = []
  for (let axis = 0; axis < 3; axis++)
    for (const [b, c] of [
      [0, 0],
      [0, 1],
      [1, 0],
      [1, 1],
    ] as const)
      // prettier-ignore
      for (let step = 0; step < cells; step++) {
        const end = (share: number): number => {
          const place = [0, 0, 0]
          place[axis] = share / cells
          place[(axis + 1) % 3] = b
          place[(axis + 2) % 3] = c
          return at(place as unknown as Point)
        }
        edges.push([end(step), end(step + 1)])
      }
  const count = points.length
  const mesh = meshOf(points, faces, {
    name: 'crate',
    uvSets: [{ name: 'uv', values: Float64Array.from(uvs.flat()), indices: Int32Array.from(uvs, (_uv, index) => index), depths: null }],
    faceMaterials: Int32Array.from(sides, (side) => side % 2),
    groups: { names: ['0', '1', '2', '3', '4', '5'], sets: [[0], [1], [2], [3], [4], [5]], faceSets: Int32Array.from(sides) },
    smoothing: { kind: 'edges', hardEdgePoints: Uint32Array.from(edges.flat()) },
    creases: { edgePoints: Uint32Array.from(edges.flat()), edgeSharpness: new Float64Array(edges.length).fill(3), cornerPoints: Uint32Array.of(at([0, 0, 0])), cornerSharpness: Float64Array.of(5) },
    colorSets: [{ name: 'tint', components: 3, per: 'points', values: Float64Array.from(points.flat()), indices: new Int32Array(0) }],
    shapes: [{ name: 'taller', points: Uint32Array.from({ length: count }, (_point, index) => index), offsets: Float64Array.from(points.flatMap(([x, y]) => [0, y, x])) }],
  }) // prettier-ignore
  return { mesh, edges }
}

describe.each([
  [4, 7],
  [7, 4],
  [5, 11],
])('a cube of %i polygons along an edge made anew with %i', (before, after) => {
  const { mesh: master } = cube(before)
  const anew = cube(after)
  const { scene, findings } = home(
    inMeters(master, { materials: [materialOf('tin'), materialOf('zinc')] }),
    inMeters(bare(anew.mesh)),
  )
  const mesh = scene.meshes[0]!
  // what came back goes by the numbers of what was made
  const placed = mesh.points.every((value, at) => Math.abs(value - anew.mesh.points[at]!) < 1e-9)
  test('every side keeps its material and its group', () => {
    expect(placed).toBe(true)
    expect([...mesh.faceMaterials!]).toEqual([...anew.mesh.faceMaterials!])
    const namesOf = ({ groups }: Mesh): string[] => [...groups!.faceSets].map((set) => groups!.sets[set]!.map((name) => groups!.names[name]).join()) // prettier-ignore
    expect(namesOf(mesh)).toEqual(namesOf(anew.mesh))
  })
  test('UVs are the linear ones of the very side, no polygon lies over two', () => {
    const [set, truth] = [mesh.uvSets[0]!, anew.mesh.uvSets[0]!]
    for (let corner = 0; corner < cornerCountOf(mesh); corner++)
      for (const axis of [0, 1])
        expect(set.values[2 * set.indices[corner]! + axis]).toBeCloseTo(truth.values[2 * truth.indices[corner]! + axis]!, 9) // prettier-ignore
  })
  test('hard edges and creases run along the cube’s edges and nowhere else, all of them', () => {
    const wanted = new Set(anew.edges.map(([a, b]) => edgeKey(a, b)))
    const keys = (points: Uint32Array): Set<number> => new Set(Array.from({ length: points.length / 2 }, (_edge, at) => edgeKey(points[2 * at]!, points[2 * at + 1]!))) // prettier-ignore
    expect(keys((mesh.smoothing as { hardEdgePoints: Uint32Array }).hardEdgePoints)).toEqual(wanted)
    expect(keys(mesh.creases!.edgePoints)).toEqual(wanted)
    expect(new Set(mesh.creases!.edgeSharpness)).toEqual(new Set([3]))
    expect([...mesh.creases!.cornerPoints]).toEqual([...anew.mesh.creases!.cornerPoints])
    expect(findings.map(({ code }) => code)).not.toContain('reconcile.edges-not-led')
  })
  test('colours and shapes that are linear in space stay so', () => {
    const [colours] = mesh.colorSets
    const [shape] = mesh.shapes
    const offsetOf = new Map([...shape!.points].map((point, at) => [point, 3 * at]))
    for (let point = 0; point < pointCountOf(mesh); point++) {
      const [x, y] = [mesh.points[3 * point]!, mesh.points[3 * point + 1]!]
      const colour = colours!.indices.length ? colours!.indices[point]! : point
      for (let axis = 0; axis < 3; axis++)
        expect(colours!.values[3 * colour + axis]).toBeCloseTo(mesh.points[3 * point + axis]!, 9)
      const at = offsetOf.get(point)
      expect(at === undefined ? 0 : shape!.offsets[at + 1]).toBeCloseTo(y, 9)
      expect(at === undefined ? 0 : shape!.offsets[at + 2]).toBeCloseTo(x, 9)
    }
  })
  test('it is told with how much, and that none of it is doubtful', () => {
    const told = findings.find(({ code }) => code === 'reconcile.over-surface')!
    expect(told.parameters).toMatchObject({ count: 6 * after * after, doubtful: 0, seams: 0 })
    expect(told.parameters.what).toBe('UVs, materials, groups, colours and shapes')
  })
})

/** A tube of one island, cut open along one line, with a ring of creases in the middle. */
function tube(segments: number, rings: number, turn = 0): Mesh {
  const points: Point[] = []
  for (let ring = 0; ring <= rings; ring++)
    for (let at = 0; at < segments; at++) {
      const angle = ((at + turn) / segments) * 2 * Math.PI
      points.push([Math.cos(angle), (2 * ring) / rings, Math.sin(angle)])
    }
  const faces: number[][] = []
  const uvs: [number, number][] = []
  for (let ring = 0; ring < rings; ring++)
    for (let at = 0; at < segments; at++) {
      const next = (at + 1) % segments
      faces.push([ring * segments + at, (ring + 1) * segments + at, (ring + 1) * segments + next, ring * segments + next]) // prettier-ignore
      uvs.push([at / segments, ring / rings], [at / segments, (ring + 1) / rings], [(at + 1) / segments, (ring + 1) / rings], [(at + 1) / segments, ring / rings]) // prettier-ignore
    }
  const middle = Math.round(rings / 2)
  const edges = Array.from({ length: segments }, (_edge, at) => [middle * segments + at, middle * segments + ((at + 1) % segments)]) // prettier-ignore
  return meshOf(points, faces, {
    name: 'tube',
    uvSets: [{ name: 'uv', values: Float64Array.from(uvs.flat()), indices: Int32Array.from(uvs, (_uv, index) => index), depths: null }], // prettier-ignore
    creases: { edgePoints: Uint32Array.from(edges.flat()), edgeSharpness: new Float64Array(segments).fill(2), cornerPoints: new Uint32Array(0), cornerSharpness: new Float64Array(0) }, // prettier-ignore
  })
}

describe('a tube whose seam no new polygon keeps to', () => {
  const spread = (mesh: Mesh, face: number, { values, indices }: UvSet): number => {
    const us = Array.from(mesh.faceVertices.subarray(mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!), (_p, at) => values[2 * indices[mesh.faceOffsets[face]! + at]!]!) // prettier-ignore
    return Math.max(...us) - Math.min(...us)
  }
  test.each([
    [48, 8, 30, 6, 0.3],
    [48, 8, 70, 12, 0.5],
    [24, 4, 25, 4, 0.5],
  ])('%i by %i to %i by %i, turned by %f', (segments, rings, others, otherRings, turn) => {
    const { scene, findings } = home(inMeters(tube(segments, rings)), inMeters(bare(tube(others, otherRings, turn)))) // prettier-ignore
    const mesh = scene.meshes[0]!
    const [set] = mesh.uvSets
    expect(set!.indices.includes(-1)).toBe(false)
    let torn = 0
    for (let face = 0; face < faceCountOf(mesh); face++) {
      const width = spread(mesh, face, set!)
      // none is drawn over the whole map; those across the seam end at its border
      expect(width).toBeLessThan(1.6 / others)
      if (width < 0.9 / others) torn++
    }
    expect(torn).toBeLessThanOrEqual(2 * otherRings)
    const told = findings.find(({ code }) => code === 'reconcile.over-surface')!.parameters
    expect(told.doubtful).toBe(0)
    expect(told.seams).toBeLessThanOrEqual(otherRings)
    // the ring of creases is a ring again, where a ring of edges runs
    if (otherRings % 2 === 0) {
      const { edgePoints } = mesh.creases!
      expect(edgePoints.length / 2).toBe(others)
      for (const point of edgePoints) expect(mesh.points[3 * point + 1]).toBeCloseTo(1, 9)
    }
  })
})

/** A UV that is farther off lies on another part of the map. */
const ASTRAY = 0.02
const SEEDS = howMany(1, 20)

describe.each([
  ['heron', flatten(buildCourierHeron())],
  ['lantern', flatten(buildStormLantern())],
])('%s, cut through with loops', (_name, master) => {
  test.each([
    [['looped']],
    [['looped', 'renumbered']],
    [['looped', 'sculpted']],
    [['looped', 'triangulated']],
  ] as [FaultName[]][])('%j: new corners have the UVs that a tool gives them', (faults) => {
    let corners = 0
    let worst = 0
    let without = 0
    let astray = 0
    for (let seed = 1; seed <= SEEDS; seed++) {
      const damaged = master.meshes.map((mesh) => damage(mesh, faults, chanceOf(seed)).mesh)
      const returned = { ...master, meshes: damaged.map((mesh) => ({ ...mesh, uvSets: [] })) }
      const { scene } = home(master, returned)
      expect(scene.nodes).toHaveLength(returned.nodes.length)
      scene.nodes.forEach((node, at) => {
        const mesh = scene.meshes[node.mesh]!
        const truth = damaged[returned.nodes[at]!.mesh]!
        if (cornerCountOf(mesh) !== cornerCountOf(truth)) return
        const [own, wanted] = [mesh.uvSets[0]!, truth.uvSets[0]!]
        for (let corner = 0; corner < cornerCountOf(mesh); corner++) {
          corners++
          const off = own.indices[corner]! < 0 ? NaN : Math.hypot(...[0, 1].map((axis) => own.values[2 * own.indices[corner]! + axis]! - wanted.values[2 * wanted.indices[corner]! + axis]!)) // prettier-ignore
          if (Number.isNaN(off)) without++
          else if (off > ASTRAY) astray++
          else if (off > worst) worst = off
        }
      })
    }
    // pieces that stand across the polygon that they are of, since that is bent so much, go without
    expect(without).toBeLessThan(corners / 1000)
    // of shells that were moved whole and cut through nothing is known any more
    expect(astray).toBeLessThan(faults.includes('sculpted') ? corners / 100 : 1)
    // a sculpt moves points of a bent polygon apart: what lies between them is not quite half way any more
    expect(worst).toBeLessThan(faults.includes('sculpted') ? 0.01 : 1e-6)
    expect(corners).toBeGreaterThan(5000)
  })
})

test('weights of joints are shared out on new points and sum to one', () => {
  const grid = cube(4).mesh
  const count = pointCountOf(grid)
  const skinned: Mesh = {
    ...grid,
    skin: {
      jointNodes: Int32Array.of(1, 2),
      offsets: Uint32Array.from({ length: count + 1 }, (_offset, at) => 2 * at),
      joints: Uint32Array.from({ length: 2 * count }, (_joint, at) => at % 2),
      weights: Float64Array.from({ length: 2 * count }, (_weight, at) => {
        const height = grid.points[3 * (at >> 1) + 1]!
        return at % 2 ? height : 1 - height
      }),
    },
  }
  const joints = (scene: Scene): Scene => ({ ...scene, nodes: [...scene.nodes, ...['hip', 'knee'].map((name) => ({ ...scene.nodes[0]!, id: name, name, mesh: -1 }))] }) // prettier-ignore
  const { scene } = home(
    joints(inMeters({ ...skinned, faceMaterials: null })),
    joints(inMeters(bare(cube(7).mesh))),
  )
  const mesh = scene.meshes[0]!
  const { offsets, joints: own, weights } = mesh.skin!
  for (let point = 0; point < pointCountOf(mesh); point++) {
    const height = mesh.points[3 * point + 1]!
    const sums = [0, 0]
    for (let at = offsets[point]!; at < offsets[point + 1]!; at++) sums[own[at]!]! += weights[at]!
    expect(sums[0]).toBeCloseTo(1 - height, 9)
    expect(sums[1]).toBeCloseTo(height, 9)
  }
})

test('a loop through a crease: it runs on over the new point, along edges that are there', () => {
  const mesh = { ...cube(1).mesh, faceMaterials: null }
  const damaged = damage(mesh, ['looped'], chanceOf(2)).mesh
  const { scene } = home(inMeters(mesh), inMeters(bare({ ...damaged, name: 'crate' })))
  const made = scene.meshes[0]!
  const { edgeCount, edgePoints } = createMeshFacts(made).edges()
  const there = new Set(Array.from({ length: edgeCount }, (_edge, at) => edgeKey(edgePoints[2 * at]!, edgePoints[2 * at + 1]!))) // prettier-ignore
  const { edgePoints: creased } = made.creases!
  for (let edge = 0; edge < creased.length / 2; edge++)
    expect(there.has(edgeKey(creased[2 * edge]!, creased[2 * edge + 1]!))).toBe(true)
  // twelve edges, four of them cut in two
  expect([faceCountOf(made), creased.length / 2]).toEqual([10, 16])
})

test('what a tool gave its new polygons stays where all else of it is as it was', () => {
  const { mesh } = cube(4)
  const damaged = damage(mesh, ['extruded'], chanceOf(4)).mesh
  const [master, returned] = [inMeters(mesh, { materials: [materialOf('tin'), materialOf('zinc')] }), inMeters(damaged, { materials: [materialOf('tin'), materialOf('zinc')] })] // prettier-ignore
  const { scene } = home(master, returned)
  const made = scene.meshes[0]!
  const [own, came] = [made.uvSets[0]!, damaged.uvSets[0]!]
  for (let corner = 0; corner < cornerCountOf(made); corner++)
    for (const axis of [0, 1])
      expect(own.values[2 * own.indices[corner]! + axis]).toBe(came.values[2 * came.indices[corner]! + axis])
})

describe('what is not taken from the surface, or said of it', () => {
  test('creases that run on over new points are no polygons that took anything', () => {
    const { mesh } = cube(1)
    const creased: Mesh = { ...bare(mesh), creases: mesh.creases }
    const damaged = damage(creased, ['looped'], chanceOf(2)).mesh
    const { scene, findings } = home(inMeters(creased), inMeters(bare({ ...damaged, name: 'crate' })))
    expect(scene.meshes[0]!.creases!.edgeSharpness.length).toBe(16)
    expect(findings.map(({ code }) => code)).toEqual([])
  })
  test('of hard edges it is told how many run on, and what is known is not counted as carried', () => {
    const { mesh } = cube(4)
    const damaged = damage(mesh, ['looped'], chanceOf(4)).mesh
    const found = recogniseReturn(inMeters(mesh), inMeters(bare(damaged)))
    const [part] = found.matching.matched
    const { returned, correspondence } = part!
    const map = {
      points: new Int32Array(pointCountOf(returned)).fill(-1),
      sourcePoints: correspondence.pointToReturned,
      faces: new Int32Array(faceCountOf(returned)).fill(-1),
      corners: new Int32Array(cornerCountOf(returned)).fill(-1),
    }
    correspondence.pointToReturned.forEach((other, point) => other >= 0 && (map.points[other] = point))
    correspondence.faceToReturned.forEach((other, face) => other >= 0 && (map.faces[other] = face))
    correspondence.cornerToReturned.forEach((other, corner) => other >= 0 && (map.corners[other] = corner))
    const target = { ...returned, uvSets: mesh.uvSets.map((set) => ({ ...set, values: new Float64Array(0), indices: new Int32Array(cornerCountOf(returned)).fill(-1) })) } // prettier-ignore
    const over = carryOverSurface(mesh, target, map, () => true, () => false)! // prettier-ignore
    const edges = (mesh.smoothing as { hardEdgePoints: Uint32Array }).hardEdgePoints.length / 2
    expect(over.hardEdges).toEqual({ found: edges, total: edges })
    expect(over.creases).toEqual({ found: edges + 1, total: edges + 1 })
    expect(over.faces).toBe(map.faces.filter((face) => face < 0).length)
    // the same with smoothing in groups: each new polygon has that of the side that it lies on
    const grouped = { ...mesh, smoothing: { kind: 'groups' as const, faceGroups: mesh.groups!.faceSets.map((side) => side + 1) } } // prettier-ignore
    const bySide = carryOverSurface(grouped, target, map, () => true, () => false)!.mesh // prettier-ignore
    const { faceGroups } = bySide.smoothing as { faceGroups: Int32Array }
    const sideOf = (face: number): number => bySide.groups!.faceSets[face]! + 1
    for (let face = 0; face < faceCountOf(target); face++)
      if (map.faces[face]! < 0) expect(faceGroups[face]).toBe(sideOf(face))
  })
  test('sides of an extrusion stand off it: they go without UVs, and have a material all the same', () => {
    const { mesh } = cube(4)
    const damaged = damage(mesh, ['extruded'], chanceOf(4)).mesh
    const both = { materials: [materialOf('tin'), materialOf('zinc')] }
    const { scene } = home(inMeters(mesh, both), inMeters(bare(damaged)))
    const made = scene.meshes[0]!
    const without = Array.from({ length: faceCountOf(made) }, (_face, face) => made.uvSets[0]!.indices.subarray(made.faceOffsets[face], made.faceOffsets[face + 1]).includes(-1)).filter(Boolean).length // prettier-ignore
    expect(faceCountOf(made)).toBe(6 * 16 + 4)
    expect(without).toBeLessThanOrEqual(4)
    expect(without).toBeGreaterThan(0)
    expect(made.faceMaterials!.every((material) => material >= 0)).toBe(true)
  })
  test('UVs of another layout do not come in with new polygons where the layout is not taken', () => {
    const { mesh } = cube(4)
    const damaged = damage(mesh, ['looped'], chanceOf(4)).mesh
    // the tool has laid all UVs anew, far away
    const laid = { ...damaged, uvSets: damaged.uvSets.map((set) => ({ ...set, values: set.values.map((value) => value + 100) })) } // prettier-ignore
    const { scene } = home(inMeters(mesh, { materials: [materialOf('tin'), materialOf('zinc')] }), inMeters(bare({ ...laid, uvSets: [] }))) // prettier-ignore
    const { scene: other } = home(inMeters({ ...mesh, faceMaterials: null }), inMeters({ ...laid, faceMaterials: null })) // prettier-ignore
    for (const { meshes } of [scene, other]) {
      const { values, indices } = meshes[0]!.uvSets[0]!
      for (const index of indices) if (index >= 0) expect(values[2 * index]).toBeLessThan(50)
    }
  })
  test('points that are nowhere take nothing, and no sentence is spoiled by them', () => {
    const anew = bare(cube(7).mesh)
    const points = anew.points.slice()
    points[5] = NaN
    points[100] = Infinity
    const { scene, findings } = home(inMeters({ ...cube(4).mesh, faceMaterials: null }), inMeters({ ...anew, points })) // prettier-ignore
    for (const { parameters } of findings) expect(JSON.stringify(parameters)).not.toMatch(/NaN|null|Infinity/)
    const { values } = scene.meshes[0]!.uvSets[0]!
    expect(values.every(Number.isFinite)).toBe(true)
  })
  test('creases for which no edges run near are counted, and none is laid elsewhere', () => {
    // three of the six sides came back: the three edges between the others are gone
    const anew = cube(7).mesh
    const low = Uint32Array.from(anew.faceVertices.subarray(0, 3 * 49 * 4))
    const half: Mesh = {
      ...bare(anew),
      faceVertices: low,
      faceOffsets: anew.faceOffsets.slice(0, 3 * 49 + 1),
    }
    const mesh: Mesh = { ...cube(6).mesh, faceMaterials: null, smoothing: null }
    const { scene, findings } = home(inMeters(mesh), inMeters(half))
    const { edgePoints } = scene.meshes[0]!.creases!
    expect(edgePoints.length / 2).toBe(9 * 7)
    for (let edge = 0; edge < 9 * 7; edge++) {
      const ends = [edgePoints[2 * edge]!, edgePoints[2 * edge + 1]!].map((point) => [0, 1, 2].map((axis) => scene.meshes[0]!.points[3 * point + axis]!)) // prettier-ignore
      // both ends have two coordinates of 0 or 1 in common: it lies on an edge of the cube
      expect([0, 1, 2].filter((axis) => ends[0]![axis] === ends[1]![axis] && [0, 1].includes(ends[0]![axis]!)).length).toBe(2) // prettier-ignore
    }
    expect(findings.find(({ code }) => code === 'reconcile.edges-not-led')!.parameters).toEqual({
      name: 'crate',
      what: 'creases',
      count: 3 * 6,
      total: 12 * 6 + 1,
    })
  })
})

/** For each polygon with UVs the longest side of the map a length of space. */
function densities(mesh: Mesh): number[] {
  const { values, indices } = mesh.uvSets[0]!
  return Array.from({ length: faceCountOf(mesh) }, (_face, face) => {
    const [start, end] = [mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!]
    let most = 0
    for (let corner = start; corner < end; corner++) {
      const next = corner + 1 < end ? corner + 1 : start
      const [p, q] = [mesh.faceVertices[corner]!, mesh.faceVertices[next]!]
      const apart = (of: ArrayLike<number>, a: number, b: number, width: number): number => Math.hypot(...Array.from({ length: width }, (_axis, axis) => of[width * a + axis]! - of[width * b + axis]!)) // prettier-ignore
      most = Math.max(most, apart(values, indices[corner]!, indices[next]!, 2) / apart(mesh.points, p, q, 3))
    }
    return most
  })
}
test.each([
  ['heron', flatten(buildCourierHeron()), 60, true],
  ['lantern', flatten(buildStormLantern()), 30, false],
  ['bollard', flatten(buildMooringBollard()), 30, false],
] as const)(
  '%s, lightened: every corner has UVs, hardly a polygon is torn over the map',
  (_name, master, cells, half) => {
    const meshes = master.meshes.map((mesh) => {
      const { min, max } = boundsOf(mesh.points)!
      return lightenMesh(mesh, diagonalOf({ min, max }) / cells, ([, height]) => !half || height > (min[1] + max[1]) / 2) // prettier-ignore
    })
    const { scene } = home(master, { ...master, materials: [], meshes })
    let torn = 0
    let count = 0
    scene.nodes.forEach((node, at) => {
      const mesh = scene.meshes[node.mesh]!
      expect([node.name, mesh.uvSets[0]!.indices.includes(-1)]).toEqual([node.name, false])
      const own = master.meshes[master.nodes[at]!.mesh]!
      if (own.faceMaterials?.every((material) => material >= 0))
        expect(mesh.faceMaterials!.every((material) => material >= 0)).toBe(true)
      const before = densities(own).sort((a, b) => a - b)
      const most = 3 * before[Math.floor(before.length * 0.99)]!
      for (const density of densities(mesh)) {
        count++
        if (density > most) torn++
      }
    })
    expect(count).toBeGreaterThan(1000)
    expect(torn).toBeLessThan(count * 0.01)
  },
)
