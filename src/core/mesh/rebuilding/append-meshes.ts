/** Several meshes as one, nothing welded. */
import { joinNumbers } from '../../base/math/join-numbers.ts'
import { hardEdgePoints } from '../smoothing/smoothing-groups.ts'
import { createMeshFacts } from '../relations/mesh-facts.ts'
import {
  EMPTY_MESH,
  pointCountOf,
  type BlendShape,
  type ColorSet,
  type FaceGroups,
  type Mesh,
  type Smoothing,
} from '../../scene/mesh.ts'

/** Typed arrays behind each other, the values of each raised by a base; negative ones stay. */
function joined<Array extends Int32Array | Uint32Array>(
  make: new (length: number) => Array,
  parts: readonly { values: ArrayLike<number>; base: number }[],
): Array {
  const all = new make(parts.reduce((sum, part) => sum + part.values.length, 0))
  let at = 0
  for (const { values, base } of parts)
    for (let k = 0; k < values.length; k++) all[at++] = values[k]! < 0 ? values[k]! : values[k]! + base
  return all
}

const filled = (length: number, value: number): Int32Array => new Int32Array(length).fill(value)

/**
 * @param meshes in one space; UV sets are put together by their place in the list, colours by name.
 * Smoothing of different forms becomes hard edges. Skins and point weights of several meshes are dropped.
 */
export function appendMeshes(name: string, meshes: readonly Mesh[]): Mesh {
  if (meshes.length === 1) return { ...meshes[0]!, name }
  const pointBases: number[] = []
  const cornerBases: number[] = []
  let points = 0
  let corners = 0
  for (const mesh of meshes) {
    pointBases.push(points)
    cornerBases.push(corners)
    points += pointCountOf(mesh)
    corners += mesh.faceVertices.length
  }
  const byPoint = (pick: (mesh: Mesh) => ArrayLike<number>): Uint32Array =>
    joined(
      Uint32Array,
      meshes.map((mesh, at) => ({ values: pick(mesh), base: pointBases[at]! })),
    )
  const faceOffsets = new Uint32Array(1 + meshes.reduce((sum, mesh) => sum + mesh.faceOffsets.length - 1, 0))
  let face = 1
  meshes.forEach((mesh, at) => {
    for (let own = 1; own < mesh.faceOffsets.length; own++)
      faceOffsets[face++] = cornerBases[at]! + mesh.faceOffsets[own]!
  })
  const indexed = (
    pick: (mesh: Mesh) => { values: Float64Array; indices: Int32Array } | null | undefined,
    width: number,
  ): { values: Float64Array; indices: Int32Array } => {
    let base = 0
    const parts = meshes.map((mesh) => {
      const found = pick(mesh)
      const part = { values: found?.indices ?? filled(mesh.faceVertices.length, -1), base }
      base += (found?.values.length ?? 0) / width
      return part
    })
    return {
      values: joinNumbers(meshes.map((mesh) => pick(mesh)?.values ?? new Float64Array(0))),
      indices: joined(Int32Array, parts),
    }
  }
  const setCount = Math.max(...meshes.map((mesh) => mesh.uvSets.length))
  const faceInts = (pick: (mesh: Mesh) => Int32Array | null): Int32Array =>
    joined(
      Int32Array,
      meshes.map((mesh) => ({ values: pick(mesh) ?? filled(mesh.faceOffsets.length - 1, -1), base: 0 })),
    )
  const creases = meshes.map((mesh) => mesh.creases)
  const lineParts = meshes.flatMap((mesh, at) =>
    mesh.lines ? [{ lines: mesh.lines, base: pointBases[at]! }] : [],
  )
  return {
    ...EMPTY_MESH,
    name,
    points: joinNumbers(meshes.map((mesh) => mesh.points)),
    faceOffsets,
    faceVertices: byPoint((mesh) => mesh.faceVertices),
    uvSets: Array.from({ length: setCount }, (_value, at) => ({
      name: meshes.find((mesh) => mesh.uvSets[at])!.uvSets[at]!.name,
      ...indexed((mesh) => mesh.uvSets[at], 2),
      depths: null,
    })),
    normals: meshes.some((mesh) => mesh.normals) ? indexed((mesh) => mesh.normals, 3) : null,
    smoothing: joinSmoothing(meshes, pointBases),
    creases: creases.some(Boolean)
      ? {
          edgePoints: byPoint((mesh) => mesh.creases?.edgePoints ?? []),
          edgeSharpness: joinNumbers(creases.map((crease) => crease?.edgeSharpness ?? new Float64Array(0))),
          cornerPoints: byPoint((mesh) => mesh.creases?.cornerPoints ?? []),
          cornerSharpness: joinNumbers(
            creases.map((crease) => crease?.cornerSharpness ?? new Float64Array(0)),
          ),
        }
      : null,
    subdivision: meshes[0]!.subdivision,
    faceMaterials: meshes.some((mesh) => mesh.faceMaterials) ? faceInts((mesh) => mesh.faceMaterials) : null,
    groups: joinGroups(meshes),
    colorSets: joinColours(meshes, indexed),
    shapes: joinShapes(meshes, pointBases),
    lines: lineParts.length
      ? {
          offsets: Uint32Array.from(
            lineParts.reduce<number[]>(
              (offsets, { lines }) => {
                const start = offsets[offsets.length - 1]!
                for (let at = 1; at < lines.offsets.length; at++) offsets.push(start + lines.offsets[at]!)
                return offsets
              },
              [0],
            ),
          ),
          points: joined(
            Uint32Array,
            lineParts.map(({ lines, base }) => ({ values: lines.points, base })),
          ),
          uvs: filled(
            lineParts.reduce((sum, { lines }) => sum + lines.points.length, 0),
            -1,
          ),
        }
      : null,
    pointElements: meshes.some((mesh) => mesh.pointElements)
      ? byPoint((mesh) => mesh.pointElements ?? [])
      : null,
  }
}

function joinSmoothing(meshes: readonly Mesh[], pointBases: readonly number[]): Smoothing | null {
  const kinds = new Set(meshes.map((mesh) => mesh.smoothing?.kind ?? 'none'))
  if (kinds.size === 1 && kinds.has('none')) return null
  if (kinds.size === 1 && kinds.has('masks'))
    return {
      kind: 'masks',
      faceMasks: Uint32Array.from(
        meshes.flatMap((mesh) => (mesh.smoothing?.kind === 'masks' ? [...mesh.smoothing.faceMasks] : [])),
      ),
    }
  if ([...kinds].every((kind) => kind === 'groups' || kind === 'none'))
    return {
      kind: 'groups',
      faceGroups: joined(
        Int32Array,
        meshes.map((mesh) => ({
          values:
            mesh.smoothing?.kind === 'groups'
              ? mesh.smoothing.faceGroups
              : filled(mesh.faceOffsets.length - 1, -1),
          base: 0,
        })),
      ),
    }
  return {
    kind: 'edges',
    hardEdgePoints: joined(
      Uint32Array,
      meshes.map((mesh, at) => ({ values: hardEdgePoints(createMeshFacts(mesh)), base: pointBases[at]! })),
    ),
  }
}

function joinGroups(meshes: readonly Mesh[]): FaceGroups | null {
  if (!meshes.some((mesh) => mesh.groups)) return null
  const names: string[] = []
  const nameIds = new Map<string, number>()
  const sets: number[][] = []
  const parts = meshes.map((mesh) => {
    const base = sets.length
    for (const set of mesh.groups?.sets ?? [])
      sets.push(
        set.map((name) => {
          const text = mesh.groups!.names[name]!
          if (!nameIds.has(text)) nameIds.set(text, names.push(text) - 1)
          return nameIds.get(text)!
        }),
      )
    return { values: mesh.groups?.faceSets ?? filled(mesh.faceOffsets.length - 1, -1), base }
  })
  return { names, sets, faceSets: joined(Int32Array, parts) }
}

function joinColours(
  meshes: readonly Mesh[],
  indexed: (
    pick: (mesh: Mesh) => { values: Float64Array; indices: Int32Array } | null | undefined,
    width: number,
  ) => { values: Float64Array; indices: Int32Array },
): ColorSet[] {
  // only what every mesh has the same kind of can be put together without inventing colours
  return (meshes[0]!.colorSets ?? []).flatMap((set): ColorSet[] => {
    const same = (mesh: Mesh): ColorSet | undefined =>
      mesh.colorSets.find(
        (other) => other.name === set.name && other.per === set.per && other.components === set.components,
      )
    if (!meshes.every(same)) return []
    if (set.per === 'points')
      return [{ ...set, values: joinNumbers(meshes.map((mesh) => same(mesh)!.values)) }]
    return [{ ...set, ...indexed(same, set.components) }]
  })
}

function joinShapes(meshes: readonly Mesh[], pointBases: readonly number[]): BlendShape[] {
  const names = [...new Set(meshes.flatMap((mesh) => mesh.shapes.map((shape) => shape.name)))]
  return names.map((name) => {
    const parts = meshes.flatMap((mesh, at) =>
      mesh.shapes.filter((shape) => shape.name === name).map((shape) => ({ shape, base: pointBases[at]! })),
    )
    const { normals: _normals, tangents: _tangents, source: _source, ...first } = parts[0]!.shape
    return {
      ...first,
      points: joined(
        Uint32Array,
        parts.map(({ shape, base }) => ({ values: shape.points, base })),
      ),
      offsets: joinNumbers(parts.map(({ shape }) => shape.offsets)),
    }
  })
}
