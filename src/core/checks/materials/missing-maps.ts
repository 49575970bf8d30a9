import { readImageSize } from '../../image/read-image-size.ts'
import type { CheckDescriptor } from '../check.ts'
import { nodesWithMaterial } from '../../scene/material-use.ts'

export const missingMaps: CheckDescriptor = {
  id: 'missing-maps',
  area: 'materials',
  scope: 'scene',
  title: 'Missing and unreadable maps',
  why: 'A map that is named but not there is the pink or grey surface that everyone has seen.',
  reads: ['materials', 'images'],
  problems: {
    missing: { severity: 'error', text: 'The map “{file}” of “{material}” is not in the package.' },
    unreadable: { severity: 'error', text: 'The map “{file}” of “{material}” can’t be read as an image.' },
  },
  run({ scene }, report) {
    scene.materials.forEach((material, index) => {
      for (const map of material.maps) {
        const image = scene.images.find((candidate) => candidate.file === map.file)
        const parameters = { file: map.file, material: material.name }
        const nodes = nodesWithMaterial(scene, index)
        if (!image?.bytes) report({ problem: 'missing', count: 1, parameters, nodes })
        else if (!readImageSize(image.bytes)) report({ problem: 'unreadable', count: 1, parameters, nodes })
      }
    })
  },
}
