/** A made return held against its truth: which point is which, and what nobody touched. */
import { compareScenes } from '../../src/core/compare/compare-scenes.ts'
import type { SceneMatching } from '../../src/core/compare/match-scenes.ts'
import { recogniseReturn } from '../../src/core/compare/recognise/recognise-return.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import { readText } from '../meshes.ts'
import { textOf, type Polygon } from './file-part.ts'
import type { DoneName, FileReturn } from './make-return.ts'

export interface Held {
  readonly right: number
  readonly undecided: number
  readonly faults: readonly string[]
}

const WHOLE: readonly DoneName[] = ['sized', 'turned', 'mirrored', 'spun', 'shifted']

type Trait = 'materials' | 'groups' | 'uvs'
/** What touches a trait of any polygon at all. */
const TOUCHING: Readonly<Record<Trait, readonly DoneName[]>> = {
  materials: ['painted', 'materialsRenamed'],
  groups: ['ungrouped'],
  uvs: ['laidAnew', 'rounded', 'withoutUvs'],
}

/** Whether a polygon that came back has another material or group than the one that it was. */
const isOther: Readonly<Record<Exclude<Trait, 'uvs'>, (own: Polygon, came: Polygon) => boolean>> = {
  materials: (own, came) => own.material !== came.material,
  groups: (own, came) => own.group !== came.group,
}

/** What is called changed that nobody touched, and what is called the same that is not. */
function saidOf(
  own: Scene,
  returned: Scene,
  matching: SceneMatching,
  { master, came, faults }: FileReturn,
): string[] {
  const pieces = new Map<string, Polygon[]>()
  for (const polygon of came.flatMap(({ polygons }) => polygons))
    if (polygon.of) pieces.set(polygon.of, [...(pieces.get(polygon.of) ?? []), polygon])
  const differs = (name: string, trait: Exclude<Trait, 'uvs'>): boolean =>
    master.find((part) => part.name === name)!.polygons.some((polygon) => pieces.get(polygon.of)?.some((piece) => isOther[trait](polygon, piece))) // prettier-ignore
  const traits = Object.keys(TOUCHING) as Trait[]
  return compareScenes(own, returned, () => {}, matching).rows.flatMap(({ name, match, cells }) =>
    match.masterNode < 0 || match.returnedNode < 0
      ? []
      : traits.flatMap((trait) => {
          const { state, note } = cells[trait]!
          const isTouched = TOUCHING[trait].some((fault) => faults.includes(fault))
          const part = own.nodes[match.masterNode]!.name
          const isWrong =
            (state === 'changed' && !isTouched) ||
            ((state === 'same' || state === 'within') && trait !== 'uvs' && isTouched && differs(part, trait))
          return isWrong ? [`${name}: ${trait} ${state} ${note}`] : []
        }),
  )
}

export function held(made: FileReturn): Held {
  const { master, came, faults, digits } = made
  const own = readText(textOf(master)).scene
  const { matching, returned } = recogniseReturn(own, readText(textOf(came, digits)).scene)
  /** Where each point came to lie; several where it was split. */
  const there = new Map<string, (readonly number[])[]>()
  for (const { ids, places } of came)
    ids.forEach((id, at) => id && there.set(id, [...(there.get(id) ?? []), places[at]!]))
  const size = came
    .flatMap(({ places }) => places.flat())
    .reduce((most, one) => Math.max(most, Math.abs(one)), 1)
  const within = 2 * 10 ** -digits + size * 1e-9
  const isOn = (place: readonly number[], point: Float64Array): boolean =>
    place.every((one, axis) => Math.abs(one - point[axis]!) <= within)
  const told: string[] = []
  let [right, undecided] = [0, 0]
  for (const { match, correspondence, returned: mesh } of matching.matched) {
    const { name } = own.nodes[match.masterNode]!
    const part = master.find((one) => one.name === name)!
    let wrong = 0
    correspondence.pointToReturned.forEach((other, point) => {
      if (other < 0) return undecided++
      const at = mesh.points.subarray(3 * other, 3 * other + 3)
      // one that is gone has none, unless another lies on it
      const places = there.get(part.ids[point]!) ?? [...there.values()].flat()
      if (places.some((place) => isOn(place, at))) right++
      else if (!correspondence.guess) wrong++
      return undefined
    })
    if (wrong) told.push(`${name}: ${wrong} points`)
  }
  told.push(...saidOf(own, returned, matching, made))
  // undone it is said of the same parts
  if (WHOLE.some((fault) => faults.includes(fault))) {
    const undone = recogniseReturn(own, readText(textOf(came, digits)).scene, { undoWhole: true })
    if (undone.undone) told.push(...saidOf(own, undone.returned, undone.matching, made).map((one) => `${one}, undone`)) // prettier-ignore
  }
  return { right, undecided, faults: told }
}

export function heldAll(returns: Iterable<readonly [string, FileReturn]>): {
  share: number
  faults: string[]
} {
  let [right, undecided] = [0, 0]
  const faults: string[] = []
  for (const [name, made] of returns) {
    const found = held(made)
    right += found.right
    undecided += found.undecided
    if (found.faults.length) faults.push(`${name} ${made.faults.join('+')}: ${found.faults.join(', ')}`)
  }
  return { share: undecided / Math.max(1, right + undecided), faults }
}
