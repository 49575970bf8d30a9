import { sceneHeight } from '../../scene/scene-size.ts'
import { transformMesh } from '../../mesh/rebuilding/transform-mesh.ts'
import { outcome, StepRefusal, type StepDescriptor } from '../step.ts'

export const scaleToSize: StepDescriptor = {
  id: 'scale-to-size',
  area: 'scene',
  title: 'Scale to a known size',
  description: 'Scales the whole model so that it is as tall as the real thing, or by a factor.',
  changes: ['points', 'transforms', 'shapes'],
  parameters: [
    { id: 'height', title: 'Height', kind: 'number', unit: 'metres', default: null, min: 1e-6, max: 1e6 },
    { id: 'factor', title: 'Factor', kind: 'number', default: null, min: 1e-9, max: 1e9 },
  ],
  run: (context) => {
    const { scene } = context
    const wanted = context.numberOrNull('height')
    let factor = context.numberOrNull('factor')
    if (wanted !== null) {
      const height = sceneHeight(scene)
      if (!height) throw new StepRefusal('The model has no height that could be scaled.')
      if (scene.space.unitMeters === null)
        throw new StepRefusal(
          'The unit of this model is not known; set it first, with “Change unit and axes”.',
        )
      factor = wanted / (height * scene.space.unitMeters)
    }
    if (factor === null || factor === 1) return outcome(scene, 0, 'parts')
    const f = factor
    const matrix = [f, 0, 0, 0, 0, f, 0, 0, 0, 0, f, 0, 0, 0, 0, 1]
    return outcome(
      {
        ...scene,
        meshes: scene.meshes.map((mesh) => ({
          ...transformMesh(mesh, matrix),
          // a uniform scale turns no normal
          normals: mesh.normals,
        })),
        nodes: scene.nodes.map((node) => ({
          ...node,
          local: node.local.map((value, at) => (at >= 12 && at < 15 ? value * f : value)),
          transform: null,
        })),
      },
      Math.max(1, scene.meshes.length),
      'parts',
      { notes: [`Scaled by ${Number(f.toPrecision(6))}.`] },
    )
  },
}
