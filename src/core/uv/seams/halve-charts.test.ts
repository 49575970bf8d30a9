import { describe, expect, test } from 'vitest'
import { createMeshFacts } from '../../mesh/relations/mesh-facts.ts'
import { EMPTY_MESH, type Mesh } from '../../scene/mesh.ts'
import { howMany } from '../../../../tests/how-many.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { isSound } from '../flatten/flatten-net.ts'
import { layFaces } from '../islands/lay-faces.ts'
import { joints } from './chart-graph.ts'
import { findCharts, seamCosts } from './find-charts.ts'
import { halveCharts } from './halve-charts.ts'

type Place = readonly [number, number, number]

interface Line {
  readonly count: number
  /** Where a share of its length and of its width lie. */
  readonly at: (share: number, side: number) => Place
}

/** Strips of quads, three of them wide. */
function strips(lines: readonly Line[]): Mesh {
  const across = 3
  const points: number[] = []
  const faceVertices: number[] = []
  for (const { count, at } of lines) {
    const first = points.length / 3
    for (let k = 0; k <= count; k++)
      for (let j = 0; j <= across; j++) points.push(...at(k / count, j / across))
    for (let k = 0; k < count; k++)
      for (let j = 0; j < across; j++) {
        const a = first + k * (across + 1) + j
        faceVertices.push(a, a + across + 1, a + across + 2, a + 1)
      }
  }
  return {
    ...EMPTY_MESH,
    name: 'strips',
    points: Float64Array.from(points),
    faceVertices: Uint32Array.from(faceVertices),
    faceOffsets: Uint32Array.from({ length: faceVertices.length / 4 + 1 }, (_none, face) => 4 * face),
  }
}

/** Part of a ring of a radius of 10 and a width of 1. */
const arc =
  (turn: number) =>
  (share: number, side: number): Place => {
    const [radius, angle] = [9.5 + side, turn * (share - 0.5)]
    return [radius * Math.sin(angle), radius * Math.cos(angle), 0]
  }
const straight =
  (length: number, width: number, y: number) =>
  (share: number, side: number): Place => [length * share, y + width * side, 0]

interface Found {
  readonly charts: Int32Array
  readonly count: number
  /** Length of all borders between charts. */
  readonly cut: number
}

/** Charts as they are found, cut where they sprawl. */
function found(mesh: Mesh, halves = true): Found {
  const facts = createMeshFacts(mesh)
  const pairs = joints(facts)
  const { edgeCount, edgePoints } = facts.edges()
  const { faceCharts: charts, chartCount: count } = findCharts(facts, {
    distortion: 0.06,
    isBarrier: new Uint8Array(edgeCount),
    costs: seamCosts(facts, pairs, null),
    halves,
  })
  let cut = 0
  for (let edge = 0; edge < edgeCount; edge++) {
    const [a, b] = [pairs[2 * edge]!, pairs[2 * edge + 1]!]
    if (a < 0 || charts[a] === charts[b]) continue
    const [p, q] = [3 * edgePoints[2 * edge]!, 3 * edgePoints[2 * edge + 1]!]
    cut += Math.hypot(...[0, 1, 2].map((axis) => mesh.points[p + axis]! - mesh.points[q + axis]!))
  }
  return { charts, count, cut }
}

const facesOf = (charts: Int32Array, chart: number): number[] =>
  [...charts].flatMap((own, face) => (own === chart ? [face] : []))

const area = (charts: Int32Array, chart: number): number => facesOf(charts, chart).length / charts.length

describe('charts that sprawl', () => {
  test('a hook is cut across, evenly, into few pieces', () => {
    for (const turn of [1.2, 1.6, 1.9]) {
      const mesh = strips([{ count: 120, at: arc(Math.PI * turn) }])
      expect(found(mesh, false).count).toBe(1)
      const { charts, count, cut } = found(mesh)
      expect(count).toBeGreaterThan(1)
      expect(count).toBeLessThanOrEqual(6)
      // each cut at right angles: as long as the strip is wide
      expect(cut).toBeCloseTo(count - 1, 6)
      for (let chart = 0; chart < count; chart++) {
        const faces = facesOf(charts, chart)
        // in one piece, none of them a splinter
        expect(Math.max(...faces) - Math.min(...faces)).toBe(faces.length - 1)
        expect(area(charts, chart)).toBeGreaterThan(0.06)
      }
    }
  })
  test('straight strips, wide ones, small ones and those of a few polygons stay whole', () => {
    expect(found(strips([{ count: 60, at: straight(60, 1, 0) }])).count).toBe(1)
    expect(found(strips([{ count: 20, at: straight(20, 9, 0) }])).count).toBe(1)
    // bent a little
    expect(found(strips([{ count: 60, at: arc(0.3) }])).count).toBe(1)
    const hook = arc(Math.PI * 1.2)
    // six polygons
    expect(found(strips([{ count: 2, at: hook }])).count).toBe(1)
    // beside a surface a thousand times as large
    const beside = strips([
      { count: 60, at: hook },
      { count: 30, at: straight(200, 200, 40) },
    ])
    expect(found(beside).count).toBe(2)
  })
  test('a closed ring is left to be opened', () => {
    const ring = strips([{ count: 60, at: arc(2 * Math.PI) }])
    // its last points are its first
    const faceVertices = ring.faceVertices.map((point) => (point >= 240 ? point - 240 : point))
    const closed = { ...ring, points: ring.points.slice(0, 3 * 240), faceVertices }
    const facts = createMeshFacts(closed)
    const whole = new Int32Array(facts.faceCount)
    const { edgeCount } = facts.edges()
    expect(halveCharts(facts, joints(facts), whole, 1, new Uint8Array(edgeCount), 0.06)).toEqual([0])
    expect(whole.every((chart) => chart === 0)).toBe(true)
    // the same but for one row is a hook
    const open = {
      ...closed,
      faceOffsets: closed.faceOffsets.slice(0, -3),
      faceVertices: closed.faceVertices.slice(0, -12),
    }
    const hook = createMeshFacts(open)
    const charts = new Int32Array(hook.faceCount)
    const origins = halveCharts(hook, joints(hook), charts, 1, new Uint8Array(hook.edges().edgeCount), 0.06)
    expect(origins.length).toBeGreaterThan(1)
    expect(origins.every((origin) => origin === 0)).toBe(true)
    expect(Math.max(...charts)).toBe(origins.length - 1)
  })
  test('faces that take no part stay out, and seams that are there stay', () => {
    const mesh = strips([{ count: 60, at: arc(Math.PI * 1.2) }])
    const facts = createMeshFacts(mesh)
    const pairs = joints(facts)
    const { edgeCount } = facts.edges()
    const isOwn = Uint8Array.from({ length: facts.faceCount }, (_none, face) => Number(face >= 30))
    // a seam along its whole length: two strips, each cut by itself
    const isBarrier = Uint8Array.from({ length: edgeCount }, (_none, edge) => {
      const [a, b] = [pairs[2 * edge]!, pairs[2 * edge + 1]!]
      return Number(a >= 0 && Math.min(a, b) % 3 === 0 && Math.abs(a - b) === 1)
    })
    const { faceCharts } = findCharts(facts, {
      distortion: 0.06,
      isBarrier,
      costs: seamCosts(facts, pairs, null),
      halves: true,
      isOwn,
    })
    expect([...faceCharts.subarray(0, 30)].every((chart) => chart === -1)).toBe(true)
    const inner = new Set([...faceCharts].filter((_chart, face) => face >= 30 && face % 3 === 0))
    const outer = new Set([...faceCharts].filter((_chart, face) => face >= 30 && face % 3 !== 0))
    expect(inner.size).toBeGreaterThan(1)
    expect(outer.size).toBeGreaterThan(1)
    expect([...inner].some((chart) => outer.has(chart))).toBe(false)
  })
  test('both sides of a part that is its own mirror image are cut alike', () => {
    const hook = (mirrored: number): Line => ({
      count: 60,
      at: (share, side) => {
        // rising from one end to the other
        const [x, y, z] = arc(Math.PI * 1.3)(share, side)
        return [mirrored * (x + 14 + 2 * share), y, z + 3 * share]
      },
    })
    const { charts, count } = found(strips([hook(1), hook(-1)]))
    expect(count).toBeGreaterThanOrEqual(4)
    const cutAt = (first: number): number[] =>
      Array.from({ length: 177 }, (_none, at) => first + at).flatMap((face) =>
        charts[face] === charts[face + 3] ? [] : [face - first],
      )
    expect(cutAt(0).length).toBe(3 * (count / 2 - 1))
    expect(cutAt(180)).toEqual(cutAt(0))
  })
  test('any hooks and waves: pieces are charts in one piece, and all of them lie flat', () => {
    for (let seed = 1; seed <= howMany(6, 200); seed++) {
      const chance = chanceOf(seed)
      const lines = Array.from({ length: 1 + Math.floor(3 * chance()) }, (_none, number): Line => {
        const [turn, waves, high, wide] = [
          7 * chance() - 3,
          Math.floor(4 * chance()),
          3 * chance(),
          0.3 + chance(),
        ]
        return {
          count: 10 + Math.floor(60 * chance()),
          at: (share, side) => {
            const [angle, radius] = [turn * share, 8 + wide * side + high * Math.sin(waves * Math.PI * share)]
            return [
              30 * number + radius * Math.cos(angle),
              radius * Math.sin(angle),
              4 * chance() * 1e-3 + share,
            ]
          },
        }
      })
      const mesh = strips(lines)
      const [whole, cut] = [found(mesh, false), found(mesh)]
      expect(cut.count).toBeGreaterThanOrEqual(whole.count)
      expect(cut.charts.every((chart) => chart >= 0 && chart < cut.count)).toBe(true)
      const facts = createMeshFacts(mesh)
      const { islands } = layFaces(facts, null, null, null, {
        method: 'leastDistortion',
        distortion: 0.06,
        rounds: 60,
        halves: true,
      })
      expect(islands.reduce((sum, { net }) => sum + net.faces.length, 0)).toBe(facts.faceCount)
      for (const { net, flat } of islands) {
        expect(net.loops.length).toBe(1)
        expect(isSound(net, flat)).toBe(true)
      }
    }
  })
})
