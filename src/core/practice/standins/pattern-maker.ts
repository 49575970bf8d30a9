/**
 * The pattern maker: a small simulated sewing tool. It takes the surface apart into panels, one for each UV island, in
 * triangles of its own that share no point with those of another panel, and writes them as an OBJ.
 */
import { triangulateScene } from '../../formats/arrange/arrange-scene.ts'
import { fileNameOf, stemOf } from '../../formats/package/package-file.ts'
import { formatNamed, formatOf, optionsFor } from '../../formats/registry.ts'
import { boundsOf, diagonalOf } from '../../base/math/box.ts'
import { createUnion } from '../../mesh/relations/adjacency.ts'
import { removeFaces } from '../../mesh/rebuilding/edit-faces.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { faceCountOf, type Mesh } from '../../scene/mesh.ts'
import { plainNode, type Scene } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import type { StandInDescriptor } from './standin.ts'

/** Panels of one mesh: polygons that hang together over UVs; those without a UV are one panel more. */
export function panelsOf(mesh: Mesh): Mesh[] {
  const [set] = mesh.uvSets
  if (!set) return [mesh]
  const { join, rootOf } = createUnion(set.values.length / 2)
  for (let face = 0; face < faceCountOf(mesh); face++) {
    const first = set.indices[mesh.faceOffsets[face]!]!
    for (let corner = mesh.faceOffsets[face]! + 1; corner < mesh.faceOffsets[face + 1]!; corner++)
      if (first >= 0 && set.indices[corner]! >= 0) join(first, set.indices[corner]!)
  }
  const panelOf = Int32Array.from({ length: faceCountOf(mesh) }, (_face, face) => {
    const uv = set.indices[mesh.faceOffsets[face]!]!
    return uv < 0 ? -1 : rootOf(uv)
  })
  return [...new Set(panelOf)].map((panel) =>
    removeFaces(
      mesh,
      Uint8Array.from(panelOf, (own) => Number(own !== panel)),
      { dropLoose: true },
    ),
  )
}

/**
 * Triangles in other places: a point in the middle of each, and every side between two of them turned (Kobbelt 2000,
 * "√3-subdivision", without its smoothing). Borders stay.
 */
function cutAnew(mesh: Mesh): Mesh {
  const faces = faceCountOf(mesh)
  const [set] = mesh.uvSets
  const points = [...mesh.points]
  const values = set ? [...set.values] : []
  const pointCount = points.length / 3
  const uvCount = values.length / 2
  const hasUvs = set && mesh.faceVertices.every((_, corner) => set.indices[corner]! >= 0)
  const middles = (from: ArrayLike<number>, at: readonly number[], width: number): number[] =>
    Array.from({ length: width }, (_, axis) =>
      at.reduce((sum, one) => sum + from[width * one + axis]! / 3, 0),
    )
  const sides = new Map<string, number>()
  for (let corner = 0; corner < 3 * faces; corner++) {
    const next = corner - (corner % 3) + ((corner + 1) % 3)
    sides.set(`${mesh.faceVertices[corner]} ${mesh.faceVertices[next]}`, corner)
  }
  const vertices: number[] = []
  const uvs: number[] = []
  const faceMaterials: number[] = []
  const add = (face: number, own: readonly (readonly [number, number])[]): void => {
    for (const [point, uv] of own) {
      vertices.push(point)
      uvs.push(uv)
    }
    faceMaterials.push(mesh.faceMaterials?.[face] ?? -1)
  }
  const cornersOf = (face: number): number[] => [0, 1, 2].map((k) => mesh.faceVertices[3 * face + k]!)
  for (let face = 0; face < faces; face++) {
    points.push(...middles(mesh.points, cornersOf(face), 3))
    if (hasUvs)
      values.push(
        ...middles(
          set.values,
          [0, 1, 2].map((k) => set.indices[3 * face + k]!),
          2,
        ),
      )
  }
  for (let face = 0; face < faces; face++)
    cornersOf(face).forEach((from, k) => {
      const corner = 3 * face + k
      const next = 3 * face + ((k + 1) % 3)
      const to = mesh.faceVertices[next]!
      const uvOf = (at: number): number => (hasUvs ? set.indices[at]! : -1)
      const other = sides.get(`${to} ${from}`)
      const middle = [pointCount + face, uvCount + face] as const
      if (other === undefined) add(face, [[from, uvOf(corner)], [to, uvOf(next)], middle])
      else if (other > corner) {
        const there = Math.floor(other / 3)
        // a side that the line between both middles misses stays as it is
        if (hasUvs && !crosses(values, uvOf(corner), uvOf(next), uvCount + face, uvCount + there)) {
          add(face, [[from, uvOf(corner)], [to, uvOf(next)], middle])
          add(there, [
            [to, uvOf(next)],
            [from, uvOf(corner)],
            [pointCount + there, uvCount + there],
          ])
          return
        }
        const beyond = [pointCount + there, uvCount + there] as const
        add(face, [[from, uvOf(corner)], beyond, middle])
        add(face, [[to, uvOf(next)], middle, beyond])
      }
    })
  return {
    ...mesh,
    points: Float64Array.from(points),
    faceVertices: Uint32Array.from(vertices),
    faceOffsets: Uint32Array.from({ length: vertices.length / 3 + 1 }, (_, face) => 3 * face),
    faceMaterials: mesh.faceMaterials && Int32Array.from(faceMaterials),
    uvSets: hasUvs ? [{ ...set, values: Float64Array.from(values), indices: Int32Array.from(uvs) }] : [],
  }
}

/** Whether the way from c to d crosses the one from a to b. */
function crosses(values: readonly number[], a: number, b: number, c: number, d: number): boolean {
  const side = (p: number, q: number, r: number): number =>
    (values[2 * q]! - values[2 * p]!) * (values[2 * r + 1]! - values[2 * p + 1]!) -
    (values[2 * r]! - values[2 * p]!) * (values[2 * q + 1]! - values[2 * p + 1]!)
  return side(c, d, a) * side(c, d, b) < 0
}

/** Where a place of the cloth goes in the wind: waves over all of the model, so that sewn sides stay together. */
function blown(scene: Scene, wind: number): Scene {
  const box = boundsOf(Float64Array.from(scene.meshes.flatMap(({ points }) => Array.from(points))))
  const size = diagonalOf(box) || 1
  return {
    ...scene,
    meshes: scene.meshes.map((mesh) => ({
      ...mesh,
      points: mesh.points.map((value, at) =>
        at % 3 === 2
          ? value +
            0.03 * wind * size * Math.sin((40 * (mesh.points[at - 2]! + 0.5 * mesh.points[at - 1]!)) / size)
          : value,
      ),
    })),
  }
}

/** @param joined all panels of a part stay one part; else each is one. @param anew each is cut into other triangles. */
export function quilt(scene: Scene, joined: boolean, anew = false): Scene {
  const worlds = worldMatrices(scene)
  const triangles = triangulateScene(scene)
  const parts = triangles.nodes.flatMap((node, index) => {
    if (node.mesh < 0) return []
    const mesh = transformMesh(triangles.meshes[node.mesh]!, worlds[index]!)
    const bare: Mesh = { ...mesh, smoothing: null, creases: null, normals: null, groups: null, colorSets: [] }
    return panelsOf(bare).map((panel, at) => ({
      name: joined ? node.name : `${node.name}_panel_${at + 1}`,
      panel: anew ? cutAnew(panel) : panel,
    }))
  })
  return {
    ...scene,
    kept: null,
    cameras: [],
    lights: [],
    meshes: parts.map(({ name, panel }) => ({ ...panel, name, id: '' })),
    nodes: parts.map(({ name }, mesh) => plainNode(name, { mesh })),
  }
}

export const patternMaker: StandInDescriptor = {
  id: 'pattern-maker',
  name: 'The pattern maker',
  description:
    'It takes the surface apart into panels, one for each UV island, cuts them into triangles that share no points, forgets smoothing, creases and groups, and writes an OBJ.',
  action: 'Quilt and bring it back',
  suffix: '_quilted',
  reads: ['obj', 'fbx'],
  parameters: [
    { id: 'joined', title: 'Panels of a part keep its name', kind: 'boolean', default: false },
    { id: 'anew', title: 'Panels get triangles of its own', kind: 'boolean', default: false },
    {
      id: 'wind',
      title: 'Wind that the cloth gives way to',
      kind: 'number',
      unit: '%',
      default: 0,
      min: 0,
      max: 100,
    },
  ],
  run(model, beside, { value, readOptions, codec }) {
    const format = formatOf(model.name)!
    const read = format.read(model, beside, { ...optionsFor(format, readOptions), codec }).scene
    const wind = Number(value('wind')) / 100
    const asSewn = quilt(read, Boolean(value('joined')), Boolean(value('anew')))
    const made = wind > 0 ? blown(asSewn, wind) : asSewn
    const written = formatNamed('obj').write(made, `${stemOf(fileNameOf(model.name))}.obj`, {
      materials: 'names',
      normals: false,
      maps: false,
      codec,
    })
    return {
      files: written.files.filter((file) => formatOf(file.name)),
      log: [
        `The surface was taken apart into ${made.nodes.length} panels, in triangles that share no points.`,
        ...(value('anew') ? ['Each panel was cut into triangles of its own.'] : []),
        ...(wind > 0 ? ['The cloth gave way to the wind.'] : []),
        'Smoothing, creases and groups were forgotten.',
      ],
    }
  },
}
