/**
 * The rough hand: a small simulated tool that does to a model whatever tools are known to do, by choice or as a mix that
 * follows from a seed, and says what it did. It keeps UVs and materials and forgets the rest.
 */
import { chanceOf } from '../../base/math/chance.ts'
import { fileNameOf, stemOf } from '../../formats/package/package-file.ts'
import { formatNamed, formatOf, optionsFor } from '../../formats/registry.ts'
import { subdivideMesh } from '../../mesh/subdividing/subdivide-mesh.ts'
import { faceCountOf, type Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { FAULT_WORDS, type AnyFault, type OtherFault } from '../faults/fault-words.ts'
import { layAnew } from '../faults/lay-anew.ts'
import { FAULTS, type FaultName } from '../faults/mesh-faults.ts'
import { anyFaults } from '../faults/random-trips.ts'
import { damageScene, flatten, SCENE_FAULTS, type SceneFault } from '../faults/scene-faults.ts'
import type { StandInDescriptor } from './standin.ts'

const OTHER: readonly OtherFault[] = ['subdivided', 'newUvs', 'layoutTurned', 'otherPieces']
const ALL = [...(Object.keys(FAULTS) as FaultName[]), ...OTHER, ...SCENE_FAULTS] as readonly AnyFault[]
const isOf = <Name extends AnyFault>(names: readonly Name[], fault: AnyFault): fault is Name =>
  (names as readonly AnyFault[]).includes(fault)

/** Every other triangle has the next material. */
const withOtherPieces = (mesh: Mesh, materialCount: number): Mesh => ({
  ...mesh,
  faceMaterials: Int32Array.from({ length: faceCountOf(mesh) }, (_face, face) => {
    const own = mesh.faceMaterials?.[face] ?? -1
    return face % 2 && materialCount > 0 ? (own + 1) % materialCount : own
  }),
})

/** V runs down the map instead of up. */
const withLayoutTurned = (mesh: Mesh): Mesh => ({
  ...mesh,
  uvSets: mesh.uvSets.map((set) => ({ ...set, values: set.values.map((value, at) => (at % 2 ? 1 - value : value)) })), // prettier-ignore
})

/** What it does to a scene. */
export function handleRoughly(scene: Scene, faults: readonly AnyFault[], chance: () => number): Scene {
  const flat = flatten(scene)
  const refined: Scene = faults.includes('subdivided')
    ? {
        ...flat,
        meshes: flat.meshes.map((mesh) => ({
          ...subdivideMesh(mesh, { levels: 1, uvMode: 'boundaries', sharpCorners: false }),
          name: mesh.name,
        })),
      }
    : flat
  const { returned } = damageScene(
    refined,
    faults.filter((fault): fault is SceneFault => isOf(SCENE_FAULTS, fault)),
    faults.filter((fault): fault is FaultName => isOf(Object.keys(FAULTS) as FaultName[], fault)),
    chance,
  )
  return {
    ...returned,
    meshes: returned.meshes.map((mesh) => {
      const bare: Mesh = { ...mesh, colorSets: [], normals: null }
      const laid = faults.includes('newUvs') ? { ...bare, uvSets: [layAnew(bare, 'uv')] } : bare
      const turned = faults.includes('layoutTurned') ? withLayoutTurned(laid) : laid
      return faults.includes('otherPieces') ? withOtherPieces(turned, returned.materials.length) : turned
    }),
  }
}

export const roughHand: StandInDescriptor = {
  id: 'rough-hand',
  name: 'The rough hand',
  description:
    'It does to a model whatever tools are known to do: one to six things that follow from a seed, or what you tick. It keeps UVs and materials, forgets smoothing, creases and groups, writes an OBJ, and says what it did.',
  action: 'Hand it over and bring it back',
  suffix: '_handled',
  reads: ['obj', 'fbx'],
  parameters: [
    {
      id: 'mix',
      title: 'What it does',
      kind: 'choice',
      default: 'seed',
      choices: [
        { value: 'seed', title: 'a mix by the seed' },
        { value: 'chosen', title: 'what is ticked' },
      ],
    },
    { id: 'seed', title: 'Seed', kind: 'number', default: 1, min: 1, max: 1000, step: 1 },
    ...ALL.map((fault) => ({
      id: fault,
      title: FAULT_WORDS[fault][0],
      kind: 'boolean' as const,
      default: false,
      when: [{ option: 'mix', is: ['chosen'] }],
    })),
  ],
  run(model, beside, { value, readOptions, codec }) {
    const format = formatOf(model.name)!
    const read = format.read(model, beside, { ...optionsFor(format, readOptions), codec }).scene
    const chance = chanceOf(Math.round(Number(value('seed'))))
    let faults: readonly AnyFault[]
    if (value('mix') === 'chosen') faults = ALL.filter((fault) => value(fault) === true)
    else {
      const { ofScene, ofMeshes } = anyFaults(chance)
      faults = [...ofScene, ...ofMeshes]
    }
    const made = handleRoughly(read, faults, chance)
    const written = formatNamed('obj').write(made, `${stemOf(fileNameOf(model.name))}.obj`, {
      materials: 'names',
      normals: false,
      maps: false,
      codec,
    })
    return {
      files: written.files.filter((file) => formatOf(file.name)),
      log: [
        ...faults.map((fault) => FAULT_WORDS[fault][1]),
        'Smoothing, creases, groups and colours were forgotten.',
      ],
    }
  },
}
