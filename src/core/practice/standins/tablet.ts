/**
 * The tablet: a small simulated tool for sculpting by hand on a tablet. It reads a glTF, moves the surface, and writes one
 * binary file of triangles: notes that it doesn't know are gone, and so is what they told of.
 */
import { multiplyMatrices, transformPoints } from '../../base/math/matrix.ts'
import { boundsOf } from '../../base/math/box.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { triangulateScene } from '../../formats/arrange/arrange-scene.ts'
import { binaryContainer, readContainer } from '../../formats/gltf/container.ts'
import { fileNameOf, stemOf } from '../../formats/package/package-file.ts'
import { formatNamed, formatOf, optionsFor } from '../../formats/registry.ts'
import { plainNode, type Scene } from '../../scene/scene.ts'
import { worldMatrices } from '../../scene/world.ts'
import { carvePoints } from '../faults/carve-points.ts'
import type { StandInDescriptor } from './standin.ts'

/** How deep everything lies under the floor, as a share of its height. */
const DEPTH = 1.25

/** Roots moved so that the whole is under the floor. */
function sunk(scene: Scene): Scene {
  const worlds = worldMatrices(scene)
  let [low, high] = [Infinity, -Infinity]
  scene.nodes.forEach((node, index) => {
    const box =
      node.mesh < 0 ? null : boundsOf(transformPoints(scene.meshes[node.mesh]!.points, worlds[index]!))
    if (!box) return
    low = Math.min(low, box.min[1])
    high = Math.max(high, box.max[1])
  })
  if (!(high > low)) return scene
  const by = low + DEPTH * (high - low)
  const down = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, -by, 0, 1]
  return {
    ...scene,
    nodes: scene.nodes.map((node) =>
      node.parent >= 0 ? node : { ...node, local: multiplyMatrices(down, node.local), transform: null },
    ),
  }
}

/** Parts named right and left of one shape, by their names: the right shows the left's mesh, turned over by a scale. */
function mirrored(scene: Scene): { scene: Scene; count: number } {
  let count = 0
  const nodes = scene.nodes.map((node, index) => {
    const twin = scene.nodes.findIndex(
      (other, at) => at !== index && other.mesh >= 0 && other.name === node.name.replace(/right/i, 'left'),
    )
    if (node.mesh < 0 || twin < 0 || !/right/i.test(node.name) || scene.nodes[twin]!.parent !== node.parent)
      return node
    const other = scene.nodes[twin]!
    if (
      scene.meshes[other.mesh]!.points.length !== scene.meshes[node.mesh]!.points.length ||
      other.local.some((value, at) => value !== node.local[at])
    )
      return node
    count++
    const flip = [-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]
    return { ...node, mesh: other.mesh, local: multiplyMatrices(flip, other.local), transform: null }
  })
  return { scene: { ...scene, nodes }, count }
}

/** A key light and a fill light, as such tools put into what they hand over. */
function lit(scene: Scene): Scene {
  const names = ['key light', 'fill light']
  return {
    ...scene,
    nodes: [
      ...scene.nodes,
      ...names.map((name, at) =>
        plainNode(name, { local: [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, at === 0 ? 2 : -2, 3, 2, 1] }),
      ),
    ],
    lights: [
      ...scene.lights,
      ...names.map((name, at) => ({
        name,
        node: scene.nodes.length + at,
        properties: { type: 'point', intensity: at === 0 ? 80 : 30, color: [1, 1, 1] },
      })),
    ],
  }
}

/** The file as a tool writes it that knows no notes: without `extras`, and without attributes of a name of their own. */
function withoutNotes(bytes: Uint8Array, name: string): Uint8Array {
  const { document, chunk } = readContainer(bytes, name)
  const bare = JSON.parse(JSON.stringify(document), (key: string, value: unknown) =>
    key === 'extras' || key.startsWith('_') ? undefined : value,
  ) as object
  return binaryContainer(encodeUtf8(JSON.stringify(bare)), chunk)
}

export const tablet: StandInDescriptor = {
  id: 'tablet',
  name: 'The tablet',
  description:
    'It reads the glTF as a tool for sculpting by hand does, moves the surface, and hands over one binary glTF of triangles: smoothing, creases, groups and the names of UV sets are forgotten.',
  action: 'Sculpt and bring it back',
  suffix: '_by_hand',
  reads: ['gltf'],
  parameters: [
    {
      id: 'strength',
      title: 'How far it moves points',
      kind: 'number',
      default: 0.015,
      min: 0,
      max: 0.06,
      step: 0.001,
      percent: true,
    },
    { id: 'sinks', title: 'Leaves everything under the floor', kind: 'boolean', default: false },
    { id: 'mirrors', title: 'Mirrors right halves by their scale', kind: 'boolean', default: false },
    { id: 'lights', title: 'Hands its lights over too', kind: 'boolean', default: false },
  ],
  run(model, beside, { value, readOptions, codec }) {
    const format = formatOf(model.name)!
    const read = format.read(model, beside, { ...optionsFor(format, readOptions), codec }).scene
    const strength = Number(value('strength'))
    const log: string[] = []
    const cut = triangulateScene(read)
    let scene: Scene = {
      ...cut,
      meshes: cut.meshes.map((mesh) => ({
        ...mesh,
        points: carvePoints(mesh, strength),
        normals: null,
        smoothing: null,
        creases: null,
        groups: null,
        uvSets: mesh.uvSets.map((set, number) => ({ ...set, name: number === 0 ? 'uv' : `uv${number + 1}` })),
      })),
    }
    if (strength > 0)
      log.push(`Points were moved by up to ${Math.round(strength * 1000) / 10} % of their part’s size.`)
    if (value('mirrors')) {
      const halves = mirrored(scene)
      scene = halves.scene
      log.push(
        halves.count
          ? `${halves.count} right ${halves.count === 1 ? 'half was' : 'halves were'} replaced by the left one, mirrored by its scale.`
          : 'There were no right halves like the left ones to mirror.',
      )
    }
    if (value('sinks')) {
      scene = sunk(scene)
      log.push('Everything was left under the floor.')
    }
    if (value('lights')) {
      scene = lit(scene)
      log.push('Two lights of its own were handed over.')
    }
    const name = `${stemOf(fileNameOf(model.name))}.glb`
    const written = formatNamed('gltf').write(scene, name, { form: 'binary', codec })
    return {
      files: [{ name, bytes: withoutNotes(written.files[0]!.bytes, name) }],
      log: [
        ...log,
        'Polygons became triangles; smoothing, creases, groups and names of UV sets were forgotten.',
      ],
    }
  },
}
