/** Returns whose truth is known, at random. */
import { chanceOf } from '../../src/core/base/math/chance.ts'
import { EDIT_NAMES, EDITS, type EditName } from './edits.ts'
import { FAULT_NAMES, FAULTS, placed, type FaultName } from './faults.ts'
import { shuffled, upTo, type Chance, type FilePart } from './file-part.ts'
import { MORE_SHAPE_NAMES, morePartOf } from './more-shapes.ts'
import { partOf, SHAPE_NAMES, type ShapeName } from './shapes.ts'

export type DoneName = FaultName | EditName
const DONE = { ...FAULTS, ...EDITS }

export interface FileReturn {
  readonly master: readonly FilePart[]
  readonly came: readonly FilePart[]
  readonly faults: readonly DoneName[]
  readonly digits: number
}

/** What is left of parts after so many things were done to all of them, one after the other. */
export const doneTo = (
  parts: readonly FilePart[],
  faults: readonly DoneName[],
  chance: Chance,
): readonly FilePart[] =>
  faults.reduce((came: readonly FilePart[], fault) => DONE[fault](came, chance), parts)

const returned = (master: readonly FilePart[], faults: readonly DoneName[], chance: Chance): FileReturn => ({
  master,
  came: doneTo(master, faults, chance),
  faults,
  digits: faults.includes('rounded') ? 4 : 6,
})

/** One part of a shape, and what was done to it. */
export function madeReturn(
  shape: ShapeName,
  hasUvs: boolean,
  faults: readonly FaultName[],
  seed: number,
): FileReturn {
  const chance = chanceOf(seed * 7919 + 13)
  const part = partOf(shape, hasUvs, shape, chance)
  const [x, y, z] = [chance(), 2 * chance(), 2 * chance()]
  return returned([placed(part, (place) => [place[0] + x, place[1] + y, place[2] + z])], faults, chance)
}

/** A part with all that it has under another name, somewhere else. */
function twinOf(part: FilePart): FilePart {
  const name = `${part.name}_twin`
  return {
    ...placed(part, ([x, y, z]) => [x + 0.3, y + 5, z]),
    name,
    ids: part.ids.map((_id, at) => `${name}.${at}`),
    polygons: part.polygons.map((polygon, at) => ({ ...polygon, of: `${name}#${at}` })),
  }
}

/** One to five parts of any shapes, sometimes with a twin of the first, and one to five things done to all of them. */
export function anyReturn(seed: number): FileReturn {
  const chance = chanceOf(seed * 7919 + 13)
  const count = chance() < 0.4 ? 1 : upTo(chance, 2, 6)
  const parts = Array.from({ length: count }, (_, at) => {
    const shape = SHAPE_NAMES[Math.floor(SHAPE_NAMES.length * chance())]!
    const part = partOf(shape, chance() < 0.6, `${'abcdef'[at]!}_${shape}`, chance)
    const size = chance() < 0.1 ? 0.05 : 1
    const to = [6 * at + chance(), 2 * chance(), 2 * chance()] as const
    return placed(part, ([x, y, z]) => [size * x + to[0], size * y + to[1], size * z + to[2]])
  })
  if (chance() < 0.25) parts.push(twinOf(parts[0]!))
  const faults = shuffled(FAULT_NAMES, chance).slice(0, upTo(chance, 1, 6))
  return returned(parts, faults, chance)
}

/** The same of more shapes, with what artists do to them among what is done. */
export function anyEditedReturn(seed: number): FileReturn {
  const chance = chanceOf(seed * 7919 + 17)
  const count = chance() < 0.5 ? 1 : upTo(chance, 2, 6)
  const parts = Array.from({ length: count }, (_part, at) => {
    const shape = MORE_SHAPE_NAMES[Math.floor(MORE_SHAPE_NAMES.length * chance())]!
    const part = morePartOf(shape, chance() < 0.6, `${'abcdef'[at]!}_${shape}`, chance)
    const to = [6 * at + chance(), 2 * chance(), 2 * chance()] as const
    return placed(part, ([x, y, z]) => [x + to[0], y + to[1], z + to[2]])
  })
  if (chance() < 0.25) parts.push(twinOf(parts[0]!))
  const names: readonly DoneName[] = [...FAULT_NAMES, ...EDIT_NAMES]
  return returned(parts, shuffled(names, chance).slice(0, upTo(chance, 1, 5)), chance)
}
