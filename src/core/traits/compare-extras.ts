/** Colours and shapes: what points carry besides their place. */
import type { Correspondence } from '../match/correspondence.ts'
import { pointCountOf, type ColorSet, type Mesh } from '../scene/mesh.ts'
import { compared, NOTHING, type TraitComparison } from './trait.ts'

/** Colours are 8-bit in many programs; half a step of that would hide real changes, so text noise only. */
export const COLOUR_TOLERANCE = 1e-5

const colorIndex = (set: ColorSet, element: number): number =>
  set.indices.length ? set.indices[element]! : element

export function compareColours(master: Mesh, returned: Mesh, match: Correspondence): TraitComparison {
  const a = master.colorSets[0]
  const b = returned.colorSets[0]
  if (!a) return b ? compared('gained', 'gained') : NOTHING
  if (!b) return compared('lost', 'lost', { totalCount: a.values.length / a.components })
  if (a.per !== b.per || match.kind === 'none') return compared('incomparable', 'not-matched')
  const total = a.per === 'points' ? pointCountOf(master) : master.faceVertices.length
  const map = a.per === 'points' ? match.pointToReturned : match.cornerToReturned
  const changed: number[] = []
  let largest = 0
  for (let element = 0; element < total; element++) {
    const from = colorIndex(a, element)
    const other = map[element]!
    const to = other < 0 ? -2 : colorIndex(b, other)
    if (from < 0 && to === -1) continue
    if (from < 0 || to < 0) {
      changed.push(element)
      continue
    }
    let deviation = 0
    for (let component = 0; component < Math.min(a.components, b.components); component++)
      deviation = Math.max(
        deviation,
        Math.abs(a.values[from * a.components + component]! - b.values[to * b.components + component]!),
      )
    if (deviation > largest) largest = deviation
    if (deviation > COLOUR_TOLERANCE) changed.push(element)
  }
  if (changed.length)
    return compared('changed', 'colours-changed', {
      changedCount: changed.length,
      totalCount: total,
      deviation: largest,
      parameters: { changed: changed.length, total },
      places: {
        element: a.per,
        master: Uint32Array.from(changed),
        returned: Uint32Array.from(changed.map((element) => map[element]!).filter((other) => other >= 0)),
      },
    })
  return largest > 0
    ? compared('within', 'within', {
        totalCount: total,
        deviation: largest,
        parameters: { deviation: largest },
      })
    : compared('same', 'same', { totalCount: total })
}

export function compareShapes(master: Mesh, returned: Mesh): TraitComparison {
  const has = (mesh: Mesh): boolean => mesh.shapes.length > 0 || mesh.skin !== null
  if (!has(master)) return has(returned) ? compared('gained', 'gained') : NOTHING
  if (!has(returned)) return compared('lost', 'lost', { totalCount: master.shapes.length })
  const text = (mesh: Mesh): string =>
    JSON.stringify([mesh.shapes.map((shape) => [shape.name, [...shape.points], [...shape.offsets]])])
  return text(master) === text(returned) ? compared('same', 'same') : compared('changed', 'shapes-changed')
}
