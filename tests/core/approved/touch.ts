/** Small changes of scenes of any kind, by a seed: of every array, list and word that a scene has. */
import fc from 'fast-check'
import { completeIds } from '../../../src/core/scene/ids.ts'
import {
  chainOf,
  localMatrix,
  partsOf,
  ROTATION_ORDERS,
} from '../../../src/core/formats/fbx/transform-chain.ts'
import type { MaterialMap } from '../../../src/core/scene/material.ts'
import type { Mesh } from '../../../src/core/scene/mesh.ts'
import {
  EMPTY_SCENE,
  IDENTITY_MATRIX,
  plainNode,
  type Scene,
  type SceneImage,
} from '../../../src/core/scene/scene.ts'
import { cubeOf, gridOf, materialOf, moved, scaled } from '../../solids.ts'
import { anyScene } from '../../any-scene.ts'

/** The same ones each time. */
export const scenesOf = (seed: number, count: number): Scene[] =>
  fc.sample(anyScene, { seed, numRuns: count }).map((scene) => completeIds(scene))

/** What made scenes hardly have: joints, channels of shapes, turns in an order of their own, cameras, maps in tiles. */
export function richScene(): Scene {
  const parts = partsOf({
    translation: [1, 2, 3],
    rotation: [20, -10, 60],
    rotationOrder: ROTATION_ORDERS.indexOf('zxy'),
    scaling: [1, 2, 1],
    rotationOffset: [0, 0, 0.5],
    rotationPivot: [0, 1, 0],
    preRotation: [5, 0, 0],
    postRotation: [0, 0, 0],
    scalingOffset: [0, 0, 0],
    scalingPivot: [0.5, 0, 0],
  })
  const shape = { points: Uint32Array.of(1, 5), offsets: Float64Array.of(0, 1, 0, 0, 0.5, 0.25) }
  const body = cubeOf({
    name: 'body',
    skin: {
      jointNodes: Int32Array.of(3, 4),
      jointBinds: Float64Array.from([...IDENTITY_MATRIX, ...moved(0, 1, 0)]),
      meshBinds: Float64Array.from([...IDENTITY_MATRIX, ...moved(0, -1, 0)]),
      offsets: Uint32Array.from({ length: 9 }, (_offset, at) => 2 * at),
      joints: Uint32Array.from({ length: 16 }, (_joint, at) => at % 2),
      weights: Float64Array.from({ length: 16 }, (_weight, at) => (at % 2 ? 0.25 : 0.75)),
    },
    shapes: [
      { name: 'half', channel: 'smile', fullWeight: 50, weight: 20, ...shape },
      { name: 'full', channel: 'smile', ...shape, normals: Float64Array.of(0, 0.1, 0, 0, 0, 0.2) },
      { name: 'blink', ...shape },
    ],
    layers: [
      { kind: 'tangents', name: 't', per: 'corners', width: 3, values: Float64Array.from({ length: 72 }, (_value, at) => Number(at % 3 === 0)), indices: null, edgePoints: null, whole: false },
    ],
    faceMaterials: Int32Array.of(0, 0, 1, 1, 0, -1),
    subdivision: { scheme: 'catmull-clark', levels: 2, renderLevels: 3, boundary: 'edge-and-corner' },
  }) // prettier-ignore
  const image = (file: string, more: Partial<SceneImage>): SceneImage => ({ file, entry: file, bytes: Uint8Array.of(137, 80, 78, 71, 13, 10, 26, 10, 0, 0), ...more }) // prettier-ignore
  const map = (property: string, slot: 'baseColor' | 'roughness' | 'normal', file: string): MaterialMap => ({ property, slot, file, options: [] }) // prettier-ignore
  return completeIds({
    ...EMPTY_SCENE,
    space: { unitMeters: 0.01, upAxis: 'y', frontAxis: 'z', handedness: 'right' },
    nodes: [
      plainNode('rig', { transform: parts, local: localMatrix(chainOf(parts)), properties: { owner: 'me', age: 3, good: true } }),
      plainNode('body', { parent: 0, mesh: 0 }),
      plainNode('copy', { parent: 0, mesh: 0, local: scaled(-1, 1, 1), visible: false }),
      plainNode('hip', { parent: 0, role: 'LimbNode' }),
      plainNode('knee', { parent: 3, role: 'LimbNode', local: moved(0, 1, 0) }),
      plainNode('sheet', { mesh: 1, local: moved(5, 0, 0) }),
      plainNode('eye', { local: moved(0, 9, 9) }),
      plainNode('lamp', { parent: 6 }),
    ],
    meshes: [body, gridOf(3, 2, { name: 'sheet' })],
    materials: [
      materialOf('brass', { maps: [map('map_Kd', 'baseColor', 'maps/brass.png'), map('map_Pr', 'roughness', 'maps/rough.<UDIM>.png')] }),
      materialOf('cloth', { maps: [map('norm', 'normal', 'inside.png')] }),
    ],
    images: [
      image('maps/brass.png', {}),
      image('maps/rough.<UDIM>.png', { tiles: [{ label: '1001', entry: 'maps/rough.1001.png', bytes: Uint8Array.of(1, 2) }, { label: '1002', entry: 'maps/rough.1002.png', bytes: Uint8Array.of(3) }] }),
      image('inside.png', { embedded: true, entry: null }),
    ],
    cameras: [{ name: 'eye', node: 6, properties: { FieldOfView: 40 } }],
    lights: [{ name: 'lamp', node: 7, properties: { Intensity: 100 } }],
  }) // prettier-ignore
}

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
