/**
 * Alembic to a scene. Source: Alembic’s open-source layout and schemas (AbcGeom: Xform, PolyMesh, SubD, FaceSet,
 * visibility), written down from memory; polygons wind clockwise there.
 */
import { decodeLatin1 } from '../../base/bytes/text.ts'
import type { Finding } from '../../base/messages/catalogue.ts'
import { collectMessages, KelboError, type MessageCollector } from '../../base/messages/collector.ts'
import { bareMaterial } from '../../scene/bare-material.ts'
import type { KeptRecord } from '../../scene/kept.ts'
import type { Material } from '../../scene/material.ts'
import { type Mesh } from '../../scene/mesh.ts'
import { EMPTY_SCENE, type CustomProperties, type Scene, type SceneNode } from '../../scene/scene.ts'
import { objectOf, textOf } from '../notes/json.ts'
import type { PackageFile } from '../package/package-file.ts'
import { ArchiveFault, type AbcObject } from './archive-tree.ts'
import { ALEMBIC_READ_DEFAULTS, type AlembicReadOptions } from './options.ts'
import { compoundIn, numbersAt, schemaOf, valuesIn, type Sampling } from './property-access.ts'
import { isArchive, readArchive } from './read-archive.ts'
import { writeArchive } from './write-archive.ts'
import { notesIn, readMesh } from './read-mesh.ts'
import { placeOf } from './read-place.ts'

const KEPT_WORDS: Readonly<Record<string, string>> = {
  AbcGeom_Curve: 'curves',
  AbcGeom_Points: 'points',
  AbcGeom_Camera: 'cameras',
  AbcGeom_NuPatch: 'curved surfaces',
  AbcGeom_Light: 'lights',
}

/**
 * Findings: `alembic.*`.
 * @throws KelboError `file.empty`, `file.not-a-model`, `alembic.broken`, `alembic.old`.
 */
export function readAlembic(
  file: PackageFile,
  options: Partial<AlembicReadOptions> = {},
): { scene: Scene; findings: readonly Finding[] } {
  const settings: AlembicReadOptions = { ...ALEMBIC_READ_DEFAULTS, ...options }
  const messages = collectMessages(file.name)
  if (file.bytes.length === 0) throw new KelboError('file.empty', {}, file.name)
  if (decodeLatin1(file.bytes, 1, 4) === 'HDF') throw new KelboError('alembic.old', {}, file.name)
  if (!isArchive(file.bytes)) throw new KelboError('file.not-a-model', {}, file.name)
  try {
    return sceneOf(file, settings, messages)
  } catch (error) {
    if (error instanceof ArchiveFault)
      throw new KelboError('alembic.broken', { what: error.message }, file.name)
    if (error instanceof RangeError)
      throw new KelboError(
        'alembic.broken',
        { what: 'a length or an address in it is impossible' },
        file.name,
      )
    throw error
  }
}

function sceneOf(
  file: PackageFile,
  settings: AlembicReadOptions,
  messages: MessageCollector,
): { scene: Scene; findings: readonly Finding[] } {
  const archive = readArchive(file.bytes)
  let most = 1
  const sampling: Sampling = { sample: settings.sample, seen: (count) => (most = Math.max(most, count)) }
  const nodes: SceneNode[] = []
  const meshes: Mesh[] = []
  const materials: Material[] = []
  const sections: KeptRecord[] = []
  const words = new Set<string>()

  const materialOf = (name: string): number => {
    const known = materials.findIndex((material) => material.name === name)
    return known >= 0 ? known : materials.push(bareMaterial(name)) - 1
  }
  const isHidden = (object: AbcObject): boolean => numbersAt(valuesIn(object, 'visible'), sampling)?.[0] === 0
  const visit = (object: AbcObject, parent: number, path: string): void => {
    const schema = schemaOf(object)
    const isMesh = /^AbcGeom_(PolyMesh|SubD)_/.test(schema)
    const isTransform = schema.startsWith('AbcGeom_Xform')
    const own = `${path}/${object.name}`
    if (schema.startsWith('AbcGeom_FaceSet')) return
    if (schema !== '' && !isMesh && !isTransform) {
      const kind = schema.replace(/_v\d+$/, '')
      words.add(KEPT_WORDS[kind] ?? kind.replace(/^AbcGeom_/, ''))
      const bytes = writeArchive({
        ...archive,
        root: { name: '', metadata: '', properties: [], children: [object] },
      })
      sections.push({ name: path, kinds: '', values: [bytes], children: [] })
      return
    }
    const said = isTransform ? notesIn(compoundIn(object, '.xform'), sampling) : null
    const name = textOf(said?.name) || object.name
    if (isMesh && parent >= 0 && nodes[parent]!.mesh < 0 && nodes[parent]!.source === path) {
      // a shape under its place is one part
      const mesh = readMesh(object, nodes[parent]!.name, sampling, materialOf, messages)
      if (mesh) nodes[parent] = { ...nodes[parent]!, mesh: meshes.push(mesh) - 1, visible: nodes[parent]!.visible && !isHidden(object) } // prettier-ignore
    } else {
      const { local, unknown } = placeOf(object, sampling)
      if (unknown > 0)
        messages.add('alembic.part', { place: `Of what places “${name}”, ${unknown} of the operations`, why: 'nothing that can be read is said there' }) // prettier-ignore
      const mesh = isMesh ? readMesh(object, name, sampling, materialOf, messages) : null
      const properties = (objectOf(said?.properties) ?? {}) as CustomProperties
      nodes.push({
        id: '',
        name,
        parent,
        mesh: mesh ? meshes.push(mesh) - 1 : -1,
        visible: !isHidden(object),
        local,
        transform: null,
        properties,
        source: own,
      })
      parent = nodes.length - 1
    }
    for (const child of object.children) visit(child, parent, own)
  }
  for (const child of archive.root.children) visit(child, -1, '')
  if (nodes.length === 0) throw new KelboError('file.not-a-model', {}, file.name)
  if (most > 1) messages.add('alembic.sampled', { count: most, sample: settings.sample })
  if (words.size) messages.add('alembic.kept', { what: [...words].join(', ') })
  const up = settings.upAxis
  return {
    scene: {
      ...EMPTY_SCENE,
      format: 'alembic',
      formatVersion: archive.version ? String(archive.version) : null,
      space: { unitMeters: settings.unitMeters, upAxis: up, frontAxis: up.endsWith('z') ? '-y' : 'z', handedness: 'right' }, // prettier-ignore
      nodes,
      meshes,
      materials,
      ...(sections.length
        ? { kept: { format: 'alembic', objects: [], links: [], sections, settings: [] } }
        : {}),
    },
    findings: messages.list(),
  }
}
