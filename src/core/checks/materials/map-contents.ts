import { normalFacts } from '../../image/operations/normal-direction.ts'
import { readPng } from '../../image/codecs/read-png.ts'
import { readColorSpace } from '../../image/read-color-space.ts'
import { readImageSize } from '../../image/read-image-size.ts'
import { imageFiles } from '../../scene/image-tiles.ts'
import type { MaterialMap } from '../../scene/material.ts'
import { nodesWithMaterial } from '../../scene/material-use.ts'
import { colorSpaceOf } from '../../surfaces/remap/map-use.ts'
import { SLOT_WORDS } from '../../surfaces/wording/slot-words.ts'
import type { CheckDescriptor } from '../check.ts'

/** Pixels up to which normals are looked at: a larger map takes longer to unpack than all other checks together. */
const MOST_PIXELS = 2048 * 2048
/** Bits of a PNG's channels stand behind its size (PNG, Third Edition, 11.2.1). */
const BITS_AT = 24
const ENOUGH_BITS = 16

/** What of its pixels a map says; null where its file says nothing of the kind. */
const bitsOf = (bytes: Uint8Array): number | null =>
  readImageSize(bytes)?.kind === 'png' ? (bytes[BITS_AT] ?? null) : null

function pointsDown(bytes: Uint8Array): boolean {
  const size = readImageSize(bytes)
  if (!size || size.width * size.height > MOST_PIXELS) return false
  const pixels = readPng(bytes)
  return pixels !== null && normalFacts(pixels).direction === 'down'
}

const isNormals = ({ slot }: MaterialMap): boolean => slot === 'normal' || slot === 'clearcoatNormal'

export const mapContents: CheckDescriptor = {
  id: 'map-contents',
  area: 'materials',
  scope: 'scene',
  title: 'What maps say of themselves',
  why: 'Numbers that a file calls colours are bent on their way, 8 bits of height show as steps, and normals of the other direction make bumps into dents.',
  reads: ['materials', 'images'],
  problems: {
    'raw-as-color': {
      severity: 'info',
      text: '“{file}” of “{material}” is for {slot}, which is no colour, and says of itself that it is sRGB.',
    },
    'few-bits': {
      severity: 'info',
      text: '“{file}” of “{material}” holds heights in 8 bits: steps may show where the surface is smooth.',
    },
    'green-down': {
      severity: 'info',
      text: 'Green points down in the normals “{file}” of “{material}”, by their pixels: glTF, USD and MaterialX want it up.',
    },
    unused: {
      severity: 'info',
      text: 'No material names {count} [image|images] that [lies|lie] here: {files}.',
    },
  },
  run({ scene }, report) {
    const named = new Set<string>()
    scene.materials.forEach((material, index) => {
      for (const map of material.maps) {
        named.add(map.file)
        const image = scene.images.find((candidate) => candidate.file === map.file)
        const files = imageFiles(image)
        if (files.length === 0) continue
        const nodes = nodesWithMaterial(scene, index)
        const tell = (problem: string, file: string): void =>
          report({
            problem,
            count: 1,
            parameters: { file, material: material.name, slot: SLOT_WORDS[map.slot] },
            nodes,
          })
        // an image whose other channels are a colour says what it is
        const hasColor = material.maps.some(
          ({ file, slot }) => file === map.file && colorSpaceOf(slot) === 'sRGB',
        )
        const isData = colorSpaceOf(map.slot) === 'linear' && map.slot !== 'other' && !hasColor
        for (const { path, bytes } of files) {
          // a JPEG has no word for it: it is a colour by what cameras write
          if (isData && readColorSpace(bytes) === 'sRGB' && readImageSize(bytes)?.kind === 'png')
            tell('raw-as-color', path)
          const bits = map.slot === 'displacement' ? bitsOf(bytes) : null
          if (bits !== null && bits < ENOUGH_BITS) tell('few-bits', path)
        }
        if (isNormals(map) && pointsDown(files[0]!.bytes)) tell('green-down', files[0]!.path)
      }
    })
    const unused = scene.images.filter(({ file, bytes }) => bytes !== null && !named.has(file))
    if (unused.length)
      report({
        problem: 'unused',
        count: unused.length,
        parameters: {
          files: `${unused
            .slice(0, 4)
            .map(({ file }) => file)
            .join(', ')}${unused.length > 4 ? ', …' : ''}`,
        },
        nodes: [],
      })
  },
}
