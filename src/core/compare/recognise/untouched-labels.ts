/** Materials, groups and smoothing that nobody touched: by what polygons are called they say which is which. */
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import type { Correspondence } from '../match/correspondence.ts'
import type { MatchedPart } from '../traits/trait.ts'

/** Share of the polygons that may have another label in all for one to count as untouched. */
const UNTOUCHED = 0.1
/** Share of the polygons that may be gone where none has another label. */
const MOST_GONE = 0.5
/** What polygons are called by, one number a face; null where a mesh has nothing of it. */
type Labels = Int32Array | null

/** Numbers of names and values, the same on both sides. */
type Numbers = Map<string | number, number>

const numberOf = (numbers: Numbers, label: string | number): number => {
  const known = numbers.get(label) ?? numbers.size
  numbers.set(label, known)
  return known
}

/** One a face, by what each of few values is called. */
function named(
  faces: Int32Array | Uint32Array,
  numbers: Numbers,
  nameOf: (value: number) => string | number,
): Int32Array {
  const known = new Map<number, number>()
  const labels = new Int32Array(faces.length)
  let [last, lastNumber] = [NaN, 0]
  for (let face = 0; face < faces.length; face++) {
    const value = faces[face]!
    // most are what the one before them is
    if (value !== last) {
      const number = known.get(value) ?? numberOf(numbers, nameOf(value))
      known.set(value, number)
      last = value
      lastNumber = number
    }
    labels[face] = lastNumber
  }
  return labels
}

const KINDS: readonly ((scene: Scene, mesh: Mesh, numbers: Numbers) => Labels)[] = [
  ({ materials }, { faceMaterials }, numbers) =>
    faceMaterials && named(faceMaterials, numbers, (at) => materials[at]?.name ?? ''),
  (_scene, { groups }, numbers) =>
    groups &&
    named(groups.faceSets, numbers, (set) => (set < 0 ? '' : groups.sets[set]!.map((at) => groups.names[at]!).sort().join('\n'))), // prettier-ignore
  (_scene, { smoothing }, numbers) =>
    smoothing?.kind === 'groups'
      ? named(smoothing.faceGroups, numbers, (value) => value)
      : smoothing?.kind === 'masks'
        ? named(smoothing.faceMasks, numbers, (value) => value)
        : null,
]

function countsOf(labels: Int32Array, numbers: Numbers): Float64Array {
  const counts = new Float64Array(numbers.size)
  for (let face = 0; face < labels.length; face++) counts[labels[face]!]!++
  return counts
}

/** Whether about as many have each label, of those of which there are several; shares, as polygons may have been cut. */
function isUntouched(own: Labels, other: Labels, numbers: Numbers): boolean {
  if (!own || !other || own.length === 0 || other.length === 0 || numbers.size < 2) return false
  const [before, after] = [countsOf(own, numbers), countsOf(other, numbers)]
  if (before.filter((count) => count > 0).length < 2) return false
  // polygons were deleted, and no other has another label
  if (after.every((count, label) => count <= before[label]!) && other.length >= own.length * (1 - MOST_GONE)) return true // prettier-ignore
  const differing = before.reduce((sum, count, label) => sum + Math.abs(count / own.length - after[label]! / other.length), 0) // prettier-ignore
  return differing <= 2 * UNTOUCHED
}

/** What polygons of the master, and what those that came back are called, one number a face. */
export type LabelPair = readonly [own: Int32Array, came: Int32Array]

/** Polygons of the master that are labelled otherwise where they are said to have come to lie. */
export function wrongIn(
  pairs: readonly LabelPair[],
  { faceToReturned }: Pick<Correspondence, 'faceToReturned'>,
): number {
  if (pairs.length === 0) return 0
  const isWrong = new Uint8Array(faceToReturned.length)
  let wrong = 0
  for (const [own, came] of pairs)
    for (let face = 0; face < faceToReturned.length; face++) {
      const other = faceToReturned[face]!
      if (other < 0 || own[face] === came[other] || isWrong[face]) continue
      isWrong[face] = 1
      wrong++
    }
  return wrong
}

/** What polygons of both sides are called that nobody touched. */
export const untouchedLabels = (
  masterScene: Scene,
  returnedScene: Scene,
  { master, returned }: MatchedPart,
): LabelPair[] =>
  KINDS.flatMap((kind) => {
    const numbers: Numbers = new Map()
    const own = kind(masterScene, master, numbers)
    // where all are called the same nothing is told apart by it
    const came = numbers.size > 1 ? kind(returnedScene, returned, numbers) : null
    return own && came && isUntouched(own, came, numbers) ? [[own, came] as const] : []
  })
