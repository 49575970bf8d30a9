/** A scene with something of all that a scene can hold, and every place of it where a value stands. */
import type { Trait } from '../src/core/compare/traits/registry.ts'
import { computeNormals } from '../src/core/mesh/normals/compute-normals.ts'
import { completeIds } from '../src/core/scene/ids.ts'
import type { Mesh } from '../src/core/scene/mesh.ts'
import { IDENTITY_MATRIX, type Scene } from '../src/core/scene/scene.ts'
import { gridOf, materialOf, sceneOf, uvsOf } from './solids.ts'

export const numbers = (count: number, of: (at: number) => number): Float64Array =>
  Float64Array.from({ length: count }, (_value, at) => of(at))

/** A part with something of all that a part can have. */
function fullMesh(): Mesh {
  const plain = gridOf(4, 3)
  const points = plain.points.map((value, at) => value + 0.1 * Math.sin(3 * at))
  const pointCount = points.length / 3
  const corners = plain.faceVertices.length
  const faces = plain.faceOffsets.length - 1
  const mesh: Mesh = { ...plain, points }
  return {
    ...mesh,
    pointWeights: numbers(pointCount, (at) => 1 + at / 10),
    uvSets: [
      {
        ...uvsOf(
          [...mesh.faceVertices].map(
            (point) => [points[3 * point]! / 8, points[3 * point + 1]! / 8] as const,
          ),
        ),
        depths: numbers(corners, (at) => at / 50),
      },
      uvsOf(
        [...mesh.faceVertices].map((point) => [point / 40, (point % 5) / 10] as const),
        'second',
      ),
    ],
    normals: computeNormals(mesh, null),
    smoothing: { kind: 'edges', hardEdgePoints: mesh.faceVertices.slice(0, 4) },
    creases: {
      edgePoints: mesh.faceVertices.slice(4, 8),
      edgeSharpness: Float64Array.of(2, 3),
      cornerPoints: Uint32Array.of(0, 7),
      cornerSharpness: Float64Array.of(4, 5),
    },
    subdivision: { scheme: 'catmull-clark', levels: 2, renderLevels: 3, boundary: 'edge-only' },
    faceMaterials: Int32Array.from({ length: faces }, (_value, at) => at % 2),
    groups: {
      names: ['left', 'right'],
      sets: [[0], [1], [0, 1]],
      faceSets: Int32Array.from({ length: faces }, (_value, at) => at % 3),
    },
    colorSets: [
      {
        name: 'dirt',
        components: 4,
        values: numbers(4 * pointCount, (at) => (at % 7) / 10),
        per: 'points',
        indices: new Int32Array(0),
      },
      {
        name: 'wear',
        components: 3,
        values: numbers(3 * corners, (at) => (at % 9) / 10),
        per: 'corners',
        indices: Int32Array.from({ length: corners }, (_value, at) => at),
      },
    ],
    shapes: [
      {
        name: 'smile',
        points: Uint32Array.of(1, 2, 5),
        offsets: numbers(9, (at) => at / 10),
        normals: numbers(9, (at) => at / 20),
        channel: 'mouth',
        fullWeight: 60,
        weight: 10,
      },
    ],
    skin: {
      jointNodes: Int32Array.of(1, 2),
      jointBinds: Float64Array.from([...IDENTITY_MATRIX, ...IDENTITY_MATRIX]),
      meshBinds: Float64Array.from([...IDENTITY_MATRIX, ...IDENTITY_MATRIX]),
      method: 'linear',
      offsets: Uint32Array.from({ length: pointCount + 1 }, (_value, at) => 2 * at),
      joints: Uint32Array.from({ length: 2 * pointCount }, (_value, at) => at % 2),
      weights: numbers(2 * pointCount, (at) => (at % 2 ? 0.25 : 0.75)),
    },
    lines: {
      offsets: Uint32Array.of(0, 3, 5),
      points: Uint32Array.of(0, 1, 2, 6, 7),
      uvs: Int32Array.of(0, 1, 2, 3, 4),
    },
    pointElements: Uint32Array.of(3, 4),
    layers: [
      {
        kind: 'tangents',
        name: 'tangent',
        per: 'corners',
        width: 3,
        values: numbers(3 * corners, (at) => Math.cos(at)),
        indices: null,
        edgePoints: null,
        whole: false,
      },
    ],
  }
}

export function fullScene(): Scene {
  const scene = sceneOf([fullMesh()])
  const [part] = scene.nodes
  const bone = (name: string, parent: number) => ({
    ...part!,
    id: '',
    name,
    parent,
    mesh: -1,
    role: 'limb',
    local: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 1, 2, 3, 1],
  })
  return completeIds({
    ...scene,
    nodes: [
      {
        ...part!,
        local: [1, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0, 4, 5, 6, 1],
        properties: { note: 'front', number: 3, list: [1, 2] },
        transform: {
          translation: [4, 5, 6],
          rotation: [Math.PI / 2, 0, 0],
          rotationOrder: 'xzy',
          scale: [1, 1, 1],
          rotationPivot: [1, 2, 3],
          scalePivot: [0, 1, 0],
          rotationOffset: [0, 0, 1],
          scaleOffset: [0, 2, 0],
          preRotation: [0.1, 0, 0],
          postRotation: [0, 0.1, 0],
          inherits: 'turn-then-scale',
        },
      },
      { ...bone('hip', -1), properties: { bend: 40, side: 'left' } },
      bone('knee', 1),
    ],
    materials: [
      materialOf('brass', {
        properties: [{ name: 'Kd', values: [0.5, 0.4, 0.1], text: null }],
        maps: [{ property: 'map_Kd', slot: 'baseColor', file: 'brass.png', options: [['-bm', '0.5']] }],
      }),
      materialOf('glass', { kept: ['sharpness 60'] }),
    ],
    cameras: [{ name: 'front', node: 1, properties: { FieldOfView: 40 } }],
    lights: [{ name: 'lamp', node: 2, properties: { Intensity: 100 } }],
    properties: { Season: 'autumn' },
  })
}

export type Path = readonly (string | number)[]

/** Every place where a value stands; of long lists of numbers a few. */
export function leavesOf(value: unknown, path: Path, chance: () => number): Path[] {
  if (ArrayBuffer.isView(value)) {
    const { length } = value as Float64Array
    const few =
      length > 4
        ? [0, length - 1, ...[1, 2].map(() => Math.floor(chance() * length))]
        : [...Array(length).keys()]
    return [...new Set(few)].map((at) => [...path, at])
  }
  if (value === null || value === undefined) return []
  if (typeof value === 'object')
    return Object.entries(value).flatMap(([key, own]) =>
      leavesOf(own, [...path, Array.isArray(value) ? Number(key) : key], chance),
    )
  return [path]
}

const FURTHER: Readonly<Record<string, readonly string[]>> = {
  upAxis: ['y', '-x'],
  frontAxis: ['z', 'x'],
  handedness: ['right', 'left'],
  scheme: ['catmull-clark', 'loop'],
  boundary: ['edge-only', 'edge-and-corner'],
  rotationOrder: ['xzy', 'yxz'],
  inherits: ['turn-then-scale', 'no-scale'],
}

/** The same with another value there. */
export function changedAt(value: unknown, path: Path): unknown {
  const [key, ...rest] = path
  if (key === undefined) {
    if (typeof value === 'number') return value + 1
    if (typeof value === 'boolean') return !value
    return `${String(value)}_2`
  }
  if (ArrayBuffer.isView(value)) {
    const copy = (value as Float64Array).slice()
    const at = key as number
    copy[at] = copy instanceof Float64Array ? copy[at]! + 0.25 : copy[at] === 0 ? 1 : copy[at]! - 1
    return copy
  }
  if (Array.isArray(value))
    return value.map((own, at) => (at === key ? changedAt(own, rest) : (own as unknown)))
  const own = (value as Record<string, unknown>)[key]
  const others = FURTHER[key as string]
  // there are three nodes
  if (key === 'node') return { ...(value as object), node: ((own as number) + 1) % 3 }
  const next = others && rest.length === 0 ? others.find((other) => other !== own) : changedAt(own, rest)
  return { ...(value as object), [key]: next }
}

/** What says nothing of the model that another field doesn't: names inside Kelbo, where a file had it, how a matrix is written. */
export const NOT_OF_THE_MODEL =
  /(^|\.)(id|source|format|formatVersion|mesh|role|slot)$|^meshes\.0\.name$|transform$|transform\.(translation|rotation|scale)\./
/** Layers that Kelbo only carries are in no ledger; a file that can't hold them says so when it is written. */
export const IN_NO_LEDGER = /\.layers\./
/** What no longer is a scene with another number there. */
export const HOLDS_IT_TOGETHER =
  /(parent|faceOffsets\.\d+|skin\.offsets\.\d+|lines\.offsets\.\d+|width|smoothing\.kind|components|per)$/

/** All that can be taken of a part but its polygons and where it stands. */
export const TAKEN: readonly Trait[] = [
  'points',
  'uvs',
  'normals',
  'smoothing',
  'creases',
  'materials',
  'groups',
  'colours',
  'shapes',
]
