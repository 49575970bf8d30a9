/**
 * One polygon was given something else, among whatever else tools and artists did: that trait of its part is never called
 * the same. Smoothing is compared by the hard edges that it makes, so it is what other tests ask.
 */
import { expect, test } from 'vitest'
import { EDIT_NAMES } from '../../../../tests/file-returns/edits.ts'
import { FAULT_NAMES } from '../../../../tests/file-returns/faults.ts'
import { shuffled, textOf, upTo, type Polygon } from '../../../../tests/file-returns/file-part.ts'
import { doneTo, type DoneName } from '../../../../tests/file-returns/make-return.ts'
import { MORE_SHAPE_NAMES, morePartOf } from '../../../../tests/file-returns/more-shapes.ts'
import { partOf, SHAPE_NAMES } from '../../../../tests/file-returns/shapes.ts'
import { howMany } from '../../../../tests/how-many.ts'
import { readText } from '../../../../tests/meshes.ts'
import { chanceOf } from '../../base/math/chance.ts'
import { compareScenes } from '../compare-scenes.ts'
import { recogniseReturn } from './recognise-return.ts'

const GIVEN = {
  materials: (polygon: Polygon): Polygon => ({ ...polygon, material: 'given' }),
  groups: (polygon: Polygon): Polygon => ({ ...polygon, group: 'given' }),
  uvs: (polygon: Polygon): Polygon => ({ ...polygon, corners: polygon.corners.map(({ point, uv }) => ({ point, uv: uv && [uv[0] + 0.31, uv[1] + 0.17] })) }), // prettier-ignore
}
type Trait = keyof typeof GIVEN
/** After these nothing is left of what the trait was. */
const REPLACING: Readonly<Record<Trait, readonly DoneName[]>> = {
  materials: ['painted', 'materialsRenamed'],
  groups: ['ungrouped'],
  uvs: ['laidAnew', 'rounded', 'withoutUvs'],
}
const SHAPES = [...SHAPE_NAMES, ...MORE_SHAPE_NAMES]

test('a trait of which one polygon was given another is never the same', () => {
  const wrong: string[] = []
  let told = 0
  for (let seed = 0; seed < howMany(90, 6000); seed++) {
    const chance = chanceOf(seed * 101 + 3)
    const at = Math.floor(SHAPES.length * chance())
    const [shape, more] = [SHAPE_NAMES[at], MORE_SHAPE_NAMES[at - SHAPE_NAMES.length]]
    const part = more ? morePartOf(more, true, more, chance) : partOf(shape!, true, shape!, chance)
    const trait = (Object.keys(GIVEN) as Trait[])[Math.floor(3 * chance())]!
    const names: readonly DoneName[] = [...FAULT_NAMES, ...EDIT_NAMES]
    const faults = shuffled(names, chance).filter((name) => !REPLACING[trait].includes(name)).slice(0, upTo(chance, 1, 4)) // prettier-ignore
    const came = doneTo([part], faults, chance)
    const known = came.flatMap(({ polygons }) => polygons).filter(({ of }) => of)
    if (known.length === 0) continue
    const chosen = known[Math.floor(known.length * chance())]!
    const given = came.map((one) => ({ ...one, polygons: one.polygons.map((polygon) => (polygon === chosen ? GIVEN[trait](polygon) : polygon)) })) // prettier-ignore
    const own = readText(textOf([part])).scene
    const { matching, returned } = recogniseReturn(own, readText(textOf(given)).scene)
    const paired = compareScenes(own, returned, () => {}, matching).rows.filter(({ match }) => match.masterNode >= 0 && match.returnedNode >= 0) // prettier-ignore
    for (const { cells } of paired) {
      const { state } = cells[trait]!
      if (state === 'same' || state === 'within') wrong.push(`${seed} ${part.name} ${faults.join('+')}: ${trait} ${state}`) // prettier-ignore
      if (state === 'changed') told++
    }
  }
  expect(wrong).toEqual([])
  // and nearly always it is told, not left open
  expect(told).toBeGreaterThan(howMany(90, 6000) * 0.8)
})
