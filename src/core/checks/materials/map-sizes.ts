import { readImageSize } from '../../image/read-image-size.ts'
import { imageFiles } from '../../scene/image-tiles.ts'
import { nodesWithMaterial } from '../../scene/material-use.ts'
import type { CheckDescriptor } from '../check.ts'

const isPowerOfTwo = (value: number): boolean => value > 0 && (value & (value - 1)) === 0

export const mapSizes: CheckDescriptor = {
  id: 'map-sizes',
  area: 'materials',
  scope: 'scene',
  title: 'Sizes of maps',
  why: 'Engines make smaller copies of a map by halving it, which only powers of two allow without a rest.',
  reads: ['materials', 'images'],
  problems: {
    odd: {
      severity: 'warning',
      text: '“{file}” is {width} x {height} pixels, which can’t be halved evenly.',
    },
    uneven: { severity: 'info', text: 'The maps of “{material}” have different sizes: {sizes}.' },
    shape: {
      severity: 'warning',
      text: '“{file}” is {width} x {height} pixels, “{other}” on the same UVs {otherWidth} x {otherHeight}: one of them is stretched.',
    },
    small: {
      severity: 'warning',
      text: '“{file}” is {width} x {height} pixels; {least} [pixel is|pixels are|least] wanted.',
    },
  },
  run({ scene, settings }, report) {
    const said = new Set<string>()
    scene.materials.forEach((material, index) => {
      const sizes = new Set<string>()
      /** By UV set the first map whose shape the others are held against. */
      const shapes = new Map<string, { path: string; width: number; height: number }>()
      const nodes = nodesWithMaterial(scene, index)
      for (const map of material.maps) {
        const image = scene.images.find((candidate) => candidate.file === map.file)
        const isNew = !said.has(map.file)
        said.add(map.file)
        for (const { path, bytes } of imageFiles(image)) {
          const size = readImageSize(bytes)
          if (!size) continue
          sizes.add(`${size.width} x ${size.height}`)
          const set = JSON.stringify([map.placement?.uvSet ?? '', map.placement?.scale ?? [1, 1]])
          const other = shapes.get(set)
          if (!other) shapes.set(set, { path, width: size.width, height: size.height })
          else if (other.width * size.height !== size.width * other.height)
            report({
              problem: 'shape',
              count: 1,
              parameters: {
                file: path,
                width: size.width,
                height: size.height,
                other: other.path,
                otherWidth: other.width,
                otherHeight: other.height,
              },
              nodes,
            })
          if (!isNew) continue
          const parameters = { file: path, width: size.width, height: size.height }
          if (!isPowerOfTwo(size.width) || !isPowerOfTwo(size.height))
            report({ problem: 'odd', count: 1, parameters, nodes })
          if (Math.max(size.width, size.height) < settings.leastMapSize)
            report({
              problem: 'small',
              count: 1,
              parameters: { ...parameters, least: settings.leastMapSize },
              nodes,
            })
        }
      }
      if (sizes.size > 1)
        report({
          problem: 'uneven',
          count: sizes.size,
          parameters: { material: material.name, sizes: [...sizes].join(', ') },
          nodes,
        })
    })
  },
}
