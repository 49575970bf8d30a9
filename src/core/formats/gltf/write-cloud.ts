/** A mesh without polygons and lines: its points, drawn as points. Source: glTF 2.0, section 3.7.2.1, mode 0. */
import type { Mesh } from '../../scene/mesh.ts'
import { writeExtras } from './kept-extras.ts'
import { CLOUD_NORMALS, POINT_ATTRIBUTE } from '../notes/mesh-notes.ts'
import { TARGETS, type BufferWriter } from './buffer-writer.ts'
import { floatsOf, unitVectors } from './corner-channels.ts'
import type { GltfWriteOptions } from './options.ts'
import { influencesOf, writeInfluences, writeTarget } from './write-deformations.ts'
import type { WrittenMesh } from './written-mesh.ts'

const TYPES = ['SCALAR', 'VEC2', 'VEC3', 'VEC4'] as const

/** @param mesh one that has points and nothing over them. */
export function writeCloud(
  mesh: Mesh,
  settings: GltfWriteOptions,
  writer: BufferWriter,
  lost: Set<string>,
): WrittenMesh {
  const pointCount = mesh.points.length / 3
  const broken = { count: 0 }
  const options = { target: TARGETS.vertices }
  const attributes: Record<string, number> = {
    POSITION: writer.floats(floatsOf(mesh.points, broken), 'VEC3', { bounds: true, ...options }),
  }
  const ofPoints = (mesh.layers ?? []).filter(({ per, indices }) => per === 'points' && !indices)
  const normals = CLOUD_NORMALS.map((kind) =>
    ofPoints.find((layer) => layer.kind === kind && layer.width === 1),
  )
  const hasNormals = normals.every(Boolean) && settings.normals
  if (hasNormals) {
    const values = new Float64Array(3 * pointCount)
    normals.forEach((layer, axis) => layer!.values.forEach((value, at) => (values[3 * at + axis] = value)))
    attributes['NORMAL'] = writer.floats(
      unitVectors(values, () => [0, 1, 0]),
      'VEC3',
      options,
    )
  }
  const colors = settings.colors ? mesh.colorSets.filter(({ per }) => per === 'points') : []
  colors.forEach(({ components, values }, number) => {
    const own = floatsOf(values, broken)
    if (own.some((value) => value < 0 || value > 1)) {
      lost.add('vertex colours beyond 0 and 1; they are the nearest of these in it')
      for (let at = 0; at < own.length; at++) own[at] = Math.max(0, Math.min(1, own[at]!))
    }
    attributes[`COLOR_${number}`] = writer.floats(own, components === 4 ? 'VEC4' : 'VEC3', options)
  })
  for (const layer of mesh.layers ?? []) {
    if (hasNormals && normals.includes(layer)) continue
    if (
      layer.kind === POINT_ATTRIBUTE ||
      !layer.kind.startsWith('_') ||
      layer.width > 4 ||
      !ofPoints.includes(layer)
    )
      lost.add(`the values “${layer.kind}” that its file has beside the mesh`)
    else
      attributes[layer.kind] = writer.floats(floatsOf(layer.values, broken), TYPES[layer.width - 1]!, options)
  }
  if (mesh.pointWeights) lost.add('rational weights of points')
  if (broken.count > 0) lost.add('numbers that are none; they are 0 in it')
  const all = Uint32Array.from({ length: pointCount }, (_none, point) => point)
  if (settings.shapes && mesh.skin)
    Object.assign(attributes, writeInfluences(influencesOf(mesh, lost), all, writer))
  const shapes = settings.shapes ? mesh.shapes : []
  const names = {
    points: pointCount,
    polygons: 0,
    bare: true,
    ...(colors.length ? { colorSetNames: colors.map(({ name }) => name) } : {}),
    ...(shapes.length ? { targetNames: shapes.map(({ name }) => name) } : {}),
  }
  return {
    extensions: [],
    json: {
      name: mesh.ownName ?? mesh.name,
      primitives: [
        {
          attributes,
          mode: 0,
          ...(shapes.length
            ? {
                targets: shapes.map((shape) =>
                  writeTarget(shape, all, pointCount, writer, attributes, settings, lost),
                ),
              }
            : {}),
        },
      ],
      ...(shapes.some(({ weight = 0 }) => weight !== 0)
        ? { weights: shapes.map(({ weight = 0 }) => weight / 100) }
        : {}),
      ...writeExtras(names as never, mesh.kept),
    },
  }
}
