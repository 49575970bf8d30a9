/** Where the parts of two scenes stand, so that the same place has the same numbers on both sides. */
import { ALONG_AXES } from '../../base/math/along-axes.ts'
import { diagonalOf, joinBoxes, type Box } from '../../base/math/box.ts'
import { multiplyMatrices, type Matrix } from '../../base/math/matrix.ts'
import { drawnBounds } from '../../scene/mesh-bounds.ts'
import { IDENTITY_MATRIX, type Scene } from '../../scene/scene.ts'
import { spaceMatrix } from '../../scene/space.ts'
import { partNodes, worldMatrices } from '../../scene/world.ts'

type Boxes = ReadonlyMap<number, Box | null>
type Corner = Box['min']

function boxesOf(scene: Scene, toMaster: Matrix): Map<number, Box | null> {
  const worlds = worldMatrices(scene)
  return new Map(
    partNodes(scene).map((node) => [
      node,
      drawnBounds(scene.meshes[scene.nodes[node]!.mesh]!, multiplyMatrices(toMaster, worlds[node]!)),
    ]),
  )
}

/** Boxes as shares of another one's diagonal, from its middle. */
function within(boxes: Boxes, whole: Box): Map<number, Box | null> {
  const size = diagonalOf(whole) || 1
  const corner = (at: Corner): Corner =>
    at.map((value, axis) => (value - (whole.min[axis]! + whole.max[axis]!) / 2) / size) as unknown as Corner
  return new Map(
    [...boxes].map(([node, box]) => [node, box && { min: corner(box.min), max: corner(box.max) }]),
  )
}

function turnBoxes(boxes: Boxes, m: readonly number[]): Map<number, Box | null> {
  const turned = (at: Corner): number[] =>
    [0, 1, 2].map((row) => m[3 * row]! * at[0] + m[3 * row + 1]! * at[1] + m[3 * row + 2]! * at[2])
  return new Map(
    [...boxes].map(([node, box]) => {
      if (!box) return [node, null]
      const [a, b] = [turned(box.min), turned(box.max)]
      return [
        node,
        {
          min: a.map((value, axis) => Math.min(value, b[axis]!)) as unknown as Corner,
          max: a.map((value, axis) => Math.max(value, b[axis]!)) as unknown as Corner,
        },
      ]
    }),
  )
}

/** In diagonals of the whole: so far from where it was a part may stand that was worked on. */
const NEAR_BY = 0.03
/** More pairs than this are not looked at. */
const MOST_PAIRS = 1_000_000

/** How many boxes have one of others near them, corner by corner. */
function countNear(boxes: Boxes, others: Boxes): number {
  if (boxes.size * others.size > MOST_PAIRS) return 0
  const isNear = (a: Corner, b: Corner): boolean =>
    a.every((value, axis) => Math.abs(value - b[axis]!) <= NEAR_BY)
  const all = [...boxes.values()]
  let count = 0
  for (const other of others.values())
    if (other && all.some((box) => box && isNear(box.min, other.min) && isNear(box.max, other.max))) count++
  return count
}

/** Boxes count as one where they have the same numbers to a thousandth of the whole. */
const boxText = (box: Box): string =>
  [...box.min, ...box.max].map((value) => Math.round(value * 1000) + 0).join(' ')

/**
 * The box of each part of both scenes, in diagonals of the whole: as they stand, or with the whole brought to the
 * master's size and place, or turned or mirrored along the axes besides; whichever brings most of them to the same
 * places, the first of those that bring as many. What was added to a scene is no reason for all to stand elsewhere.
 */
export function findPlaces(
  master: Scene,
  returned: Scene,
): { readonly masterPlaces: Boxes; readonly returnedPlaces: Boxes } {
  const own = boxesOf(master, IDENTITY_MATRIX)
  const other = boxesOf(returned, spaceMatrix(returned.space, master.space))
  const ownWhole = [...own.values()].reduce(joinBoxes, null)
  const otherWhole = [...other.values()].reduce(joinBoxes, null)
  if (!ownWhole || !otherWhole) return { masterPlaces: own, returnedPlaces: other }
  const masterPlaces = within(own, ownWhole)
  const known = new Map<string, number>()
  for (const box of masterPlaces.values()) {
    if (box) known.set(boxText(box), (known.get(boxText(box)) ?? 0) + 1)
  }
  const agreeing = (places: Boxes): number => {
    const left = new Map(known)
    let count = 0
    for (const box of places.values()) {
      const times = box ? (left.get(boxText(box)) ?? 0) : 0
      if (times === 0) continue
      left.set(boxText(box!), times - 1)
      count++
    }
    return count
  }
  const asTheyStand = within(other, ownWhole)
  const brought = within(other, otherWhole)
  let best = brought
  let most = agreeing(brought)
  const consider = (places: Boxes, atLeast: number): void => {
    const count = agreeing(places)
    if (count < atLeast) return
    best = places as Map<number, Box | null>
    most = count
  }
  consider(asTheyStand, Math.max(1, most))
  // where all of it moved a little nothing lies in the very same place: what lies near one then tells
  if (most === 0 && countNear(masterPlaces, asTheyStand) > countNear(masterPlaces, brought))
    best = asTheyStand
  if (most < masterPlaces.size / 2)
    for (const turn of ALONG_AXES.slice(1)) consider(turnBoxes(brought, turn), most + 1)
  return { masterPlaces, returnedPlaces: best }
}
