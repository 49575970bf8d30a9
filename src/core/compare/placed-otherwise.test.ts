/**
 * Where a part's size or turn went from its transform into its points, or the other way, it stands where it stood; where its
 * transform was changed, its points are the same. What is symmetrical fits both ways by its places alone: its elements tell.
 */
import { describe, expect, test } from 'vitest'
import { cubeOf, loose, sceneOf, turnedAbout, uvsOf } from '../../../tests/solids.ts'
import { multiplyMatrices, transformPoints, invertAffine, type Matrix } from '../base/math/matrix.ts'
import { computeNormals } from '../mesh/normals/compute-normals.ts'
import type { Mesh } from '../scene/mesh.ts'
import { IDENTITY_MATRIX, type Scene } from '../scene/scene.ts'
import { spaceMatrix } from '../scene/space.ts'
import { compareScenes } from './compare-scenes.ts'
import { recogniseReturn } from './recognise/recognise-return.ts'

/** A cube whose corners all have UVs of their own: none of its sides can be taken for another. */
function cube(): Mesh {
  const plain = { ...cubeOf({}, 1, [-0.5, -0.5, -0.5]), name: 'cube' }
  const uvs = uvsOf([...plain.faceVertices].map((point, corner) => [corner / 30, point / 9] as const))
  const mesh = { ...plain, uvSets: [uvs] }
  return { ...mesh, normals: computeNormals(mesh, null) }
}

const standing = (mesh: Mesh, local: Matrix, space: Scene['space'] = sceneOf([]).space): Scene => {
  const scene = sceneOf([mesh])
  return {
    ...scene,
    format: 'gltf',
    space,
    nodes: scene.nodes.map((node) => (node.mesh >= 0 ? { ...node, local } : node)),
  }
}
const through = (mesh: Mesh, matrix: Matrix): Mesh => {
  const moved = { ...mesh, points: transformPoints(mesh.points, matrix) }
  return { ...moved, normals: computeNormals(moved, null) }
}
type Told = Record<'points' | 'uvs' | 'normals' | 'note', string> & { moved: number }

/** All turns by right angles. */
const TURNS: Matrix[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
].flatMap((axis) => [90, 180, 270].map((degrees) => turnedAbout(axis, degrees)))
/** A bump on one corner. */
const sculpted = (mesh: Mesh): Mesh => ({
  ...mesh,
  points: mesh.points.map((value, at) => (at < 3 ? 1.1 * value : value)),
})
const toldOf = (master: Scene, returned: Scene): Told => {
  const { returned: read, matching } = recogniseReturn(master, returned)
  const { cells } = compareScenes(master, read, undefined, matching).rows[0]!
  return {
    points: cells.points!.state,
    uvs: cells.uvs!.state,
    normals: cells.normals!.state,
    note: cells.transforms!.note,
    moved: cells.points!.changedCount,
  }
}
const UNMOVED = /^(same|within)$/

describe.each(TURNS.map((turn, at) => [at, turn] as const))('a cube and turn %d', (_at, turn) => {
  const mesh = cube()
  const unmoved = (told: Told): void => {
    for (const trait of ['points', 'uvs', 'normals'] as const) expect(told[trait], trait).toMatch(UNMOVED)
  }
  test('that went from its transform into its points', () => {
    const told = toldOf(standing(mesh, turn), standing(through(mesh, turn), IDENTITY_MATRIX))
    unmoved(told)
    expect(told.note).toBe('placed-otherwise')
  })
  test('that went from its points into its transform', () => {
    const told = toldOf(standing(mesh, IDENTITY_MATRIX), standing(through(mesh, invertAffine(turn)!), turn))
    unmoved(told)
    expect(told.note).toBe('placed-otherwise')
  })
  test('that went into its points, cut up into polygons of their own', () => {
    const told = toldOf(standing(mesh, turn), standing(loose(through(mesh, turn)), IDENTITY_MATRIX))
    unmoved(told)
    expect(told.note).toBe('placed-otherwise')
  })
  test('that went into its points, and sculpted', () => {
    const told = toldOf(standing(mesh, turn), standing(through(sculpted(mesh), turn), IDENTITY_MATRIX))
    expect(told).toMatchObject({ points: 'changed', moved: 1, note: 'placed-otherwise' })
  })
  test('by which it was turned, and sculpted', () => {
    const told = toldOf(standing(mesh, IDENTITY_MATRIX), standing(sculpted(mesh), turn))
    expect(told).toMatchObject({ points: 'changed', moved: 1, note: 'moved' })
  })
  test('by which it was turned', () => {
    const told = toldOf(standing(mesh, IDENTITY_MATRIX), standing(mesh, turn))
    unmoved(told)
    expect(told.note).toBe('moved')
  })
  test('in a file with another axis up', () => {
    const up: Scene['space'] = { ...sceneOf([]).space, upAxis: 'z', frontAxis: '-y' }
    const master = standing(mesh, turn)
    const change = spaceMatrix(master.space, up)
    const told = toldOf(master, standing(through(mesh, multiplyMatrices(change, turn)), IDENTITY_MATRIX, up))
    unmoved(told)
    expect(told.note).toBe('placed-otherwise')
  })
})

describe('far from its own origin', () => {
  const far = through(cube(), [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 300, 0, 0, 1])
  const turn = turnedAbout([0, 1, 0], 50)
  const turnedBy = (radians: number): Scene =>
    standing(
      through(far, turn),
      multiplyMatrices(turnedAbout([0, 1, 0], (radians * 180) / Math.PI), IDENTITY_MATRIX),
    )

  test('a turn is told where a transform may not be off by as much', () => {
    // single precision of angles, as many tools keep them: as transforms compared with each other
    const told = toldOf(standing(far, turn), turnedBy(0.9e-6))
    expect(told).toMatchObject({ points: 'within', note: 'placed-otherwise' })
    expect(toldOf(standing(far, turn), turnedBy(1.2e-6))).toMatchObject({ points: 'changed' })
  })
  test('points that moved in place are told as before', () => {
    const moved = { ...far, points: far.points.map((value) => value + 0.6e-6 * 300) }
    expect(toldOf(standing(far, IDENTITY_MATRIX), standing(moved, IDENTITY_MATRIX)).points).toBe('changed')
  })
})
