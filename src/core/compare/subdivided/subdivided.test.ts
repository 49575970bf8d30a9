/**
 * Meshes that came back subdivided: the cage is found again from any numbering, and what was sculpted at its points with
 * it. Refined by Kelbo's own subdivision, which agrees with shared reference values (see subdivide.test.ts).
 */
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { chanceOf } from '../../base/math/chance.ts'
import { flatten } from '../../practice/faults/scene-faults.ts'
import { IN_THE_LONG_RUN } from '../../../../tests/how-many.ts'
import { cubeOf, gridOf, meshOf, sceneOf, turnedAbout, type Point } from '../../../../tests/solids.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { plainSources, rebuildMesh } from '../../mesh/rebuilding/rebuild-mesh.ts'
import { subdivideLoop } from '../../mesh/subdividing/subdivide-loop.ts'
import { subdivideMesh } from '../../mesh/subdividing/subdivide-mesh.ts'
import { UV_MODES } from '../../mesh/subdividing/subdivide-catmull-clark.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { renumberMesh } from '../../practice/standins/sculptor.ts'
import { splitCorners } from '../../practice/standins/engine.ts'
import { reconcile } from '../../reconcile/reconcile.ts'
import { faceCountOf, pointCountOf, type Mesh, type UvSet } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { compareScenes } from '../compare-scenes.ts'
import { fingerprintScene } from '../fingerprint.ts'
import { recogniseReturn } from '../recognise/recognise-return.ts'
import { TRAITS } from '../traits/registry.ts'
import { findCage } from './find-cage.ts'
import { expectAsBefore, tellRecognised } from '../../../../tests/core/approved/tell-returns.ts'

const whole = flatten(buildCourierHeron())
/** Parts of it, the beak, a wing and the eyes; in the long run the body, both wings and a leg. */
const heron = IN_THE_LONG_RUN ? partsOf(0, 1, 2, 3) : partsOf(5, 1, 6, 7)
function partsOf(...parts: number[]): Scene {
  return {
    ...whole,
    nodes: parts.map((part, at) => ({ ...whole.nodes[part]!, mesh: at })),
    meshes: parts.map((part) => whole.meshes[whole.nodes[part]!.mesh]!),
  }
}
const refined = (mesh: Mesh, levels: number, uvMode: (typeof UV_MODES)[number] = 'boundaries'): Mesh =>
  subdivideMesh(mesh, { levels, uvMode, sharpCorners: false })
/** Points as they are, refined without smoothing. */
function linear(mesh: Mesh, levels: number): Mesh {
  const sharp = { ...mesh, creases: { edgePoints: edgesOfAll(mesh), edgeSharpness: new Float64Array(edgesOfAll(mesh).length / 2).fill(10), cornerPoints: Uint32Array.from({ length: pointCountOf(mesh) }, (_p, at) => at), cornerSharpness: new Float64Array(pointCountOf(mesh)).fill(10) } } // prettier-ignore
  return { ...refined(sharp, levels, 'all'), creases: null }
}
function edgesOfAll(mesh: Mesh): Uint32Array {
  const seen = new Set<string>()
  const edges: number[] = []
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const corners = [...mesh.faceVertices.subarray(mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!)]
    corners.forEach((a, at) => {
      const b = corners[(at + 1) % corners.length]!
      const key = `${Math.min(a, b)} ${Math.max(a, b)}`
      if (!seen.has(key)) edges.push(a, b)
      seen.add(key)
    })
  }
  return Uint32Array.from(edges)
}

describe.each([1, 2, 3])('%d levels', (levels) => {
  test('the cage is found again, polygon for polygon, from any numbering', () => {
    for (const mesh of [...heron.meshes.slice(0, 4), cubeOf(), gridOf(5, 3)]) {
      const cage = findCage(mesh, renumberMesh(refined(mesh, levels), 7))!
      expect([cage.levels, faceCountOf(cage.mesh), pointCountOf(cage.mesh)]).toEqual([
        levels,
        faceCountOf(mesh),
        pointCountOf(mesh),
      ])
    }
  })
})

/** Through the whole way in: what the ledger says of each part, by trait. */
function came(master: Scene, change: (mesh: Mesh, at: number) => Mesh) {
  const returned: Scene = {
    ...master,
    meshes: master.meshes.map((mesh, at) => ({ ...change(mesh, at), id: '' })),
  }
  const recognised = recogniseReturn(master, returned, { undoWhole: true })
  const ledger = compareScenes(master, recognised.returned, () => {}, recognised.matching)
  expectAsBefore(tellRecognised(master, recognised))
  return { ...recognised, ledger }
}
const grown = (mesh: Mesh, factor: number): Mesh => ({
  ...mesh,
  points: mesh.points.map((value) => value * factor),
})

test.each(UV_MODES)('subdivided and not touched, UVs refined by “%s”: nothing has changed', (uvMode) => {
  const { ledger, findings, undone } = came(heron, (mesh, at) =>
    grown(
      renumberMesh(
        {
          ...refined(mesh, 2, uvMode),
          creases: null,
          smoothing: mesh.smoothing && refined(mesh, 2).smoothing,
        },
        at + 3,
      ),
      100,
    ),
  )
  expect(undone!.factor).toBe(100)
  expect(findings.map(({ code }) => code)).toEqual(['return.subdivided'])
  for (const { name, cells } of ledger.rows) {
    expect([name, cells.topology!.note]).toEqual([name, 'subdivided'])
    for (const trait of ['points', 'uvs', 'materials', 'groups', 'smoothing'] as const)
      expect([name, trait, cells[trait]!.state]).toEqual([name, trait, expect.stringMatching(/same|within/)])
  }
})

test('refined without smoothing, and by way of creases: told apart, and nothing has moved', () => {
  const creased = { ...heron, meshes: [{ ...heron.meshes[0]!, creases: { edgePoints: edgesOfAll(heron.meshes[0]!).slice(0, 160), edgeSharpness: new Float64Array(80).fill(2.5), cornerPoints: new Uint32Array(0), cornerSharpness: new Float64Array(0) } }, ...heron.meshes.slice(1)] } // prettier-ignore
  for (const [master, change, said] of [
    [heron, (mesh: Mesh) => linear(mesh, 1), 'without smoothing'],
    [creased, (mesh: Mesh) => ({ ...refined(mesh, 2), creases: null }), 'smoothly with its creases'],
    [creased, (mesh: Mesh) => refined({ ...mesh, creases: null }, 2), 'smoothly'],
  ] as const) {
    const { ledger, findings } = came(master, change)
    expect(findings[0]!.parameters.scheme).toBe(said)
    for (const { name, cells } of ledger.rows)
      expect([name, cells.points!.state]).toEqual([name, expect.stringMatching(/same|within/)])
  }
})

/** A polygon's diagonals, any of the two of a quad. */
function cutAnyhow(mesh: Mesh, chance: () => number): Mesh {
  const corners: number[] = []
  const faces: number[] = []
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const [start, end] = [mesh.faceOffsets[face]!, mesh.faceOffsets[face + 1]!]
    const turn = Math.floor(chance() * (end - start))
    const at = (step: number): number => start + ((step + turn) % (end - start))
    for (let step = 1; step + 1 < end - start; step++) {
      corners.push(at(0), at(step), at(step + 1))
      faces.push(face)
    }
  }
  return rebuildMesh(mesh, {
    pointSources: plainSources(Int32Array.from({ length: pointCountOf(mesh) }, (_point, at) => at)),
    faceOffsets: Uint32Array.from({ length: faces.length + 1 }, (_offset, at) => 3 * at),
    faceVertices: Uint32Array.from(corners, (corner) => mesh.faceVertices[corner]!),
    cornerSources: plainSources(Int32Array.from(corners)),
    faceSources: Int32Array.from(faces),
  })
}
/** Triangles into four each, as many times, by the rule of Loop or by halving edges; UVs halved with them. */
function loopRefined(mesh: Mesh, levels: number, smooth: boolean): Mesh {
  const options = { levels: 1, smooth, sharpCorners: false }
  let current = mesh
  for (let level = 0; level < levels; level++) {
    const { points, triangles } = subdivideLoop(current.points, current.faceVertices, options)
    const faceSources = Int32Array.from({ length: triangles.length / 3 }, (_face, at) => at >> 2)
    // corners of a child: at a point of the coarser triangle, or half way to the next
    const first: number[] = []
    const second: number[] = []
    for (let face = 0; face < faceCountOf(current); face++)
      for (const [a, b] of [
        [0, 0],
        [0, 1],
        [2, 0],
        [1, 1],
        [1, 2],
        [0, 1],
        [2, 2],
        [2, 0],
        [1, 2],
        [0, 1],
        [1, 2],
        [2, 0],
      ]) {
        // prettier-ignore
        first.push(3 * face + a!)
        second.push(a === b ? -1 : 3 * face + b!)
      }
    current = rebuildMesh(
      { ...current, creases: null, normals: null },
      {
        points,
        pointSources: plainSources(Int32Array.from({ length: points.length / 3 }, (_p, at) => Math.min(at, pointCountOf(current) - 1))), // prettier-ignore
        faceOffsets: Uint32Array.from({ length: triangles.length / 3 + 1 }, (_offset, at) => 3 * at),
        faceVertices: triangles,
        cornerSources: { first: Int32Array.from(first), second: Int32Array.from(second), share: new Float64Array(first.length).fill(0.5) }, // prettier-ignore
        faceSources,
      },
    )
  }
  return current
}

describe.each([1, 2])('%d levels, and in triangles', (levels) => {
  const told = (levels: number): unknown => expect.objectContaining({ code: 'return.subdivided', parameters: expect.objectContaining({ count: levels }) }) // prettier-ignore
  test('cut along any diagonals after it was refined: nothing has moved, and all is put together', () => {
    const chance = chanceOf(levels)
    const { ledger, findings, undone } = came(heron, (mesh, at) =>
      grown(renumberMesh(cutAnyhow(refined(mesh, levels), chance), at), 100),
    )
    expect(undone!.factor).toBe(100)
    expect(findings).toEqual([told(levels)])
    for (const { name, cells } of ledger.rows)
      for (const trait of ['points', 'uvs', 'materials', 'groups'] as const)
        expect([name, trait, cells[trait]!.state]).toEqual([
          name,
          trait,
          expect.stringMatching(/same|within/),
        ])
  })
  test.each([true, false])('cut first and its triangles refined, smoothly: %s', (smooth) => {
    const chance = chanceOf(levels)
    const { ledger, findings } = came(heron, (mesh, at) =>
      renumberMesh(loopRefined(cutAnyhow(mesh, chance), levels, smooth), at),
    )
    expect(findings).toEqual([told(levels)])
    for (const { name, cells } of ledger.rows)
      for (const trait of ['points', 'uvs', 'materials', 'groups'] as const)
        expect([name, trait, cells[trait]!.state]).toEqual([
          name,
          trait,
          expect.stringMatching(/same|within/),
        ])
  })
  test('sculpted meanwhile: what moved is what was moved', () => {
    const chance = chanceOf(levels)
    const bump = (mesh: Mesh): Mesh => ({
      ...mesh,
      points: mesh.points.map((value, at) =>
        at % 3 === 1 && mesh.points[at - 1]! > 0 ? value + 0.7 : value,
      ),
    })
    for (const change of [
      (mesh: Mesh) => cutAnyhow(refined(mesh, levels), chance),
      (mesh: Mesh) => loopRefined(cutAnyhow(mesh, chance), levels, true),
    ]) {
      const { ledger, returned, matching } = came(heron, (mesh, at) => renumberMesh(bump(change(mesh)), at))
      expect(ledger.rows[0]!.cells.points!.deviation).toBeCloseTo(0.7, 6)
      const { scene } = reconcile(heron, returned, { take: ['points'] }, () => {}, matching)
      const [before, after] = [fingerprintScene(heron), fingerprintScene(scene)]
      expect(TRAITS.filter((trait) => before[trait] !== after[trait])).toEqual(['points'])
    }
  })
})

test('sculpted between refining and returning: only what moved has changed, by what it moved', () => {
  const middle = heron.meshes[0]!.points.subarray(0, 3)
  const bump = (mesh: Mesh): Mesh => ({
    ...mesh,
    points: mesh.points.map((value, at) => {
      const point = 3 * Math.floor(at / 3)
      const away = Math.hypot(...[0, 1, 2].map((axis) => mesh.points[point + axis]! - middle[axis]!))
      return at % 3 === 1 && away < 6 ? value + 0.5 : value
    }),
  })
  const { ledger, returned, matching } = came(heron, (mesh, at) => renumberMesh(bump(refined(mesh, 2)), at))
  const body = ledger.rows[0]!.cells.points!
  expect([body.note, Number(body.deviation!.toFixed(6))]).toEqual(['points-moved', 0.5])
  expect(body.changedCount).toBeLessThan(body.totalCount)
  const { scene } = reconcile(heron, returned, { take: ['points'] }, () => {}, matching)
  const [before, after] = [fingerprintScene(heron), fingerprintScene(scene)]
  expect(TRAITS.filter((trait) => before[trait] !== after[trait])).toEqual(['points'])
})

test('corners that had no UVs keep those that came, where others are taken back to before they were refined', () => {
  const plain = gridOf(12, 10)
  // bent, so that refining moves them everywhere
  const set = { ...plain.uvSets[0]!, values: plain.uvSets[0]!.values.map((value, at, all) => value + 0.04 * Math.sin(9 * all[at ^ 1]!)) } // prettier-ignore
  const full = { ...plain, uvSets: [set] }
  const gap = 4 * 55
  const beside = new Set(full.faceVertices.subarray(gap, gap + 4))
  const indices = set.indices.map((uv, corner) => (corner >= gap && corner < gap + 4 ? -1 : uv))
  const master = sceneOf([{ ...full, uvSets: [{ ...set, indices }] }])
  const { matching } = came(master, () => refined(full, 1, 'all'))
  const [{ correspondence, returned: mesh }] = matching.matched as [(typeof matching.matched)[0]]
  const [there] = mesh.uvSets
  full.faceVertices.forEach((point, corner) => {
    const other = correspondence.cornerToReturned[corner]!
    const uvOf = (own: UvSet, at: number): number[] => [0, 1].map((axis) => own.values[2 * own.indices[at]! + axis]!) // prettier-ignore
    const [own, its] = [uvOf(set, corner), uvOf(there!, other)]
    const off = Math.hypot(own[0]! - its[0]!, own[1]! - its[1]!)
    // what lies at the gap is refined otherwise with it than without
    if (beside.has(point)) expect([corner, off < 0.05]).toEqual([corner, true])
    else expect([corner, off < 1e-9]).toEqual([corner, true])
  })
  expect(mesh.faceVertices.length).toBe(full.faceVertices.length)
})

test('split at its seams it is joined for that', () => {
  const { ledger } = came(heron, (mesh, at) => renumberMesh(splitCorners(refined(mesh, 1)), at))
  for (const { name, cells } of ledger.rows)
    expect([name, cells.topology!.note, cells.points!.state]).toEqual([
      name,
      'subdivided',
      expect.stringMatching(/same|within/),
    ])
})

test('a ring of quads that could be refined from any of four: its UVs tell, or the order of its points', () => {
  const ring = (around: number, across: number, uvs: boolean): Mesh => {
    const at = (i: number, j: number): number => (i % around) * across + (j % across)
    const points: [number, number, number][] = []
    const faces: number[][] = []
    const values: number[] = []
    for (let i = 0; i < around; i++)
      for (let j = 0; j < across; j++) {
        const [a, b] = [(2 * Math.PI * i) / around, (2 * Math.PI * j) / across]
        points.push([(4 + Math.cos(b)) * Math.cos(a), Math.sin(b), (4 + Math.cos(b)) * Math.sin(a)])
        faces.push([at(i, j), at(i, j + 1), at(i + 1, j + 1), at(i + 1, j)])
        for (const [x, y] of [[i, j], [i, j + 1], [i + 1, j + 1], [i + 1, j]] as const) values.push(x / around, y / across) // prettier-ignore
      }
    return meshOf(points, faces, uvs ? { uvSets: [{ name: 'uv', values: Float64Array.from(values), indices: Int32Array.from({ length: 4 * faces.length }, (_c, corner) => corner), depths: null }] } : {}) // prettier-ignore
  }
  const mapped = sceneOf([ring(12, 8, true)])
  const renumbered = came(mapped, (mesh) => renumberMesh(refined(mesh, 1, 'all'), 5))
  expect(renumbered.ledger.rows[0]!.cells.points!.state).toMatch(/same|within/)
  const bare = sceneOf([ring(12, 8, false)])
  expect(came(bare, (mesh) => refined(mesh, 2)).ledger.rows[0]!.cells.points!.state).toMatch(/same|within/)
  // without either, where they lie; where that doesn't tell as well, it is a guess
  for (const levels of [1, 2]) {
    const inPlace = came(bare, (mesh) => renumberMesh(refined(mesh, levels), 5)).ledger.rows[0]!.cells
    expect([inPlace.points!.state, inPlace.topology!.note]).toEqual([expect.stringMatching(/same|within/), 'subdivided']) // prettier-ignore
    const away = came(bare, (mesh) => transformMesh(renumberMesh(refined(mesh, levels), 5), turnedAbout([0, 1, 0.2], 33))) // prettier-ignore
    expect(away.ledger.rows[0]!.cells.points!.state).toBe('guess')
  }
})

describe('reference values of a published library for subdivision surfaces, in other numberings', () => {
  // tests/reference/subdivision/README.md names the library, its version and its options
  const folder = join(import.meta.dirname, '../../../../tests/reference/subdivision')
  interface Level {
    readonly positions: readonly Point[]
    readonly faces: readonly (readonly number[])[]
  }
  // chaikin: creases fade by another rule there, which Kelbo's own refining does not know
  const files = readdirSync(folder).filter((name) => name.endsWith('.json') && !name.includes('chaikin'))
  test.each(files)('%s', (name) => {
    const { base, levels } = JSON.parse(readFileSync(join(folder, name), 'utf8')) as {
      readonly base: Level & {
        readonly creases: readonly [number, number, number][]
        readonly corners: readonly [number, number][]
      }
      readonly levels: readonly Level[]
    }
    const master = sceneOf([
      meshOf(base.positions, base.faces, {
        creases: {
          edgePoints: Uint32Array.from(base.creases.flatMap(([a, b]) => [a, b])),
          edgeSharpness: Float64Array.from(base.creases, ([, , sharpness]) => sharpness),
          cornerPoints: Uint32Array.from(base.corners, ([point]) => point),
          cornerSharpness: Float64Array.from(base.corners, ([, sharpness]) => sharpness),
        },
      }),
    ])
    levels.forEach(({ positions, faces }, at) => {
      const { ledger, findings } = came(master, () => renumberMesh(meshOf(positions, faces), 9 + at))
      expect(findings[0]!.parameters.count).toBe(at + 1)
      const { points } = ledger.rows[0]!.cells
      // the reference has twelve digits
      expect(points!.deviation).toBeLessThan(1e-8)
    })
  })
})

test('what is no refinement of the master is none', () => {
  const chance = chanceOf(4)
  const mesh = heron.meshes[0]!
  const other = refined(heron.meshes[2]!, 1)
  expect(findCage(mesh, other)).toBeNull()
  expect(findCage(mesh, mesh)).toBeNull()
  // as many polygons, one of them turned round a corner
  const fine = refined(mesh, 1)
  const faceVertices = fine.faceVertices.slice()
  const face = 4 * Math.floor(chance() * faceCountOf(fine))
  ;[faceVertices[face], faceVertices[face + 2]] = [faceVertices[face + 1]!, faceVertices[face]!]
  expect(findCage(mesh, { ...fine, faceVertices })).toBeNull()
  expect(
    findCage({ ...mesh, faceOffsets: Uint32Array.of(0), faceVertices: new Uint32Array(0) }, fine),
  ).toBeNull()
})
