/** A scene to Alembic (Ogawa), one sample. Source: as in read-alembic.ts; polygons wind clockwise there. */
import { encodeUtf8 } from '../../base/bytes/text.ts'
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages } from '../../base/messages/collector.ts'
import { boundsOf } from '../../base/math/box.ts'
import { isIdentity } from '../../base/math/matrix.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene, SceneNode, Space } from '../../scene/scene.ts'
import { chooseNodes, moveToSpace, triangulateScene } from '../arrange/arrange-scene.ts'
import { lossesOfKept } from '../arrange/losses-of-kept.ts'
import { notesOf } from '../notes/mesh-notes.ts'
import type { PackageFile } from '../package/package-file.ts'
import type { AbcCompound, AbcObject, AbcProperty, AbcValues, Pod } from './archive-tree.ts'
import { ALEMBIC_WRITE_DEFAULTS, type AlembicWriteOptions } from './options.ts'
import { MATERIAL_SET, NOTES } from './read-mesh.ts'
import { readArchive } from './read-archive.ts'
import { writeArchive } from './write-archive.ts'

/** The version of the layout that these schemas are of. */
const VERSION = 10709

function property(
  kind: 'scalar' | 'array',
  name: string,
  pod: Pod,
  extent: number,
  values: ArrayLike<number>,
  metadata = '',
): AbcValues {
  const ARRAYS = { bool: Uint8Array, uint8: Uint8Array, int8: Int8Array, uint16: Uint16Array, int16: Int16Array, uint32: Uint32Array, int32: Int32Array, float32: Float32Array, float64: Float64Array } as const // prettier-ignore
  const typed = ARRAYS[pod as keyof typeof ARRAYS].from(values)
  const bytes = new Uint8Array(typed.buffer, typed.byteOffset, typed.byteLength)
  return {
    kind,
    name,
    metadata,
    pod,
    extent,
    samples: [{ bytes, dimensions: [] }],
    count: 1,
    firstChanged: 0,
    lastChanged: 0,
    timeSampling: 0,
  }
}
const text = (name: string, value: string): AbcValues => ({
  ...property('scalar', name, 'uint8', 1, []),
  pod: 'string',
  samples: [{ bytes: Uint8Array.from([...encodeUtf8(value.replace(/\0/g, '')), 0]), dimensions: [] }],
})
const compound = (name: string, properties: readonly AbcProperty[], metadata = ''): AbcCompound => ({
  kind: 'compound',
  name,
  metadata,
  properties,
})
const noted = (notes: object): AbcProperty[] =>
  Object.keys(notes).length ? [compound('.userProperties', [text(NOTES, JSON.stringify(notes))])] : []

const paramWords = (scope: string, interpretation: string, extent: number, source = ''): string =>
  `geoScope=${scope};interpretation=${interpretation};isGeomParam=true;podExtent=${extent};podName=float32_t${source ? `;sourceName=${source}` : ''}` // prettier-ignore

/** Corner values in the order of the file; those of corners that have none lead to one more value. */
function indexedParam(
  name: string,
  values: ArrayLike<number>,
  width: number,
  indices: ArrayLike<number>,
  order: Uint32Array,
  words: string,
): AbcCompound {
  // prettier-ignore
  const count = values.length / width
  let isMissing = false
  const own = Uint32Array.from(order, (corner) => {
    const index = indices[corner]!
    if (index < 0) isMissing = true
    return index < 0 ? count : index
  })
  const all = isMissing
    ? Float64Array.from({ length: values.length + width }, (_none, at) => values[at] ?? 0)
    : values
  return compound(
    name,
    [property('array', '.vals', 'float32', width, all), property('array', '.indices', 'uint32', 1, own)],
    words,
  )
}

/** Corners in the order of the file: each polygon turned round, its first corner first. */
function turnedCorners({ faceOffsets, faceVertices }: Mesh): Uint32Array {
  const order = new Uint32Array(faceVertices.length)
  for (let face = 0; face + 1 < faceOffsets.length; face++) {
    const [from, to] = [faceOffsets[face]!, faceOffsets[face + 1]!]
    for (let k = from; k < to; k++) order[k] = k === from ? from : to - (k - from)
  }
  return order
}

/** What a set leaves unsaid: which corners have no value. */
const absentIn = (indices: ArrayLike<number>): number[] => {
  const corners: number[] = []
  for (let corner = 0; corner < indices.length; corner++) if (indices[corner]! < 0) corners.push(corner)
  return corners
}

function meshObject(
  name: string,
  mesh: Mesh,
  scene: Scene,
  settings: AlembicWriteOptions,
  lost: Set<string>,
): AbcObject {
  const { points, faceOffsets, faceVertices, creases, subdivision, normals, uvSets, colorSets, groups } = mesh
  const scheme = settings.creases ? subdivision.scheme : 'none'
  // creases have a place in a subdivided surface alone
  const isSubdivided = scheme !== 'none' || (settings.creases && creases !== null)
  const order = turnedCorners(mesh)
  const counts = Array.from({ length: faceOffsets.length - 1 }, (_none, face) => faceOffsets[face + 1]! - faceOffsets[face]!) // prettier-ignore
  const box = boundsOf(points)
  const properties: AbcProperty[] = [
    property('scalar', '.selfBnds', 'float64', 6, box ? [...box.min, ...box.max] : [0, 0, 0, 0, 0, 0], 'interpretation=box'), // prettier-ignore
    property('array', 'P', 'float32', 3, points, 'geoScope=vtx;interpretation=point'),
    property(
      'array',
      '.faceIndices',
      'int32',
      1,
      Array.from(order, (corner) => faceVertices[corner]!),
    ),
    property('array', '.faceCounts', 'int32', 1, counts),
  ]
  if (settings.uvs && uvSets.length) {
    const [first] = uvSets
    properties.push(indexedParam('uv', first!.values, 2, first!.indices, order, paramWords('fvr', 'vector', 2, first!.name.replace(/[;=]/g, '_')))) // prettier-ignore
    if (uvSets.some(({ depths }) => depths)) lost.add('third coordinates of UVs')
  }
  if (settings.normals && normals)
    if (isSubdivided) lost.add('normals of subdivided surfaces')
    else properties.push(indexedParam('N', normals.values, 3, normals.indices, order, paramWords('fvr', 'normal', 3))) // prettier-ignore
  const more: AbcProperty[] = []
  const taken = new Set<string>()
  const unique = (wish: string): string => {
    const plain = wish.replace(/[/;=\0]/g, '_') || 'set'
    let own = plain
    for (let number = 2; taken.has(own); number++) own = `${plain}_${number}`
    taken.add(own)
    return own
  }
  if (settings.uvs)
    for (const { name: own, values, indices } of uvSets.slice(1))
      more.push(indexedParam(unique(own), values, 2, indices, order, paramWords('fvr', 'vector', 2)))
  if (settings.colors)
    for (const { name: own, values, components, per, indices } of colorSets) {
      const words = (scope: string): string =>
        paramWords(scope, components === 4 ? 'rgba' : 'rgb', components)
      if (per === 'points')
        more.push(property('array', unique(own), 'float32', components, values, words('vtx')))
      else more.push(indexedParam(unique(own), values, components, indices, order, words('fvr')))
    }
  if (more.length) properties.push(compound('.arbGeomParams', more))
  if (isSubdivided) {
    properties.push(text('.scheme', scheme === 'none' ? 'catmull-clark' : scheme))
    if (subdivision.boundary)
      properties.push(property('scalar', '.interpolateBoundary', 'int32', 1, [subdivision.boundary === 'edge-and-corner' ? 1 : 2])) // prettier-ignore
    if (creases && settings.creases) {
      const edges = creases.edgeSharpness.length
      if (edges)
        properties.push(
          property('array', '.creaseIndices', 'int32', 1, creases.edgePoints),
          property('array', '.creaseLengths', 'int32', 1, new Uint8Array(edges).fill(2)),
          property('array', '.creaseSharpnesses', 'float32', 1, creases.edgeSharpness),
        )
      if (creases.cornerPoints.length)
        properties.push(
          property('array', '.cornerIndices', 'int32', 1, creases.cornerPoints),
          property('array', '.cornerSharpnesses', 'float32', 1, creases.cornerSharpness),
        )
    }
  }
  const overlaps = groups?.sets.some((set) => set.length > 1) ?? false
  const absent = Object.fromEntries(
    [...uvSets.map(({ indices }, set) => [`uv ${set}`, absentIn(indices)] as const), ...(normals ? [['normals', absentIn(normals.indices)] as const] : [])].filter(([, corners]) => corners.length), // prettier-ignore
  )
  const own = {
    ...notesOf(mesh, { ...settings, creases: false, groups: settings.groups && overlaps }),
    ...(settings.creases && (subdivision.scheme !== 'none' || (creases && isSubdivided)) ? { subdivision: { ...subdivision } } : {}), // prettier-ignore
    ...(settings.uvs && uvSets.length ? { uvSetNames: uvSets.map(({ name: set }) => set) } : {}),
    ...(settings.colors && colorSets.length ? { colorSetNames: colorSets.map(({ name: set }) => set) } : {}),
    ...(Object.keys(absent).length ? { absent } : {}),
  }
  if (mesh.shapes.length) lost.add('blend shapes')
  if (mesh.skin) lost.add('skins')
  if (mesh.lines) lost.add('lines between points')
  if (mesh.pointElements) lost.add('single points as such')
  if (mesh.pointWeights) lost.add('rational weights of points')
  if (mesh.layers?.length) lost.add('further layers of polygons and points')
  properties.push(
    ...noted(Object.keys(own).length ? { points: points.length / 3, polygons: counts.length, ...own } : {}),
  )
  const sets: AbcObject[] = []
  const setNames = new Set<string>()
  const addSet = (shown: string, faces: readonly number[], isMaterial: boolean): void => {
    const plain = shown.replace(/[/\0]/g, '_') || 'set'
    let setName = plain
    for (let number = 2; setNames.has(setName); number++) setName = `${plain}_${number}`
    setNames.add(setName)
    const said = {
      ...(setName === shown ? {} : { name: shown }),
      ...(isMaterial ? { [MATERIAL_SET]: true } : {}),
    }
    sets.push({
      name: setName,
      metadata: 'schema=AbcGeom_FaceSet_v1;schemaBaseType=AbcGeom_GeomBase_v1;schemaObjTitle=AbcGeom_FaceSet_v1:.faceset', // prettier-ignore
      properties: [compound('.faceset', [property('array', '.faces', 'int32', 1, faces), ...noted(said)], 'schema=AbcGeom_FaceSet_v1')], // prettier-ignore
      children: [],
    })
  }
  if (settings.materials === 'names' && mesh.faceMaterials)
    for (const material of [...new Set(mesh.faceMaterials)].filter((one) => one >= 0).sort((a, b) => a - b)) {
      const faces: number[] = []
      mesh.faceMaterials.forEach((one, face) => one === material && faces.push(face))
      addSet(scene.materials[material]!.name, faces, true)
    }
  if (settings.groups && groups)
    groups.names.forEach((shown, group) => {
      const faces: number[] = []
      groups.faceSets.forEach((set, face) => {
        if (set >= 0 && groups.sets[set]!.includes(group)) faces.push(face)
      })
      addSet(shown, faces, false)
    })
  const schema = isSubdivided ? 'AbcGeom_SubD_v1' : 'AbcGeom_PolyMesh_v1'
  return {
    name,
    metadata: `schema=${schema};schemaBaseType=AbcGeom_GeomBase_v1;schemaObjTitle=${schema}:.geom`,
    properties: [compound('.geom', properties, `schema=${schema};schemaBaseType=AbcGeom_GeomBase_v1`)],
    children: sets,
  }
}

/**
 * Writes what the options ask for, in their unit and axes, as one sample. The same scene and options give the same bytes.
 * Findings: `write.not-carried`, `write.part-skipped`, `write.not-converted`.
 */
export function writeAlembic(
  whole: Scene,
  fileName: string,
  options: Partial<AlembicWriteOptions> = {},
): { files: PackageFile[]; findings: readonly Finding[]; space: Space } {
  const settings: AlembicWriteOptions = { ...ALEMBIC_WRITE_DEFAULTS, ...options }
  const messages = collectMessages(fileName)
  let chosen = chooseNodes(whole, { ...settings, cameras: false, lights: false })
  if (settings.triangulate) chosen = triangulateScene(chosen)
  const { upAxis: own, frontAxis, handedness } = chosen.space
  const upAxis = settings.upAxis ?? (own === 'z' && frontAxis === '-y' && handedness === 'right' ? 'z' : 'y')
  const scene = moveToSpace(chosen, {
    unitMeters: settings.unitMeters,
    unitAs: settings.unitAs,
    scale: settings.scale,
    upAxis,
    frontAxis: upAxis === 'z' ? '-y' : 'z',
    mirrored: false,
    axesAs: 'points',
  })
  const lost = new Set<string>()
  if (scene.materials.length && settings.materials === 'names') lost.add('materials beyond their names')
  if (whole.cameras.length) lost.add('cameras')
  if (whole.lights.length) lost.add('lights')
  if (Object.keys(scene.properties).length) lost.add('properties of the scene')
  const children = scene.nodes.map((): number[] => [])
  const roots: number[] = []
  scene.nodes.forEach(({ parent }, index) => (parent < 0 ? roots : children[parent]!).push(index))
  const kept = scene.kept?.format === 'alembic' ? scene.kept.sections : []
  const keptUnder = (path: string | undefined): AbcObject[] =>
    kept.flatMap(({ name, values }) =>
      path !== undefined && name === path && values[0] instanceof Uint8Array
        ? readArchive(values[0]).root.children
        : [],
    )
  const objectsOf = (indices: readonly number[], more: readonly AbcObject[]): AbcObject[] => {
    const taken = new Set(more.map(({ name }) => name))
    return [
      ...indices.map((index) => {
        const plain = scene.nodes[index]!.name.replace(/[/\0]/g, '_') || 'node'
        let name = plain
        for (let number = 2; taken.has(name); number++) name = `${plain}_${number}`
        taken.add(name)
        return nodeObject(scene.nodes[index]!, index, name)
      }),
      ...more,
    ]
  }
  const nodeObject = (node: SceneNode, index: number, name: string): AbcObject => {
    const said = {
      ...(name === node.name ? {} : { name: node.name }),
      ...(Object.keys(node.properties).length ? { properties: node.properties } : {}),
    }
    const isPlaced = !isIdentity(node.local)
    const transform = compound(
      '.xform',
      [
        property('scalar', '.inherits', 'bool', 1, [1]),
        ...(isPlaced
          ? [
              property('scalar', 'isNotConstantIdentity', 'bool', 1, [1]),
              // one matrix
              property('scalar', '.ops', 'uint8', 1, [0x30]),
              property('scalar', '.vals', 'float64', 16, node.local),
            ]
          : []),
        ...noted(said),
      ],
      'schema=AbcGeom_Xform_v3',
    )
    const mesh = node.mesh < 0 ? null : scene.meshes[node.mesh]!
    if (mesh && mesh.points.length === 0) messages.add('write.part-skipped', { name: node.name })
    const shape =
      mesh && mesh.points.length > 0 ? [meshObject(`${name}Shape`, mesh, scene, settings, lost)] : []
    return {
      name,
      metadata: 'schema=AbcGeom_Xform_v3;schemaObjTitle=AbcGeom_Xform_v3:.xform',
      properties: [transform, ...(node.visible ? [] : [property('scalar', 'visible', 'int8', 1, [0])])],
      children: objectsOf(children[index]!, [...shape, ...keptUnder(node.source)]).sort(
        // the shape stands first, so that who reads one part takes it for that
        (a, b) => Number(b === shape[0]) - Number(a === shape[0]),
      ),
    }
  }
  const bytes = writeArchive({
    version: VERSION,
    metadata: '_ai_Application=Kelbo',
    samplings: [{ maxSample: 1, perCycle: 1, times: [0] }],
    root: { name: '', metadata: '', properties: [], children: objectsOf(roots, keptUnder('')) },
  })
  for (const what of lossesOfKept(scene, 'alembic')) lost.add(what)
  if (kept.length && scene.kept?.since && (scene.kept.since.turned || scene.kept.since.scale !== 1))
    messages.add('write.not-converted', { what: 'what else the file has beside the model' })
  for (const what of lost) messages.add('write.not-carried', { format: 'Alembic', what })
  return { files: [{ name: fileName, bytes }], findings: messages.list(), space: scene.space }
}
