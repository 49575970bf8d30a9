/**
 * Made returns of models that others have made (Debian's assimp-testmodels): symmetrical ones, twins, polygons that were
 * never joined, layouts that stand on several sides alike. What is called certain has to explain what came back at least as
 * well as the truth does: of a symmetrical model nobody can tell more.
 * `SEEDS=12 npx vitest run --project core src/core/compare/recognise/real-returns.test.ts` goes through more of them.
 */
import { readFileSync } from 'node:fs'
import { basename, dirname, join } from 'node:path'
import { Matrix, SingularValueDecomposition } from 'ml-matrix'
import { expect, test } from 'vitest'
import { QUIET } from '../../../app/host.ts'
import { readFiles } from '../../../app/read-files.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { recogniseReturn } from './recognise-return.ts'
import type { MatchedPart } from '../traits/trait.ts'
import { anySceneReturn, flatten, truthOf } from '../../practice/faults/scene-faults.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { NODE_HOST } from '../../../host/node-host.ts'
import { howMany } from '../../../../tests/how-many.ts'
import { expectAsBefore, tellRecognised } from '../../../../tests/core/approved/tell-returns.ts'

const MODELS = '/usr/share/assimp/models'
const FILES: readonly (readonly [path: string, beside: readonly string[]])[] = [
  ['OBJ/spider.obj', ['spider.mtl']],
  ['OBJ/WusonOBJ.obj', []],
  ['FBX/spider.fbx', []],
  ['FBX/cubes_with_names.fbx', []],
  ['FBX/global_settings.fbx', []],
  ['Collada/library_animation_clips.dae', []],
  ['Collada/duck.dae', []],
  ['PLY/Wuson.ply', []],
  ['STL/Spider_ascii.stl', []],
]

function modelAt(path: string, beside: readonly string[]): Scene {
  const folder = join(MODELS, dirname(path))
  const files = [basename(path), ...beside].map((name) => ({
    name,
    bytes: new Uint8Array(readFileSync(join(folder, name))),
  }))
  return flatten(readFiles({ files, options: {} }, QUIET, NODE_HOST).scene)
}

/** What the best similarity leaves between two lists of points, by their spread (Umeyama 1991). */
function leftAfterBest(before: readonly number[], after: readonly number[]): number {
  const count = before.length / 3
  const middleOf = (points: readonly number[]): number[] =>
    [0, 1, 2].map((axis) => points.reduce((sum, value, at) => sum + (at % 3 === axis ? value : 0), 0) / count)
  const [from, to] = [middleOf(before), middleOf(after)]
  const sums = Matrix.zeros(3, 3)
  let [own, other] = [0, 0]
  for (let at = 0; at < before.length; at += 3)
    for (let row = 0; row < 3; row++) {
      const x = before[at + row]! - from[row]!
      own += x * x
      other += (after[at + row]! - to[row]!) ** 2
      for (let column = 0; column < 3; column++)
        sums.set(row, column, sums.get(row, column) + x * (after[at + column]! - to[column]!))
    }
  const total = new SingularValueDecomposition(sums).diagonal.reduce((sum, value) => sum + value, 0)
  return Math.sqrt(Math.max(0, other - (total * total) / Math.max(own, 1e-300)) / Math.max(other, 1e-300))
}

/** The UVs that stand at a place. */
function uvsAt(mesh: Mesh): (point: number) => ReadonlySet<string> {
  const placeOf = (point: number): string =>
    [0, 1, 2].map((axis) => mesh.points[3 * point + axis]!.toPrecision(9)).join()
  const found = new Map<string, Set<string>>()
  const [set] = mesh.uvSets
  mesh.faceVertices.forEach((point, corner) => {
    const uv = set ? set.indices[corner]! : -1
    if (uv < 0) return
    const text = `${set!.values[2 * uv]!.toFixed(5)} ${set!.values[2 * uv + 1]!.toFixed(5)}`
    found.set(placeOf(point), (found.get(placeOf(point)) ?? new Set()).add(text))
  })
  const none = new Set<string>()
  return (point) => found.get(placeOf(point)) ?? none
}

/** Parts of which fewer points say nothing: any three points lie as any others do. */
const LEAST_POINTS = 9
/** How much more than what the truth leaves may be left, and how many fewer UVs kept: what moved explains itself a little. */
const ABOUT = 1.05
const HARDLY_FEWER = 0.995
/** What rounding to four digits leaves: what is symmetrical to that is told from its mirror image by nothing. */
const AS_ROUNDED = 1e-4

/** What is called certain and explains less than the truth; empty where all is well. */
function worse(master: Scene, matched: readonly MatchedPart[]): string {
  const places = { own: [] as number[], claimed: [] as number[], true: [] as number[] }
  const kept = { claimed: 0, true: 0 }
  let wrong = 0
  for (const { match, returned, correspondence } of matched) {
    const part = master.nodes[match.masterNode]!.mesh
    const mesh = master.meshes[part]!
    if (correspondence.guess || mesh.points.length < 3 * LEAST_POINTS) continue
    const truth = truthOf(returned)
    const became = new Map<number, number>()
    for (let point = 0; point < returned.points.length / 3; point++) {
      const from = truth(point)
      if (from?.part === part && !became.has(from.point)) became.set(from.point, point)
    }
    const [before, after] = [uvsAt(mesh), uvsAt(returned)]
    correspondence.pointToReturned.forEach((to, point) => {
      const right = became.get(point)
      if (to < 0 || right === undefined) return
      for (let axis = 0; axis < 3; axis++) {
        places.own.push(mesh.points[3 * point + axis]!)
        places.claimed.push(returned.points[3 * to + axis]!)
        places.true.push(returned.points[3 * right + axis]!)
      }
      if (to !== right) wrong++
      for (const uv of before(point)) {
        if (after(to).has(uv)) kept.claimed++
        if (after(right).has(uv)) kept.true++
      }
    })
  }
  if (wrong === 0) return ''
  const [claimed, right] = [places.claimed, places.true].map((points) => leftAfterBest(places.own, points))
  const isWorse = claimed! > right! * ABOUT + AS_ROUNDED || kept.claimed < kept.true * HARDLY_FEWER
  return isWorse ? `${wrong} points: ${claimed!.toExponential(1)} left beside ${right!.toExponential(1)}, ${kept.claimed} UVs kept beside ${kept.true}` : '' // prettier-ignore
}

test.each(FILES)(
  '%s',
  (path, beside) => {
    const master = modelAt(path, beside)
    const faults: string[] = []
    const runs = howMany(1, 30)
    for (let seed = 1; seed <= runs; seed++) {
      const made = anySceneReturn(master, chanceOf(4000 + seed))
      const recognised = recogniseReturn(master, made.returned, { undoWhole: true })
      const { matching } = recognised
      expectAsBefore(tellRecognised(master, recognised))
      const found = worse(master, matching.matched)
      if (found) faults.push(`${seed} ${made.faults.join('+')}: ${found}`)
    }
    expect(faults).toEqual([])
  },
  60_000 + 20_000 * howMany(1, 30),
)
