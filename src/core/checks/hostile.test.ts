/** Models made to break the checks: each check ends, with a finding where there is a fault. */
import { describe, expect, test } from 'vitest'
import { cubeOf, gridOf, meshOf, sceneOf, sharedUvs, type Point } from '../../../tests/solids.ts'
import { findWelds } from '../mesh/welds/find-welds.ts'
import { EMPTY_MESH, type Mesh } from '../scene/mesh.ts'
import { runStep } from '../steps/run-steps.ts'
import { STEPS } from '../steps/registry.ts'
import { CHECKS } from './registry.ts'
import { createCheckMemory, runChecks } from './run-checks.ts'

const heap = (count: number): Mesh => {
  // three hundred thousand points on one spot, in triangles
  const faceOffsets = Uint32Array.from({ length: count / 3 + 1 }, (_value, at) => 3 * at)
  return {
    ...EMPTY_MESH,
    name: 'heap',
    points: new Float64Array(3 * count).fill(1),
    faceOffsets,
    faceVertices: Uint32Array.from({ length: count }, (_value, at) => at),
  }
}
/** Everything wrong at once: doubled, turned, pinched, broken, without area, with UVs stacked on one place. */
const allFaults = (): Mesh => {
  const grid = gridOf(12, 12, {}, (x, z) => Math.sin(x * z))
  const faces = Array.from({ length: 144 }, (_value, face) => [
    ...grid.faceVertices.subarray(4 * face, 4 * face + 4),
  ])
  faces.push(
    [0, 1, 2, 3],
    [0, 1, 2, 3],
    [3, 2, 1, 0],
    [0, 0, 0],
    [5, 5, 6],
    [7, 100, 7, 100],
    [0, 14, 28, 42, 56, 70],
  )
  faces.push([0, 1, 168], [0, 1, 167], [0, 1, 166])
  const points: Point[] = []
  for (let at = 0; at < grid.points.length; at += 3)
    points.push([grid.points[at]!, grid.points[at + 1]!, grid.points[at + 2]!])
  points[20] = [Infinity, 0, 0]
  points[21] = [NaN, NaN, NaN]
  points[22] = [0, -Infinity, 1e308]
  const corners = faces.flat()
  return meshOf(points, faces, {
    name: '',
    uvSets: [
      sharedUvs(
        [
          [0, 0],
          [1, 0],
          [1, 1],
          [NaN, 0],
          [Infinity, 5],
          [-1e300, 1e300],
        ],
        corners.map((_corner, at) => (at % 7) - 1),
      ),
    ],
    smoothing: { kind: 'groups', faceGroups: Int32Array.from(faces, (_face, at) => (at % 5) - 1) },
    creases: {
      edgePoints: Uint32Array.of(0, 1, 5, 5, 3, 160),
      edgeSharpness: Float64Array.of(3, NaN, Infinity),
      cornerPoints: Uint32Array.of(2),
      cornerSharpness: Float64Array.of(1),
    },
    normals: {
      values: Float64Array.of(0, 0, 0, NaN, 1, 0),
      indices: Int32Array.from(corners, (_corner, at) => (at % 3) - 1),
    },
    faceMaterials: Int32Array.from(faces, () => -1),
  })
}

const SCENES: [string, () => ReturnType<typeof sceneOf>, string][] = [
  ['all faults at once', () => sceneOf([allFaults(), cubeOf()]), 'broken-points'],
  ['an empty part', () => sceneOf([{ ...EMPTY_MESH, name: '' }]), 'broken-points'],
  ['one point', () => sceneOf([{ ...EMPTY_MESH, points: Float64Array.of(1, 2, 3) }]), 'part-names'],
  [
    'infinite coordinates',
    () => sceneOf([cubeOf({ points: new Float64Array(24).fill(Infinity) })]),
    'broken-points',
  ],
  [
    'coordinates at the end of what numbers hold',
    () => sceneOf([cubeOf({ points: cubeOf().points.map((value) => value * 1e300) })]),
    'real-size',
  ],
  ['three hundred thousand points on one spot', () => sceneOf([heap(300000)]), 'unwelded-points'],
  ['no part at all', () => sceneOf([]), ''],
  [
    'islands so far off that numbers tell no steps apart there',
    () => {
      const cube = cubeOf()
      return sceneOf([
        { ...cube, uvSets: cube.uvSets.map((set) => ({ ...set, values: set.values.map((v) => v + 1e18) })) },
      ])
    },
    'outside-tiles',
  ],
]

describe.each(SCENES)('%s', (_name, build, expected) => {
  test('every check ends', () => {
    const findings = runChecks(build(), { settings: { triangleBudget: 10, oneMaterial: true } })
    if (expected) expect(findings.map((finding) => finding.check)).toContain(expected)
    for (const finding of findings) expect(finding.count).toBeGreaterThan(0)
  })
})

test('every step ends on all faults at once, and gives a sound mesh or a refusal in words', () => {
  for (const step of STEPS) {
    const scene = sceneOf([allFaults(), cubeOf()])
    let message = ''
    try {
      const done = runStep(scene, { step: step.id, params: step.id === 'scale-to-size' ? { height: 1 } : {} })
      for (const mesh of done.scene.meshes) {
        const points = mesh.points.length / 3
        expect(mesh.faceVertices.every((point) => point < points)).toBe(true)
        expect(mesh.faceOffsets[mesh.faceOffsets.length - 1]).toBe(mesh.faceVertices.length)
        for (const set of mesh.uvSets) expect(set.indices.length).toBe(mesh.faceVertices.length)
      }
    } catch (error) {
      message = (error as Error).message
      expect([step.id, (error as Error).constructor.name]).toEqual([step.id, 'StepRefusal'])
    }
    expect(message).not.toMatch(/undefined|null/)
  }
})

test('three hundred thousand points on one spot weld to one, and to none where they may not move', () => {
  const target = findWelds(heap(300000).points, 0.5)
  expect(target.every((kept) => kept === 0)).toBe(true)
})

test('ten thousand squares on one place of the tile: the search ends and says it is not complete', () => {
  const mesh = gridOf(110, 110)
  const stacked = {
    ...mesh,
    uvSets: [
      sharedUvs(
        [
          [0, 0],
          [1, 0],
          [1, 1],
          [0, 1],
        ],
        [...mesh.faceVertices].map((_point, at) => at % 4),
      ),
    ],
  }
  const finding = runChecks(sceneOf([stacked]), { checks: ['uv-overlaps'] })[0]!
  expect([finding.check, finding.problem]).toEqual(['uv-overlaps', 'unfinished'])
  expect(finding.count).toBeGreaterThan(1000)
})

test('hidden faces without end: the rays run out and the finding says so', () => {
  // more faces inside a box than the rays are enough for, each hidden from all sides
  const inner = gridOf(165, 165)
  const box = cubeOf({}, 2000, [-900, -1000, -1100])
  const finding = runChecks(sceneOf([inner, box]), { checks: ['hidden-faces'] })[0]!
  expect([finding.check, finding.problem]).toEqual(['hidden-faces', 'unfinished'])
  expect(finding.count).toBeGreaterThan(20000)
})

describe('checks run again only where they must', () => {
  const scene = sceneOf([cubeOf(), gridOf(3, 3), gridOf(4, 4)])
  test('nothing changed: nothing runs', () => {
    const memory = createCheckMemory()
    const first = runChecks(scene, { memory })
    const runs = memory.runs()
    expect(runs).toBeGreaterThan(CHECKS.length)
    expect(runChecks(scene, { memory })).toEqual(first)
    expect(memory.runs()).toBe(runs)
  })
  test('smoothing of one part changed: its shading is looked at again, and nothing of others or of its points', () => {
    const memory = createCheckMemory()
    runChecks(scene, { memory })
    const runs = memory.runs()
    const done = runStep(scene, { step: 'set-shading', params: { mode: 'flat' }, parts: ['part_2'] })
    const again = runChecks(done.scene, { memory })
    const readers = CHECKS.filter((check) =>
      check.scope === 'part'
        ? check.reads.includes('smoothing') || check.reads.includes('normals')
        : check.reads.includes('meshes'),
    )
    expect(memory.runs() - runs).toBe(readers.length)
    expect(again).toEqual(runChecks(done.scene))
  })
})
