import type { Mesh, UvSet } from '../../scene/mesh.ts'

/**
 * The mesh with other UV sets, and with its lines where they lay: they go by the first set's values, which are other ones
 * then. What they need of the old ones is put behind the new.
 */
export function withUvSets(mesh: Mesh, uvSets: readonly UvSet[]): Mesh {
  const { lines } = mesh
  const [own] = mesh.uvSets
  const [set] = uvSets
  if (!lines?.uvs.some((uv) => uv >= 0) || set === own) return { ...mesh, uvSets }
  if (!set || !own) return { ...mesh, uvSets, lines: { ...lines, uvs: lines.uvs.map(() => -1) } }
  const values: number[] = []
  const depths: number[] = []
  const count = set.values.length / 2
  const numbers = new Map<number, number>()
  const isAt = (uv: number): boolean =>
    set.values[2 * uv] === own.values[2 * uv] &&
    set.values[2 * uv + 1] === own.values[2 * uv + 1] &&
    (set.depths?.[uv] ?? 0) === (own.depths?.[uv] ?? 0)
  const uvs = lines.uvs.map((uv) => {
    if (uv < 0 || isAt(uv)) return uv
    let number = numbers.get(uv)
    if (number === undefined) {
      numbers.set(uv, (number = count + values.length / 2))
      values.push(own.values[2 * uv]!, own.values[2 * uv + 1]!)
      depths.push(own.depths?.[uv] ?? 0)
    }
    return number
  })
  if (values.length === 0) return { ...mesh, uvSets }
  const first: UvSet = {
    ...set,
    values: Float64Array.from([...set.values, ...values]),
    depths:
      set.depths || depths.some((depth) => depth !== 0)
        ? Float64Array.from([...(set.depths ?? new Float64Array(count)), ...depths])
        : null,
  }
  return { ...mesh, uvSets: [first, ...uvSets.slice(1)], lines: { ...lines, uvs } }
}
