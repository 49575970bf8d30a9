import { facesByIsland, findIslands } from '../../uv/find-islands.ts'
import { uvAreas } from '../../uv/uv-measures.ts'
import type { MeshFacts } from '../../mesh/relations/mesh-facts.ts'
import type { UvSet } from '../../scene/mesh.ts'
import { meanScale } from '../../base/math/matrix.ts'
import { groupedElements, type CheckDescriptor } from '../check.ts'
import { packing } from '../settings.ts'

/**
 * Pixels a unit of length on each island: the root of its UV area by its surface, times the map's side.
 * @param lengthScale world units in one of the part's own; NaN for islands without surface or UV area.
 */
export function islandDensities(
  facts: MeshFacts,
  set: UvSet,
  mapSize: number,
  lengthScale: number,
): { densities: Float64Array; faces: number[][] } {
  const flat = uvAreas(facts.mesh, set)
  const surface = facts.faceAreas()
  const { islandCount, faceIslands } = findIslands(facts.mesh, set)
  const faces = facesByIsland(faceIslands, islandCount)
  const densities = Float64Array.from(faces, (list) => {
    let uv = 0
    let area = 0
    for (const face of list) {
      uv += Math.abs(flat[face]!)
      area += surface[face]!
    }
    const density = (Math.sqrt(uv / area) * mapSize) / lengthScale
    return Number.isFinite(density) && density > 0 ? density : NaN
  })
  return { densities, faces }
}

export const texelDensity: CheckDescriptor = {
  id: 'texel-density',
  area: 'uvs',
  scope: 'part',
  title: 'Uneven texel density',
  why: 'Islands with more pixels than their neighbours look sharp beside them; the eye finds the border at once.',
  reads: ['points', 'faceVertices', 'faceOffsets', 'uvSets', 'world', 'space'],
  problems: {
    spread: {
      severity: 'info',
      text: '{count} [island|islands] [is|are] off: from {low} to {high} pixels a {unit} at {size} pixels, {mean} in the middle.',
    },
  },
  run({ scene, mesh, facts, world, settings }, report) {
    const set = mesh.uvSets[0]
    if (!set) return
    const { densities, faces } = islandDensities(facts, set, settings.mapSize, meanScale(world))
    const known = densities.filter((density) => !Number.isNaN(density)).sort()
    if (known.length < 2) return
    const low = known[0]!
    const high = known[known.length - 1]!
    if (high / low <= settings.densitySpread) return
    const middle = known[known.length >> 1]!
    const bound = Math.sqrt(settings.densitySpread)
    const off = faces.filter(
      (_list, island) => densities[island]! > middle * bound || densities[island]! < middle / bound,
    )
    if (off.length === 0) return
    // in centimetres where the unit is known
    const unitMeters = scene.space.unitMeters
    const perUnit = unitMeters === null ? 1 : 0.01 / unitMeters
    const round = (value: number): number => Number((value * perUnit).toPrecision(3))
    const heat = new Float32Array(facts.faceCount).fill(NaN)
    faces.forEach((list, island) => {
      for (const face of list) heat[face] = densities[island]! / middle
    })
    report({
      problem: 'spread',
      count: off.length,
      parameters: {
        low: round(low),
        high: round(high),
        mean: round(middle),
        unit: unitMeters === null ? 'unit' : 'cm',
        size: settings.mapSize,
      },
      places: groupedElements('faces', off),
      distribution: {
        title: unitMeters === null ? 'Pixels a unit' : 'Pixels a centimetre',
        values: known.map((density) => density * perUnit),
        of: 'islands',
        limit: null,
      },
      heat,
      fix: { step: 'pack-islands', params: packing(settings) },
    })
  },
}
