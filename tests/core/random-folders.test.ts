/** Random folders of maps for random targets: what is drawn in the end is what the files say, whatever lies between. */
import sharp from 'sharp'
import { expect, test } from 'vitest'
import { QUIET } from '../../src/app/host.ts'
import { showSurfaces } from '../../src/app/show-surfaces.ts'
import { chanceOf } from '../../src/core/base/math/chance.ts'
import { decodeSrgb } from '../../src/core/image/transfer.ts'
import { buildCourierHeron } from '../../src/core/practice/demo/courier-heron.ts'
import type { Scene } from '../../src/core/scene/scene.ts'
import { recogniseSurface } from '../../src/core/surfaces/recognise-surface.ts'
import { surfaceModelNamed } from '../../src/core/surfaces/registry.ts'
import { NO_RULES } from '../../src/core/surfaces/remap/rules.ts'
import { NODE_HOST } from '../../src/host/node-host.ts'

const TARGETS = [
  'openpbr',
  'standard-surface',
  'gltf',
  'usd-preview',
  'reflection-glossiness',
  'gltf-specular-glossiness',
  'mtl',
]
/** Targets that have a slot for occlusion. */
const WITH_OCCLUSION = ['gltf', 'usd-preview', 'gltf-specular-glossiness']

const flat = async ([r, g, b]: readonly number[]): Promise<Uint8Array> =>
  new Uint8Array(
    await sharp({ create: { width: 4, height: 4, channels: 3, background: { r: r!, g: g!, b: b! } } })
      .png()
      .toBuffer(),
  )
/** Steps of a map's first pixel as it is drawn; null where there is none. */
async function pixelOf(scene: Scene, property: string): Promise<number[] | null> {
  const map = scene.materials[0]!.maps.find((one) => one.property === property)
  const image = map && scene.images.find(({ file }) => file === map.file)
  if (!image?.bytes) return null
  return [...(await sharp(image.bytes).ensureAlpha().raw().toBuffer()).subarray(0, 4)]
}
const light = (step: number): number => decodeSrgb(step / 255)

test.each(Array.from({ length: 21 }, (_, seed) => seed + 1))('folder %i', async (seed) => {
  const chance = chanceOf(seed)
  const byte = (): number => Math.floor(chance() * 256)
  const target = TARGETS[seed % TARGETS.length]!
  const files: { name: string; bytes: Uint8Array }[] = []
  const put = async (word: string, color: readonly number[]): Promise<void> => {
    for (const tile of chance() < 0.35 ? ['.1001', '.1002'] : [''])
      files.push({ name: `plumage_${word}${tile}.png`, bytes: await flat(color) })
  }
  const grey = (step: number): number[] => [step, step, step]
  const base = [byte(), byte(), byte()]
  const [rough, metal, occlusion] = [byte(), chance() < 0.5 ? 0 : 255, byte()]
  await put(chance() < 0.5 ? 'BaseColor' : 'albedo', base)
  const isPacked = chance() < 0.33
  if (isPacked) await put('ORM', [occlusion, rough, metal])
  else {
    if (chance() < 0.5) await put('Roughness', grey(rough))
    else await put('Glossiness', grey(255 - rough))
    await put('Metallic', grey(metal))
  }
  const opacity = chance() < 0.4 ? byte() : 255
  if (opacity < 255) await put('Opacity', grey(opacity))
  const emission = chance() < 0.4 ? [byte(), byte(), byte()] : [0, 0, 0]
  if (emission.some((one) => one > 0)) await put('Emissive', emission)
  const isDown = chance() < 0.5
  const green = 60 + Math.floor(chance() * 60)
  await put(isDown ? 'Normal_DirectX' : 'Normal_OpenGL', [128, green, 235])

  const { after } = await showSurfaces(
    buildCourierHeron(),
    { target: surfaceModelNamed(target), files, rules: NO_RULES },
    QUIET,
    NODE_HOST,
  )
  const { values } = recogniseSurface(after.materials[0]!)
  const num = (name: string): number => values[name] as number
  const rgb = (name: string): readonly number[] => values[name] as readonly number[]
  const near = (own: number, wanted: number, within: number, what: string): void =>
    expect(Math.abs(own - wanted), `${target}: ${what} ${own} for ${wanted}`).toBeLessThan(within)
  const color = await pixelOf(after, 'baseColorTexture')
  const packed = await pixelOf(after, 'metallicRoughnessTexture')
  const emissive = await pixelOf(after, 'emissiveTexture')
  for (const channel of [0, 1, 2]) {
    // MTL has a metal's colour in its highlight
    if (target !== 'mtl')
      near(light(color?.[channel] ?? 255) * rgb('base_color')[channel]!, light(base[channel]!), 0.02, 'base')
    const strength = rgb('emissive')[channel]! * num('emissive_strength')
    near(light(emissive?.[channel] ?? 255) * strength, light(emission[channel]!), 0.02, 'emission')
  }
  near(((packed?.[1] ?? 255) / 255) * num('roughness'), rough / 255, 0.012, 'roughness')
  near(((packed?.[2] ?? 255) / 255) * num('metallic'), metal / 255, 0.03, 'metalness')
  near(((color?.[3] ?? 255) / 255) * num('alpha'), opacity / 255, 0.012, 'opacity')
  near(
    (await pixelOf(after, 'normalTexture'))![1]! / 255,
    (isDown ? 255 - green : green) / 255,
    0.012,
    'green',
  )
  if (isPacked && WITH_OCCLUSION.includes(target))
    near((await pixelOf(after, 'occlusionTexture'))![0]! / 255, occlusion / 255, 0.012, 'occlusion')
})
