/** Ways to bring a model onto another that was turned by any angle, from how their surfaces extend. */
import { ALONG_AXES } from '../../base/math/along-axes.ts'
import { multiplyMatrices, transformPoints, type Matrix } from '../../base/math/matrix.ts'
import { SurfaceMoments } from './moments.ts'
import type { Scene } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import { determinant, similarityMatrix, times, transposed } from './similarity.ts'

/** Axes along which a surface extends to this share of each other may be any two: it is turned about the third by steps. */
const ABOUT_ALIKE = 0.8
/** Steps of a whole turn. */
const STEPS = 24

/** Polygons of some parts, each as a fan. */
export function momentsOf(scene: Scene, nodes: readonly number[], along: Matrix): SurfaceMoments {
  const worlds = worldMatrices(scene)
  const moments = new SurfaceMoments()
  for (const node of nodes) {
    const { points, faceOffsets, faceVertices } = scene.meshes[scene.nodes[node]!.mesh]!
    const there = transformPoints(points, multiplyMatrices(along, worlds[node]!))
    for (let face = 0; face + 1 < faceOffsets.length; face++)
      for (let corner = faceOffsets[face]! + 2; corner < faceOffsets[face + 1]!; corner++)
        moments.addTriangle(
          there,
          faceVertices[faceOffsets[face]!]!,
          faceVertices[corner - 1]!,
          faceVertices[corner]!,
        )
  }
  return moments
}

/** A turn about one of the axes. */
function about(axis: number, angle: number): number[] {
  const [a, b] = [(axis + 1) % 3, (axis + 2) % 3]
  const m = [1, 0, 0, 0, 1, 0, 0, 0, 1]
  m[3 * a + a] = m[3 * b + b] = Math.cos(angle)
  m[3 * b + a] = Math.sin(angle)
  m[3 * a + b] = -Math.sin(angle)
  return m
}

const around = (axis: number, steps: number): number[][] =>
  Array.from({ length: steps }, (_step, at) => about(axis, (2 * Math.PI * at) / steps))

/** Turns within the axes of a surface that leave it looking about as it does: signs, and turns where two extend alike. */
function turnsWithin([first, second, third]: readonly [number, number, number]): number[][] {
  const signs = ALONG_AXES.filter((m) => m[0] !== 0 && m[4] !== 0 && m[8] !== 0).map((m) => [...m])
  const long = second > first * ABOUT_ALIKE
  const short = third > second * ABOUT_ALIKE
  const turns =
    long && short
      ? around(2, STEPS / 2).flatMap((one) => around(0, STEPS / 2).flatMap((two) => around(2, STEPS / 2).map((three) => times(one, times(two, three))))) // prettier-ignore
      : long
        ? around(2, STEPS)
        : short
          ? around(0, STEPS)
          : [about(0, 0)]
  return turns.flatMap((turn) => signs.map((sign) => times(turn, sign)))
}

/**
 * Ways that bring the middle and the size of one surface onto the other's.
 *
 * @returns ways for turns that are given; for null those that bring the axes of the one onto the other's, of a mirror image
 *   or not, the smaller turns first.
 */
export function placeTurns(
  own: SurfaceMoments,
  other: SurfaceMoments,
): (turns: readonly (readonly number[])[] | null, mirrored?: boolean) => Matrix[] {
  const [from, to] = [own.axes(), other.axes()]
  const size = (spread: readonly [number, number, number]): number => Math.hypot(...spread)
  if (!from || !to || !(size(from.spread) > 0) || !(size(to.spread) > 0)) return () => []
  const factor = size(to.spread) / size(from.spread)
  const ontoAxes = (mirrored: boolean): readonly (readonly number[])[] =>
    turnsWithin(from.spread)
      .map((within) => times(transposed(to.axes), times(within, from.axes)))
      .filter((turn) => determinant(turn) < 0 === mirrored)
      .sort((a, b) => trace(b) - trace(a))
  return (turns, mirrored = false) =>
    (turns ?? ontoAxes(mirrored)).map((turn) => {
      const middle = [0, 1, 2].map((row) =>
        [0, 1, 2].reduce((sum, column) => sum + turn[3 * row + column]! * from.middle[column]!, 0),
      )
      const move = to.middle.map((value, axis) => value - factor * middle[axis]!)
      return similarityMatrix({ factor, turn, move: move as [number, number, number] })
    })
}

const trace = (m: readonly number[]): number => m[0]! + m[4]! + m[8]!
