/**
 * The renderer: a small simulated one. It takes a model with its materials and maps, draws a ball of each material under
 * one light, and answers with a log of what it could not use: a type that isn't its own, missing maps, maps in the wrong
 * colour space, normals whose green points the wrong way, values out of range.
 */
import { decodeUtf8 } from '../../base/bytes/text.ts'
import { readPng } from '../../image/codecs/read-png.ts'
import { writePng } from '../../image/codecs/write-png.ts'
import { normalFacts } from '../../image/operations/normal-direction.ts'
import { encodeSrgb } from '../../image/transfer.ts'
import { readColorSpace } from '../../image/read-color-space.ts'
import { findImage } from '../../formats/package/find-image.ts'
import { fileNameOf, stemOf, type PackageFile } from '../../formats/package/package-file.ts'
import { formatOf, optionsFor } from '../../formats/registry.ts'
import { imageFiles } from '../../scene/image-tiles.ts'
import { usedMaterials } from '../../scene/material-use.ts'
import type { Slot } from '../../scene/material.ts'
import type { Scene, SceneImage } from '../../scene/scene.ts'
import { convertValues, valueText } from '../../surfaces/convert/convert-surface.ts'
import { isOutside } from '../../surfaces/parameters.ts'
import { readMaterialX, type DocumentMaterial } from '../../surfaces/documents/read-materialx.ts'
import type { SurfaceModel, SurfaceValues } from '../../surfaces/model.ts'
import { recogniseSurface } from '../../surfaces/recognise-surface.ts'
import { SURFACE_MODELS, surfaceModelNamed } from '../../surfaces/registry.ts'
import { colorSpaceOf } from '../../surfaces/remap/map-use.ts'
import { SLOT_WORDS } from '../../surfaces/wording/slot-words.ts'
import type { StandInDescriptor } from './standin.ts'

interface Received {
  readonly name: string
  readonly model: SurfaceModel
  readonly values: SurfaceValues
  readonly maps: readonly { readonly slot: Slot; readonly image: SceneImage }[]
}

/** Materials as the renderer finds them: of a document beside the model where there is one, else of the model's file. */
export function receivedMaterials(
  scene: Scene,
  beside: readonly PackageFile[],
  documents: readonly DocumentMaterial[],
): Received[] {
  return [...usedMaterials(scene)]
    .sort((a, b) => a - b)
    .map((place): Received => {
      const material = scene.materials[place]!
      const document = documents.find(({ name }) => name === material.name)
      if (document)
        return {
          name: material.name,
          model: document.model,
          values: document.values,
          maps: Object.entries(document.maps).map(([parameter, file]) => ({
            slot:
              document.model.parameters.find(
                ({ name, mapName }) => name === parameter || mapName === parameter,
              )?.slot ?? (parameter.endsWith('normal') ? 'normal' : 'other'),
            image: findImage(beside, '', file).image,
          })),
        }
      const { model, values } = recogniseSurface(material)
      return {
        name: material.name,
        model,
        values,
        maps: material.maps.map(({ slot, file }) => ({
          slot,
          image: scene.images.find((image) => image.file === file) ?? { file, entry: null, bytes: null },
        })),
      }
    })
}

/** What the renderer complains of, a line each. */
export function rendererLog(materials: readonly Received[], own: SurfaceModel): string[] {
  const log: string[] = []
  for (const { name, model, values, maps } of materials) {
    if (model !== own)
      log.push(`error: ${name}: its type is ${model.title}; ${own.title} is what is drawn here`)
    for (const parameter of model.parameters) {
      const value = parameter.name === null ? undefined : values[parameter.name]
      if (value !== undefined && parameter.range && isOutside(parameter, value))
        log.push(
          `warning: ${name}: ${parameter.name} is ${valueText(value)}, beyond ${parameter.range[0]} to ${parameter.range[1] ?? 'any'}`,
        )
    }
    for (const { slot, image } of maps) {
      const files = imageFiles(image)
      if (files.length === 0) {
        log.push(`error: ${name}: the map “${image.file}” is missing`)
        continue
      }
      const isData = colorSpaceOf(slot) === 'linear'
      for (const { path, bytes } of files) {
        const says = readColorSpace(bytes)
        if (isData && says === 'sRGB' && !/\.jpe?g$/i.test(path))
          log.push(`warning: ${name}: “${path}” holds numbers (${SLOT_WORDS[slot]}) and says it is sRGB`)
        if (!isData && says === 'linear')
          log.push(`warning: ${name}: “${path}” holds colours (${SLOT_WORDS[slot]}) and says it is linear`)
      }
      const pixels = slot === 'normal' ? readPng(files[0]!.bytes) : null
      if (pixels && normalFacts(pixels).direction === 'down')
        log.push(
          `warning: ${name}: green points down in the normals “${image.file}”, dents and bumps are exchanged`,
        )
    }
  }
  if (log.length === 0)
    log.push(
      `Drawn: ${materials.length} ${materials.length === 1 ? 'material' : 'materials'}, nothing to complain of.`,
    )
  return log
}

const BALL = 96
const PER_ROW = 6

/** A ball of each material under one light, by their values: Lambert's diffuse and a highlight as wide as they are rough. */
export function drawBalls(materials: readonly Received[]): {
  width: number
  height: number
  pixels: Uint8Array
} {
  const columns = Math.max(1, Math.min(PER_ROW, materials.length))
  const rows = Math.max(1, Math.ceil(materials.length / PER_ROW))
  const [width, height] = [columns * BALL, rows * BALL]
  const pixels = new Uint8Array(width * height * 3).fill(141)
  const gltf = surfaceModelNamed('gltf')
  const light = [-0.5, 0.62, 0.6]
  const half = [-0.28, 0.35, 0.9]
  const encode = (value: number): number => Math.round(255 * Math.min(1, encodeSrgb(Math.max(0, value))))
  materials.forEach(({ model, values }, place) => {
    const drawn = convertValues(values, model, gltf)
    const rgb = (drawn['base_color'] as readonly number[] | undefined) ?? [0.8, 0.8, 0.8]
    const metal = Number(drawn['metallic'] ?? 0)
    const rough = Math.max(0.05, Number(drawn['roughness'] ?? 0.5))
    const emissive = (drawn['emissive'] as readonly number[] | undefined) ?? [0, 0, 0]
    const exponent = 2 / rough ** 4
    for (let row = 0; row < BALL; row++)
      for (let column = 0; column < BALL; column++) {
        const x = ((column + 0.5) / BALL) * 2.3 - 1.15
        const y = 1.15 - ((row + 0.5) / BALL) * 2.3
        const z = Math.sqrt(Math.max(0, 1 - x * x - y * y))
        if (z === 0) continue
        const lit = Math.max(0, x * light[0]! + y * light[1]! + z * light[2]!)
        const shine =
          Math.max(0, x * half[0]! + y * half[1]! + z * half[2]!) ** exponent * (0.04 + 0.96 * metal)
        const at =
          ((Math.floor(place / PER_ROW) * BALL + row) * width + (place % PER_ROW) * BALL + column) * 3
        for (let channel = 0; channel < 3; channel++) {
          const own = rgb[channel]!
          const highlight = shine * (1 - metal + metal * own)
          pixels[at + channel] = encode(
            own * (1 - 0.75 * metal) * (0.12 + 0.88 * lit) + highlight + emissive[channel]!,
          )
        }
      }
  })
  return { width, height, pixels }
}

export const renderer: StandInDescriptor = {
  id: 'renderer',
  name: 'The renderer',
  description:
    'It takes the model with its materials and maps, draws a ball of each material, and answers with a log: a type that isn’t its own, missing maps, maps in the wrong colour space, normals whose green points down, values out of range. The model itself comes back as it went.',
  action: 'Draw it',
  suffix: '_drawn',
  reads: ['fbx', 'obj'],
  parameters: [
    {
      id: 'surface',
      title: 'Materials it draws',
      kind: 'choice',
      default: 'openpbr',
      choices: SURFACE_MODELS.map(({ id, title }) => ({ value: id, title })),
    },
  ],
  run(model, beside, { value, readOptions, codec }) {
    const format = formatOf(model.name)!
    const { scene } = format.read(model, beside, { ...optionsFor(format, readOptions), codec })
    const own = surfaceModelNamed(String(value('surface')))
    const documents = beside
      .filter(({ name }) => /\.mtlx$/i.test(name))
      .flatMap(({ bytes }) => readMaterialX(decodeUtf8(bytes) ?? ''))
    const materials = receivedMaterials(scene, beside, documents)
    const picture = writePng({ ...drawBalls(materials), channels: 3, colorSpace: 'sRGB' })
    const stem = stemOf(fileNameOf(model.name))
    return {
      files: [model, { name: `${stem}_drawn.png`, bytes: picture }],
      log: rendererLog(materials, own),
    }
  },
}
