/**
 * The modeller: a small simulated modelling tool. It reads a model, and writes it again with the faults that
 * such tools bring in on the way: another size, another up axis, a UV set of its own name, locked normals.
 */
import { moveToSpace, triangulateScene } from '../../formats/arrange/arrange-scene.ts'
import { fileNameOf, stemOf } from '../../formats/package/package-file.ts'
import { formatOf, optionsFor } from '../../formats/registry.ts'
import { computeNormals } from '../../mesh/normals/compute-normals.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import type { StandInDescriptor } from './standin.ts'

/** The same names, those that are there already with a number behind. */
function renameClashes(scene: Scene): Scene {
  const taken = new Set<string>()
  return {
    ...scene,
    nodes: scene.nodes.map((node) => {
      let name = node.name
      for (let number = 1; taken.has(name); number++) name = `${node.name}_${number}`
      taken.add(name)
      return { ...node, name }
    }),
  }
}

/** A second UV set under the tool's own name, as a copy of the first. */
const withOwnUvs = (mesh: Mesh, name: string): Mesh =>
  mesh.uvSets.length && !mesh.uvSets.some((set) => set.name === name)
    ? { ...mesh, uvSets: [...mesh.uvSets, { ...mesh.uvSets[0]!, name }] }
    : mesh

export const modeller: StandInDescriptor = {
  id: 'modeller',
  name: 'The modeller',
  description:
    'It reads the file as a modelling tool would and writes it again with the faults that are ticked: a hundred times as large, lying on its back, with a UV set of its own, with normals locked in place of smoothing.',
  action: 'Model and bring it back',
  suffix: '_modelled',
  reads: ['fbx', 'obj'],
  parameters: [
    {
      id: 'size',
      title: 'Takes the unit for',
      kind: 'choice',
      default: 'right',
      choices: [
        { value: 'right', title: 'what the file says' },
        { value: 'hundredfold', title: 'metres where it is centimetres: ×100' },
        { value: 'hundredth', title: 'centimetres where it is metres: ÷100' },
      ],
    },
    { id: 'lies', title: 'Turns Z up and says nothing of it', kind: 'boolean', default: false },
    { id: 'uvSetName', title: 'Adds a UV set called', kind: 'text', default: 'channel_1', most: 60 },
    { id: 'locksNormals', title: 'Locks normals and drops the smoothing', kind: 'boolean', default: false },
    { id: 'triangulates', title: 'Cuts polygons into triangles', kind: 'boolean', default: false },
    { id: 'dropsCreases', title: 'Drops creases', kind: 'boolean', default: true },
    { id: 'renames', title: 'Renames parts of the same name', kind: 'boolean', default: true },
  ],
  run(model, beside, { value, readOptions, codec }) {
    const format = formatOf(model.name)!
    const read = format.read(model, beside, { ...optionsFor(format, readOptions), codec }).scene
    const log: string[] = []
    let scene: Scene = value('renames') ? renameClashes(read) : read
    if (value('triangulates')) scene = triangulateScene(scene)
    scene = {
      ...scene,
      meshes: scene.meshes.map((mesh) => {
        const named = value('uvSetName') ? withOwnUvs(mesh, String(value('uvSetName'))) : mesh
        const locked = value('locksNormals')
          ? { ...named, normals: named.normals ?? computeNormals(named, null), smoothing: null }
          : named
        return value('dropsCreases') ? { ...locked, creases: null } : locked
      }),
    }
    const factor = value('size') === 'hundredfold' ? 100 : value('size') === 'hundredth' ? 0.01 : 1
    const { space } = scene
    if (factor !== 1 || value('lies')) {
      const moved = moveToSpace(scene, {
        unitMeters: null,
        unitAs: 'points',
        upAxis: value('lies') ? 'z' : null,
        frontAxis: value('lies') ? '-y' : null,
        mirrored: null,
        axesAs: 'points',
        scale: factor,
      })
      // the fault: the numbers are others and the file goes on saying what it said
      scene = { ...moved, space }
      if (factor !== 1) log.push(`Everything was multiplied by ${factor}.`)
      if (value('lies')) log.push('Everything was turned so that Z is up; the file still says Y.')
    }
    if (value('triangulates')) log.push('Polygons were cut into triangles.')
    if (value('uvSetName')) log.push(`A UV set “${String(value('uvSetName'))}” was added.`)
    if (value('locksNormals')) log.push('Normals were locked, and smoothing dropped.')
    if (value('dropsCreases')) log.push('Creases were dropped.')
    if (value('renames')) log.push('Parts of one name were given numbers.')
    const written = format.write(scene, `${stemOf(fileNameOf(model.name))}${format.endings[0]!}`, {
      maps: false,
      codec,
    })
    return { files: written.files, log }
  },
}
