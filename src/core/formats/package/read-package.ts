import type { Finding } from '../../base/messages/catalogue.ts'
import { KelboError } from '../../base/messages/collector.ts'
import type { Material } from '../../scene/material.ts'
import type { Mesh } from '../../scene/mesh.ts'
import {
  EMPTY_SCENE,
  type Scene,
  type SceneCamera,
  type SceneImage,
  type SceneNode,
} from '../../scene/scene.ts'
import { fileNameOf, type PackageFile } from './package-file.ts'
import { FORMATS, formatOf, type ReadOptions } from '../registry.ts'
import { isZip, readZip, ZIP_LIMITS_DEFAULTS, type ZipLimits } from './read-zip.ts'

export interface PackageResult {
  readonly scene: Scene
  readonly findings: readonly Finding[]
  /** Names of the model files that were read. */
  readonly models: readonly string[]
}

/**
 * Reads what an artist drops: model files, with material files and images beside them, or ZIPs of these.
 * Parts of several models are appended to one scene; materials of the same name are one material.
 *
 * @throws KelboError `package.no-model`, `file.unknown-format`, and what reading the only model throws. Of
 * several models one that can't be read becomes a finding.
 */
export function readPackage(
  dropped: readonly PackageFile[],
  options: ReadOptions = {},
  limits: ZipLimits = ZIP_LIMITS_DEFAULTS,
  progress: (share: number) => void = () => {},
): PackageResult {
  const findings: Finding[] = []
  const files: PackageFile[] = []
  for (const file of dropped)
    if (isZip(file)) {
      const unpacked = readZip(file, limits)
      files.push(...unpacked.files)
      findings.push(...unpacked.findings)
    } else files.push(file)
  progress(0.1)
  const models = files.filter((file) => formatOf(file.name))
  if (models.length === 0) {
    const only = dropped.length === 1 && !isZip(dropped[0]!) ? dropped[0]! : null
    if (!only) throw new KelboError('package.no-model')
    const known = FORMATS.map((format) => format.name).join(', ')
    throw new KelboError('file.unknown-format', { name: fileNameOf(only.name), known }, only.name)
  }
  let scene: Scene | null = null
  let failure: KelboError | null = null
  const read: string[] = []
  models.forEach((model, index) => {
    try {
      const format = formatOf(model.name)!
      const { assumed, ...asked } = options
      const result = format.read(model, files, { ...assumed?.[format.id], ...asked })
      findings.push(...result.findings)
      scene = scene ? appendScene(scene, result.scene) : result.scene
      read.push(model.name)
    } catch (error) {
      if (!(error instanceof KelboError)) throw error
      failure = error
      if (models.length > 1)
        findings.push({
          code: error.code,
          parameters: error.parameters,
          file: model.name,
          line: null,
          byte: null,
          total: 1,
        })
    }
    progress(0.1 + (0.9 * (index + 1)) / models.length)
  })
  if (!scene) throw failure ?? new KelboError('package.no-model')
  return { scene, findings, models: read }
}

/** The nodes, meshes and materials of `more` behind those of `scene`. */
export function appendScene(scene: Scene, more: Scene): Scene {
  const materials: Material[] = [...scene.materials]
  const materialMap = more.materials.map((material) => {
    const known = materials.findIndex((candidate) => candidate.name === material.name)
    if (known >= 0) return known
    materials.push(material)
    return materials.length - 1
  })
  const meshes: Mesh[] = more.meshes.map(({ source: _source, ...mesh }) => ({
    ...mesh,
    ...(mesh.skin
      ? {
          skin: {
            ...mesh.skin,
            jointNodes: mesh.skin.jointNodes.map((node) => (node < 0 ? -1 : node + scene.nodes.length)),
          },
        }
      : {}),
    faceMaterials:
      mesh.faceMaterials?.map((material) => (material < 0 ? -1 : materialMap[material]!)) ?? null,
  }))
  // what a second file called its things means others here
  const nodes: SceneNode[] = more.nodes.map(({ source: _source, ...node }) => ({
    ...node,
    parent: node.parent < 0 ? -1 : node.parent + scene.nodes.length,
    mesh: node.mesh < 0 ? -1 : node.mesh + scene.meshes.length,
  }))
  const shifted = ({ source: _source, ...item }: SceneCamera): SceneCamera => ({
    ...item,
    node: item.node < 0 ? -1 : item.node + scene.nodes.length,
  })
  const images: SceneImage[] = [...scene.images]
  for (const image of more.images) if (!images.some((known) => known.file === image.file)) images.push(image)
  return {
    ...EMPTY_SCENE,
    ...scene,
    nodes: [...scene.nodes, ...nodes],
    meshes: [...scene.meshes, ...meshes],
    materials,
    images,
    cameras: [...scene.cameras, ...more.cameras.map(shifted)],
    lights: [...scene.lights, ...more.lights.map(shifted)],
  }
}
