/** Numbers that are none: never the same as what was sent, and never lost in a sentence. */
import { expect, test } from 'vitest'
import { cubeOf, gridOf, sceneOf } from '../../../../tests/solids.ts'
import type { Mesh } from '../../scene/mesh.ts'
import { compareScenes } from '../compare-scenes.ts'
import { noteText, type Trait } from './registry.ts'

const normals = { values: Float64Array.of(0, 1, 0), indices: new Int32Array(24) }
const colours = { name: 'c', components: 3 as const, per: 'points' as const, values: new Float64Array(24), indices: new Int32Array(0) } // prettier-ignore
const creases = { edgePoints: Uint32Array.of(0, 1), edgeSharpness: Float64Array.of(2), cornerPoints: new Uint32Array(0), cornerSharpness: new Float64Array(0) } // prettier-ignore
const CASES: readonly [Trait, Mesh, (mesh: Mesh, bad: number) => Mesh][] = [
  ['points', cubeOf(), (mesh, bad) => ({ ...mesh, points: mesh.points.map((value, at) => (at === 4 ? bad : value)) })],
  ['uvs', gridOf(2, 2), (mesh, bad) => ({ ...mesh, uvSets: [{ ...mesh.uvSets[0]!, values: mesh.uvSets[0]!.values.map((value, at) => (at === 4 ? bad : value)) }] })],
  ['normals', cubeOf({ normals }), (mesh, bad) => ({ ...mesh, normals: { ...normals, values: Float64Array.of(bad, 1, 0) } })],
  ['colours', cubeOf({ colorSets: [colours] }), (mesh, bad) => ({ ...mesh, colorSets: [{ ...colours, values: colours.values.map((value, at) => (at === 4 ? bad : value)) }] })],
  ['creases', cubeOf({ creases }), (mesh, bad) => ({ ...mesh, creases: { ...creases, edgeSharpness: Float64Array.of(bad) } })],
] // prettier-ignore

test.each(CASES)('%s', (trait, mesh, breaks) => {
  for (const bad of [NaN, Infinity, -Infinity]) {
    const cell = compareScenes(sceneOf([mesh]), sceneOf([breaks(mesh, bad)])).rows[0]!.cells[trait]!
    // a sharpness that is no number is no crease
    expect([bad, cell.state]).toEqual([bad, expect.stringMatching(trait === 'creases' ? /^(changed|lost)$/ : /^changed$/)]) // prettier-ignore
    expect(noteText(cell.note, cell.parameters)).not.toMatch(/NaN|Infinity|e\+308/)
    // a document holds it
    expect(JSON.parse(JSON.stringify(cell.parameters))).toEqual({ ...cell.parameters })
    // broken alike on both sides: nothing changed
    const both = breaks(mesh, bad)
    expect(compareScenes(sceneOf([both]), sceneOf([both])).rows[0]!.cells[trait]!.state).toMatch(
      /^(same|within)$/,
    )
  }
})
