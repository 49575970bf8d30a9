import { usedMaterials } from '../../scene/material-use.ts'
import { faceCountOf } from '../../scene/mesh.ts'
import type { Material } from '../../scene/material.ts'
import type { Scene } from '../../scene/scene.ts'
import { outcome, type StepDescriptor, type StepOutcome } from '../step.ts'

/** Every polygon with a new, plain material. */
function makeOne(scene: Scene, name: string): StepOutcome {
  const material: Material = { id: '', name, model: 'phong', properties: [], maps: [], kept: [] }
  return outcome(
    {
      ...scene,
      materials: [material],
      images: [],
      meshes: scene.meshes.map((mesh) =>
        faceCountOf(mesh) > 0 ? { ...mesh, faceMaterials: new Int32Array(faceCountOf(mesh)) } : mesh,
      ),
    },
    Math.max(1, scene.materials.length),
    'materials',
    { notes: [`There was no material “${name}”: it is new.`] },
  )
}

export const oneMaterial: StepDescriptor = {
  id: 'one-material',
  area: 'materials',
  title: 'One material',
  description:
    'Puts the same material on every polygon: the one named, made where there is none of that name, or the one that most polygons have. Others go.',
  changes: ['materials', 'surfaces'],
  parameters: [{ id: 'name', title: 'Material', kind: 'text', default: null, most: 200 }],
  run: (context) => {
    const { scene } = context
    const counts = new Map<number, number>()
    for (const mesh of scene.meshes)
      for (const material of mesh.faceMaterials ?? []) counts.set(material, (counts.get(material) ?? 0) + 1)
    const name = context.text('name')
    const named = name ? scene.materials.findIndex((material) => material.name === name) : -1
    if (name && named < 0) return makeOne(scene, name)
    const wanted = name
      ? named
      : ([...counts]
          .filter(([material]) => material >= 0)
          .sort((a, b) => b[1] - a[1] || a[0] - b[0])[0]?.[0] ?? -1)
    if (wanted < 0) {
      return outcome(scene, 0, 'materials')
    }
    const used = usedMaterials(scene)
    if (scene.materials.length === 1 && used.size === 1) return outcome(scene, 0, 'materials')
    const material = scene.materials[wanted]!
    const files = new Set(material.maps.map((map) => map.file))
    return outcome(
      {
        ...scene,
        materials: [material],
        images: scene.images.filter((image) => files.has(image.file)),
        meshes: scene.meshes.map((mesh) =>
          faceCountOf(mesh) > 0 ? { ...mesh, faceMaterials: new Int32Array(faceCountOf(mesh)) } : mesh,
        ),
      },
      scene.materials.length,
      'materials',
    )
  },
}
