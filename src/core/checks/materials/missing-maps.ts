import { readImageSize } from '../../image/read-image-size.ts'
import { imageFiles, isTiled, tileLabel } from '../../scene/image-tiles.ts'
import type { Scene } from '../../scene/scene.ts'
import { tilesWithMaterial } from '../../uv/used-tiles.ts'
import type { CheckDescriptor } from '../check.ts'
import { nodesWithMaterial } from '../../scene/material-use.ts'

/** Labels named in one sentence. */
const MOST_NAMED = 6

/** Labels of tiles that UVs lie in and that have no image, and how many squares have no label at all. */
function missingTiles(
  scene: Scene,
  material: number,
  file: string,
  uvSet: string | undefined,
  there: Set<string>,
) {
  const labels: string[] = []
  let unnumbered = 0
  for (const tile of tilesWithMaterial(scene, material, uvSet)) {
    const label = tileLabel(file, tile)
    if (label === null) unnumbered++
    else if (!there.has(label)) labels.push(label)
  }
  return { labels, unnumbered }
}

export const missingMaps: CheckDescriptor = {
  id: 'missing-maps',
  area: 'materials',
  scope: 'scene',
  title: 'Missing and unreadable maps',
  why: 'A map that is named but not there is the pink or grey surface that everyone has seen.',
  reads: ['materials', 'images', 'meshes'],
  problems: {
    missing: { severity: 'error', text: 'The map “{file}” of “{material}” is not in the package.' },
    unreadable: { severity: 'error', text: 'The map “{file}” of “{material}” can’t be read as an image.' },
    'tile-missing': {
      severity: 'error',
      text: '{count} [tile|tiles] of “{file}” that “{material}” needs [is|are] not in the package: {tiles}.',
    },
    'tile-unnumbered': {
      severity: 'warning',
      text: 'UVs of “{material}” lie in {count} [square|squares] that no tile of “{file}” can be named for.',
    },
  },
  run({ scene }, report) {
    scene.materials.forEach((material, index) => {
      for (const map of material.maps) {
        const image = scene.images.find((candidate) => candidate.file === map.file)
        const parameters = { file: map.file, material: material.name }
        const nodes = nodesWithMaterial(scene, index)
        const files = imageFiles(image)
        if (files.length === 0) report({ problem: 'missing', count: 1, parameters, nodes })
        for (const { path, bytes } of files)
          if (!readImageSize(bytes))
            report({ problem: 'unreadable', count: 1, parameters: { ...parameters, file: path }, nodes })
        if (files.length === 0 || !isTiled(map.file)) continue
        const there = new Set(files.flatMap(({ label }) => label ?? []))
        const { labels, unnumbered } = missingTiles(scene, index, map.file, map.placement?.uvSet, there)
        if (labels.length)
          report({
            problem: 'tile-missing',
            count: labels.length,
            parameters: {
              ...parameters,
              tiles: `${labels.slice(0, MOST_NAMED).join(', ')}${labels.length > MOST_NAMED ? ', …' : ''}`,
            },
            nodes,
          })
        if (unnumbered)
          report({
            problem: 'tile-unnumbered',
            count: unnumbered,
            parameters,
            nodes,
          })
      }
    })
  },
}
