/**
 * The assembler: a small simulated tool that puts models into a larger scene. It reads a USD, hangs everything under a set
 * of its own that stands elsewhere, and writes a package: notes that it doesn't know are gone.
 */
import { multiplyMatrices } from '../../base/math/matrix.ts'
import { decodeUtf8, encodeUtf8 } from '../../base/bytes/text.ts'
import { fileNameOf, stemOf } from '../../formats/package/package-file.ts'
import { readZip } from '../../formats/package/read-zip.ts'
import { formatNamed, formatOf, optionsFor } from '../../formats/registry.ts'
import { writeUsdPackage } from '../../formats/usd/write-package.ts'
import { plainNode, type Scene } from '../../scene/scene.ts'
import type { StandInDescriptor } from './standin.ts'

/** All of it under one node more, which may stand elsewhere. */
function underSet(scene: Scene, isMoved: boolean): Scene {
  const size = scene.space.unitMeters === null ? 100 : 1 / scene.space.unitMeters
  const place = isMoved
    ? [0, 0, -1, 0, 0, 1, 0, 0, 1, 0, 0, 0, 2 * size, 0, -size, 1]
    : [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]
  return {
    ...scene,
    nodes: [
      plainNode('set', { local: place }),
      ...scene.nodes.map((node) => ({ ...node, parent: node.parent + 1 })),
    ],
    meshes: scene.meshes.map(({ skin, ...mesh }) => ({
      ...mesh,
      skin: skin && { ...skin, jointNodes: skin.jointNodes.map((joint) => (joint < 0 ? joint : joint + 1)) },
    })),
    cameras: scene.cameras.map((camera) => ({ ...camera, node: camera.node + 1 })),
    lights: scene.lights.map((light) => ({ ...light, node: light.node + 1 })),
  }
}

/** Parts half as large again, as somebody who builds a set makes them. */
const enlarged = (scene: Scene): Scene => ({
  ...scene,
  nodes: scene.nodes.map((node) =>
    node.parent >= 0
      ? node
      : {
          ...node,
          local: multiplyMatrices(node.local, [1.5, 0, 0, 0, 0, 1.5, 0, 0, 0, 0, 1.5, 0, 0, 0, 0, 1]),
          transform: null,
        },
  ),
})

/** The package as a tool writes it that knows no notes. */
function withoutNotes(bytes: Uint8Array, name: string): Uint8Array {
  const { files } = readZip({ name, bytes })
  return writeUsdPackage(
    files.map((file, at) =>
      at > 0
        ? file
        : {
            name: file.name,
            bytes: encodeUtf8(
              (decodeUtf8(file.bytes) ?? '').replace(/^ *customData = \{ string notes .*\n/gm, ''),
            ),
          },
    ),
  )
}

export const assembler: StandInDescriptor = {
  id: 'assembler',
  name: 'The assembler',
  description:
    'It reads the USD as a tool for building scenes does, hangs all of it under a set, gives materials a colour for looking, and hands over one package: smoothing and the names of UV sets are forgotten.',
  action: 'Put it into a scene and bring it back',
  suffix: '_in_set',
  reads: ['usd'],
  parameters: [
    { id: 'moves', title: 'Puts it elsewhere, turned by a quarter', kind: 'boolean', default: true },
    { id: 'enlarges', title: 'Makes it half as large again', kind: 'boolean', default: false },
    { id: 'colours', title: 'Gives materials a colour of its own', kind: 'boolean', default: true },
    { id: 'hides', title: 'Hides the first part', kind: 'boolean', default: false },
  ],
  run(model, beside, { value, readOptions, codec }) {
    const format = formatOf(model.name)!
    const read = format.read(model, beside, { ...optionsFor(format, readOptions), codec }).scene
    const log: string[] = []
    let scene: Scene = { ...read, meshes: read.meshes.map((mesh) => ({ ...mesh, smoothing: null })) }
    if (value('colours') && scene.materials.length > 0) {
      scene = {
        ...scene,
        materials: scene.materials.map((material, at) => ({
          ...material,
          model: 'UsdPreviewSurface',
          maps: [],
          kept: [],
          properties: [
            { name: 'diffuseColor', values: [0.2 + 0.1 * (at % 5), 0.45, 0.7 - 0.1 * (at % 4)], text: null },
            { name: 'roughness', values: [0.6], text: null },
          ],
        })),
      }
      log.push('Materials have a colour for looking; their maps were let go.')
    }
    if (value('hides')) {
      const first = scene.nodes.findIndex(({ mesh }) => mesh >= 0)
      scene = {
        ...scene,
        nodes: scene.nodes.map((node, at) => (at === first ? { ...node, visible: false } : node)),
      }
      if (first >= 0) log.push(`“${scene.nodes[first]!.name}” was hidden.`)
    }
    if (value('enlarges')) {
      scene = enlarged(scene)
      log.push('Everything was made half as large again.')
    }
    scene = underSet(scene, Boolean(value('moves')))
    log.push(
      value('moves') ? 'All of it hangs under a set that stands elsewhere.' : 'All of it hangs under a set.',
    )
    const name = `${stemOf(fileNameOf(model.name))}.usdz`
    const written = formatNamed('usd').write(scene, name, { form: 'package', codec })
    return {
      files: [{ name, bytes: withoutNotes(written.files[0]!.bytes, name) }],
      log: [...log, 'Smoothing and the names of UV sets were forgotten.'],
    }
  },
}
