/** A scene to FBX 7.4 or 7.5, in its binary or its text form. */
import type { Finding } from '../../messages/catalogue.ts'
import { collectMessages } from '../../messages/collector.ts'
import type { Material, MaterialProperty, Slot } from '../../scene/material.ts'
import type { Axis, Scene, Space } from '../../scene/scene.ts'
import { fileNameOf, packagePath, stemOf, type PackageFile } from '../package-file.ts'
import { decompose } from './decompose.ts'
import {
  double,
  int,
  long,
  record,
  writeBinaryTree,
  type WriteRecord,
  type WriteValue,
} from './write-binary-tree.ts'
import { writeTextTree } from './write-text-tree.ts'
import { lossesOf, writeGeometry, type GeometryOptions } from './write-geometry.ts'

export interface FbxWriteOptions {
  readonly version: 7400 | 7500
  readonly form: 'binary' | 'text'
  readonly normals: boolean
  readonly uvs: boolean
  readonly smoothing: boolean
  readonly creases: boolean
  readonly colors: boolean
  readonly materials: 'full' | 'names' | 'none'
  /** Copy the maps' images beside the file. */
  readonly maps: boolean
}
export const FBX_WRITE_CHOICES = {
  version: [7400, 7500],
  form: ['binary', 'text'],
  materials: ['full', 'names', 'none'],
}
export const FBX_WRITE_DEFAULTS: FbxWriteOptions = {
  version: 7400,
  form: 'binary',
  normals: true,
  uvs: true,
  smoothing: true,
  creases: true,
  colors: true,
  materials: 'full',
  maps: true,
}

/** A date for all files, so that the same scene gives the same bytes; the file's identity goes with it. */
const TIME = '1970-01-01 10:00:00:000'
const FILE_ID = Uint8Array.of(
  0x28,
  0xb3,
  0x2a,
  0xeb,
  0xb6,
  0x24,
  0xcc,
  0xc2,
  0xbf,
  0xc8,
  0xb0,
  0x2a,
  0xa9,
  0x2b,
  0xfc,
  0xf1,
)

const P = (name: string, type: string, second: string, flags: string, ...values: WriteValue[]): WriteRecord =>
  record('P', [name, type, second, flags, ...values])
const numberP = (name: string, value: number): WriteRecord => P(name, 'double', 'Number', '', double(value))
const integerP = (name: string, value: number): WriteRecord => P(name, 'int', 'Integer', '', int(value))

function axisRecords(space: Space): WriteRecord[] {
  const parts = (axis: Axis): [number, number] => [
    'xyz'.indexOf(axis.slice(-1)),
    axis.startsWith('-') ? -1 : 1,
  ]
  const [up, upSign] = parts(space.upAxis)
  const [front, frontSign] = parts(space.frontAxis)
  const right = 3 - up - front
  // up x front points along the first axis in a right-handed file
  const turn = (front - up + 3) % 3 === 1 ? 1 : -1
  const rightSign = turn * upSign * frontSign * (space.handedness === 'right' ? 1 : -1)
  return [
    integerP('UpAxis', up),
    integerP('UpAxisSign', upSign),
    integerP('FrontAxis', front),
    integerP('FrontAxisSign', frontSign),
    integerP('CoordAxis', right),
    integerP('CoordAxisSign', rightSign),
    integerP('OriginalUpAxis', up),
    integerP('OriginalUpAxisSign', upSign),
    // a centimetre is what a unit is taken for where the file doesn't say
    numberP('UnitScaleFactor', (space.unitMeters ?? 0.01) * 100),
    numberP('OriginalUnitScaleFactor', (space.unitMeters ?? 0.01) * 100),
  ]
}

/** OBJ's words for what FBX has its own for. */
const FROM_MTL: Readonly<Record<string, string>> = {
  kd: 'DiffuseColor',
  ka: 'AmbientColor',
  ks: 'SpecularColor',
  ke: 'EmissiveColor',
  ns: 'ShininessExponent',
  d: 'Opacity',
}
const SLOT_PROPERTIES: Readonly<Partial<Record<Slot, string>>> = {
  baseColor: 'DiffuseColor',
  ambient: 'AmbientColor',
  specular: 'SpecularColor',
  emissive: 'EmissiveColor',
  shininess: 'ShininessExponent',
  opacity: 'TransparentColor',
  bump: 'Bump',
  normal: 'NormalMap',
  displacement: 'DisplacementColor',
  reflection: 'ReflectionColor',
}

function materialProperty(property: MaterialProperty): WriteRecord {
  const name = FROM_MTL[property.name.toLowerCase()] ?? property.name
  const { values, text } = property
  if (text !== null) return P(name, 'KString', '', '', text)
  if (values.length === 3) return P(name, 'Color', '', 'A', ...values.map(double))
  if (values.length === 1) return P(name, 'Number', '', 'A', double(values[0]!))
  return P(name, 'Vector', '', 'A', ...values.map(double))
}

const objectName = (name: string, kind: string): string => `${name}\0\x01${kind}`

/**
 * Writes nodes with their transforms, meshes with all layers, materials and maps. Cameras, lights, blend
 * shapes and skins are not written yet and are said; a transform that shears is written without its shear.
 */
export function writeFbx(
  scene: Scene,
  fileName: string,
  options: Partial<FbxWriteOptions> = {},
): { files: PackageFile[]; findings: readonly Finding[]; space: Space } {
  const settings = { ...FBX_WRITE_DEFAULTS, ...options }
  const messages = collectMessages(fileName)
  const objects: WriteRecord[] = []
  const links: WriteRecord[] = []
  const counts = new Map<string, number>()
  let nextId = 1000000
  const add = (kind: string, name: string, type: string, children: readonly WriteRecord[]): number => {
    const id = nextId++
    objects.push(
      record(
        kind,
        [long(id), objectName(name, kind === 'NodeAttribute' ? 'NodeAttribute' : kind), type],
        children,
      ),
    )
    counts.set(kind, (counts.get(kind) ?? 0) + 1)
    return id
  }
  const link = (child: number, parent: number, property?: string): void => {
    links.push(
      record('C', property ? ['OP', long(child), long(parent), property] : ['OO', long(child), long(parent)]),
    )
  }

  const files: PackageFile[] = []
  const materialIds =
    settings.materials === 'none'
      ? []
      : scene.materials.map((material) => addMaterial(material, settings.materials === 'full'))
  const geometryOptions: GeometryOptions = {
    ...settings,
    smoothing: settings.smoothing ? 'own' : 'none',
    materials: settings.materials !== 'none',
  }
  const geometryIds = scene.meshes.map((mesh) =>
    add('Geometry', mesh.name, 'Mesh', [record('Properties70'), ...writeGeometry(mesh, geometryOptions)]),
  )
  const nodeIds: number[] = []
  scene.nodes.forEach((node) => {
    const { translation, rotation, scaling, error } = decompose(node.local)
    if (error > 1e-6)
      messages.add('write.not-carried', { format: 'FBX', what: `the shear of “${node.name}”` })
    const id = add('Model', node.name, node.mesh < 0 ? 'Null' : 'Mesh', [
      record('Version', [int(232)]),
      record(
        'Properties70',
        [],
        [
          P('InheritType', 'enum', '', '', int(1)),
          P('Lcl Translation', 'Lcl Translation', '', 'A', ...translation.map(double)),
          P('Lcl Rotation', 'Lcl Rotation', '', 'A', ...rotation.map(double)),
          P('Lcl Scaling', 'Lcl Scaling', '', 'A', ...scaling.map(double)),
          ...(node.visible ? [] : [P('Visibility', 'Visibility', '', 'A', double(0))]),
          ...Object.entries(node.properties).map(([name, value]) =>
            typeof value === 'string'
              ? P(name, 'KString', '', 'U', value)
              : P(name, 'Number', '', 'AU', ...[value].flat().map((part) => double(Number(part)))),
          ),
        ],
      ),
      record('Shading', [true]),
      record('Culling', ['CullingOff']),
    ])
    nodeIds.push(id)
    link(id, node.parent < 0 ? 0 : nodeIds[node.parent]!)
    if (node.mesh < 0) return
    link(geometryIds[node.mesh]!, id)
    for (const material of new Set(scene.meshes[node.mesh]!.faceMaterials ?? []))
      if (material >= 0 && materialIds[material] !== undefined) link(materialIds[material]!, id)
  })
  const lost = new Set(scene.meshes.flatMap((mesh) => lossesOf(mesh, geometryOptions)))
  if (scene.cameras.length) lost.add('cameras')
  if (scene.lights.length) lost.add('lights')
  for (const what of lost) messages.add('write.not-carried', { format: 'FBX', what })

  const total = [...counts.values()].reduce((sum, count) => sum + count, 1)
  const document = (settings.form === 'text' ? writeTextTree : writeBinaryTree)(
    [
      record(
        'FBXHeaderExtension',
        [],
        [
          record('FBXHeaderVersion', [int(1003)]),
          record('FBXVersion', [int(settings.version)]),
          record('EncryptionType', [int(0)]),
          record('Creator', ['Kelbo']),
        ],
      ),
      record('FileId', [FILE_ID]),
      record('CreationTime', [TIME]),
      record('Creator', ['Kelbo']),
      record(
        'GlobalSettings',
        [],
        [record('Version', [int(1000)]), record('Properties70', [], axisRecords(scene.space))],
      ),
      record(
        'Documents',
        [],
        [
          record('Count', [int(1)]),
          record('Document', [long(999999), '', 'Scene'], [record('RootNode', [long(0)])]),
        ],
      ),
      record('References'),
      record(
        'Definitions',
        [],
        [
          record('Version', [int(100)]),
          record('Count', [int(total)]),
          record('ObjectType', ['GlobalSettings'], [record('Count', [int(1)])]),
          ...[...counts].map(([kind, count]) =>
            record('ObjectType', [kind], [record('Count', [int(count)])]),
          ),
        ],
      ),
      record('Objects', [], objects),
      record('Connections', [], links),
    ],
    settings.version,
  )
  return {
    files: [{ name: fileName, bytes: document }, ...files],
    findings: messages.list(),
    space: scene.space,
  }

  function addMaterial(material: Material, full: boolean): number {
    const id = add('Material', material.name, '', [
      record('Version', [int(102)]),
      record('ShadingModel', [material.model === 'lambert' ? 'lambert' : 'phong']),
      record('MultiLayer', [int(0)]),
      record('Properties70', [], full ? material.properties.map(materialProperty) : []),
    ])
    if (!full) return id
    for (const map of material.maps) {
      const file = packagePath(map.file)
      const video = add('Video', stemOf(map.file), 'Clip', [
        record('Type', ['Clip']),
        record('Properties70'),
        record('UseMipMap', [int(0)]),
        record('Filename', [map.file]),
        record('RelativeFilename', [map.file]),
      ])
      const texture = add('Texture', stemOf(map.file), '', [
        record('Type', ['TextureVideoClip']),
        record('Version', [int(202)]),
        record('TextureName', [objectName(stemOf(map.file), 'Texture')]),
        record('Properties70'),
        record('Media', [objectName(stemOf(map.file), 'Video')]),
        record('FileName', [map.file]),
        record('RelativeFilename', [map.file]),
      ])
      link(video, texture)
      // a file of FBX's own wording keeps it
      link(texture, id, scene.format === 'fbx' ? map.property : (SLOT_PROPERTIES[map.slot] ?? map.property))
      const image = scene.images.find((candidate) => candidate.file === map.file)
      if (settings.maps && image?.bytes && !files.some((known) => known.name === file))
        files.push({ name: file || fileNameOf(map.file), bytes: image.bytes })
    }
    return id
  }
}
