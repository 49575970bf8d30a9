/** Small changes of scenes of any kind, by a seed: of every array, list and word that a scene has. */
import fc from 'fast-check'
import { completeIds } from '../../../src/core/scene/ids.ts'
import type { Mesh } from '../../../src/core/scene/mesh.ts'
import type { Scene } from '../../../src/core/scene/scene.ts'
import { anyScene } from '../../any-scene.ts'

/** The same ones each time. */
export const scenesOf = (seed: number, count: number): Scene[] =>
  fc.sample(anyScene, { seed, numRuns: count }).map((scene) => completeIds(scene))

type Path = readonly (string | number)[]
type Numbers = Float64Array | Int32Array | Uint32Array

function* arraysIn(value: unknown, path: Path = []): Generator<[Path, Numbers]> {
  if (ArrayBuffer.isView(value)) {
    if ((value as Numbers).length > 0) yield [path, value as Numbers]
  } else if (value && typeof value === 'object')
    for (const [key, one] of Object.entries(value)) yield* arraysIn(one, [...path, key])
}
function withAt(value: unknown, [key, ...rest]: Path, one: unknown): unknown {
  if (key === undefined) return one
  if (Array.isArray(value))
    return value.map((old: unknown, at) => (at === Number(key) ? withAt(old, rest, one) : old))
  return { ...(value as object), [key]: withAt((value as Record<string, unknown>)[key], rest, one) }
}

/** Numbers that are counted are exchanged with others of the list, so that they stay ones that there are. */
function changeArray(values: Numbers, chance: () => number): Numbers {
  const copy = values.slice()
  const at = Math.floor(chance() * copy.length)
  const other = Math.floor(chance() * copy.length)
  if (copy instanceof Float64Array) copy[at]! += [1e-12, 1e-7, 1e-4, 0.3, -2][Math.floor(chance() * 5)]!
  else [copy[at], copy[other]] = [copy[other]!, copy[at]!]
  return copy
}

const WITHOUT: readonly Partial<Mesh>[] = [
  { uvSets: [] },
  { normals: null },
  { smoothing: null },
  { creases: null },
  { colorSets: [] },
  { shapes: [] },
  { skin: null },
]

type Change = readonly [path: Path, value: unknown]
const nodeChanges = (node: number): readonly Change[] => [
  [['nodes', node, 'name'], 'else'],
  [['nodes', node, 'visible'], false],
  [['nodes', node, 'local', 12], 4],
  [['nodes', node, 'properties'], { kind: 'prop' }],
]
const SPACE_CHANGES: readonly Change[] = [
  [['space', 'unitMeters'], 0.0254],
  [['space', 'unitMeters'], null],
  [['space'], { unitMeters: 0.01, upAxis: 'z', frontAxis: '-y', handedness: 'right' }],
]

export function touch(scene: Scene, chance: () => number): Scene {
  const pick = <Item>(items: readonly Item[]): Item => items[Math.floor(chance() * items.length)]!
  let touched = scene
  for (let change = 1 + Math.floor(chance() * 4); change > 0; change--) {
    const mesh = Math.floor(chance() * touched.meshes.length)
    const node = Math.floor(chance() * touched.nodes.length)
    const material = Math.floor(chance() * touched.materials.length)
    switch (Math.floor(chance() * 8)) {
      case 0:
        if (touched.nodes[node]) touched = withAt(touched, ...pick(nodeChanges(node))) as Scene
        break
      case 1:
        if (touched.meshes[mesh]) touched = withAt(touched, ['meshes', mesh], { ...touched.meshes[mesh], ...pick(WITHOUT) }) as Scene // prettier-ignore
        break
      case 2:
        if (touched.materials[material]) touched = withAt(touched, ['materials', material, 'name'], pick(['brass', 'cloth', 'glass'])) as Scene // prettier-ignore
        break
      case 3:
        touched = withAt(touched, ...pick(SPACE_CHANGES)) as Scene
        break
      default: {
        const arrays = [...arraysIn(touched.meshes[mesh] ?? {})].filter(([path]) => path[0] !== 'faceOffsets' && path.at(-1) !== 'offsets') // prettier-ignore
        if (arrays.length === 0) break
        const [path, values] = pick(arrays)
        touched = withAt(touched, ['meshes', mesh, ...path], changeArray(values, chance)) as Scene
      }
    }
  }
  return touched
}
