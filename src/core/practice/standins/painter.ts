/**
 * The painter: a small simulated painting tool. It reads a model, may lay UVs anew and cut everything into triangles,
 * gives the materials names and surfaces of its own with a set of maps, and writes it again.
 */
import { triangulateScene } from '../../formats/arrange/arrange-scene.ts'
import { fileNameOf, stemOf } from '../../formats/package/package-file.ts'
import { formatOf, optionsFor } from '../../formats/registry.ts'
import { writePng } from '../../image/codecs/write-png.ts'
import type { Material } from '../../scene/material.ts'
import type { Scene, SceneImage } from '../../scene/scene.ts'
import { layAnew } from '../faults/lay-anew.ts'
import type { StandInDescriptor } from './standin.ts'

const MAP_SIZE = 64

/** One colour with a fine check, so that it is seen to lie on the UVs. */
function paint(seed: number): Uint8Array {
  const pixels = new Uint8Array(MAP_SIZE * MAP_SIZE * 3)
  for (let y = 0; y < MAP_SIZE; y++)
    for (let x = 0; x < MAP_SIZE; x++)
      for (let channel = 0; channel < 3; channel++) {
        const base = 70 + ((seed * 53 + channel * 71) % 120)
        pixels[3 * (y * MAP_SIZE + x) + channel] = base + (((x >> 3) + (y >> 3)) % 2 ? 24 : 0)
      }
  return writePng({ width: MAP_SIZE, height: MAP_SIZE, channels: 3, pixels, colorSpace: 'sRGB' })
}

function repaint(scene: Scene, renames: boolean): { materials: Material[]; images: SceneImage[] } {
  const images: SceneImage[] = []
  const materials = scene.materials.map((material, at): Material => {
    const name = renames ? `paint_${String(at + 1).padStart(2, '0')}` : material.name
    const file = `${name}_color.png`
    images.push({ file, entry: file, bytes: paint(at + 1) })
    return {
      id: '',
      name,
      model: 'mtl',
      properties: [
        { name: 'Kd', values: [0.8, 0.8, 0.8], text: null },
        { name: 'illum', values: [2], text: null },
      ],
      maps: [{ property: 'map_Kd', slot: 'baseColor', file, options: [] }],
      kept: [],
    }
  })
  return { materials, images }
}

export const painter: StandInDescriptor = {
  id: 'painter',
  name: 'The painter',
  description:
    'It reads the file as a painting tool would and writes it again with what is ticked: UVs laid anew, materials under names of its own with a map for each, everything in triangles, no smoothing and no creases.',
  action: 'Paint and bring it back',
  suffix: '_painted',
  reads: ['fbx', 'obj'],
  parameters: [
    { id: 'unwraps', title: 'Lays the UVs anew', kind: 'boolean', default: true },
    { id: 'renames', title: 'Gives the materials other names', kind: 'boolean', default: true },
    { id: 'paints', title: 'Replaces the surfaces and makes maps', kind: 'boolean', default: true },
    { id: 'triangulates', title: 'Cuts polygons into triangles', kind: 'boolean', default: false },
    { id: 'dropsSmoothing', title: 'Forgets smoothing and creases', kind: 'boolean', default: true },
  ],
  run(model, beside, { value, readOptions, codec }) {
    const format = formatOf(model.name)!
    const read = format.read(model, beside, { ...optionsFor(format, readOptions), codec }).scene
    const log: string[] = []
    let scene: Scene = value('triangulates') ? triangulateScene(read) : read
    scene = {
      ...scene,
      meshes: scene.meshes.map((mesh) => ({
        ...mesh,
        ...(value('unwraps') ? { uvSets: [layAnew(mesh, mesh.uvSets[0]?.name ?? 'painted')] } : {}),
        ...(value('dropsSmoothing') ? { smoothing: null, creases: null, normals: null } : {}),
      })),
    }
    if (value('paints')) {
      scene = { ...scene, ...repaint(scene, Boolean(value('renames'))) }
      log.push(`${scene.images.length} maps were painted.`)
    } else if (value('renames'))
      scene = {
        ...scene,
        materials: scene.materials.map((material, at) => ({
          ...material,
          name: `paint_${String(at + 1).padStart(2, '0')}`,
        })),
      }
    if (value('unwraps')) log.push('The UVs were laid anew, by six directions.')
    if (value('renames')) log.push('The materials were given other names.')
    if (value('triangulates')) log.push('Polygons were cut into triangles.')
    if (value('dropsSmoothing')) log.push('Smoothing, normals and creases were forgotten.')
    const written = format.write(scene, `${stemOf(fileNameOf(model.name))}${format.endings[0]!}`, {
      maps: Boolean(value('paints')),
      codec,
    })
    return { files: written.files, log }
  },
}
