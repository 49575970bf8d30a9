/** Maps recognised, converted and packed, beside what sharp takes to unpack and pack the same files; many materials. */
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import sharp from 'sharp'
import { remapModel } from '../src/app/remap-model.ts'
import { EMPTY_SCENE, type Scene } from '../src/core/scene/scene.ts'
import { surfaceModelNamed } from '../src/core/surfaces/registry.ts'
import { NODE_HOST } from '../src/host/node-host.ts'

const SIDE = 4096
const MAPS = ['BaseColor', 'Roughness', 'Metalness', 'Normal_dx', 'AO'] as const

/** Smooth hills with a little grain, so that files are as large as painted maps are. */
function paint(channels: 1 | 3, seed: number): Uint8Array {
  const values = new Uint8Array(SIDE * SIDE * channels)
  let chance = seed
  for (let row = 0, at = 0; row < SIDE; row++)
    for (let column = 0; column < SIDE; column++)
      for (let channel = 0; channel < channels; channel++) {
        chance = (Math.imul(chance, 1664525) + 1013904223) >>> 0
        const hill = Math.sin(column / (90 + 40 * channel)) + Math.cos(row / (120 + 30 * channel))
        values[at++] = 128 + 50 * hill + (chance >>> 28)
      }
  return values
}

async function writeMaps(folder: string): Promise<void> {
  mkdirSync(folder, { recursive: true })
  for (const [index, name] of MAPS.entries()) {
    const channels = index === 0 || name === 'Normal_dx' ? 3 : 1
    const bytes = await sharp(paint(channels, index + 1), {
      raw: { width: SIDE, height: SIDE, channels },
    })
      .png({ compressionLevel: 6 })
      .toBuffer()
    writeFileSync(join(folder, `brass_${name}.png`), bytes)
  }
}

const sceneOf = (names: readonly string[]): Scene => ({
  ...EMPTY_SCENE,
  materials: names.map((name, at) => ({
    id: name,
    name,
    model: 'mtl',
    properties: [
      { name: 'Kd', values: [at / names.length, 0.4, 0.3], text: null },
      { name: 'Ks', values: [0.2, 0.2, 0.2], text: null },
      { name: 'Ns', values: [at], text: null },
      { name: 'Ni', values: [1.5], text: null },
      { name: 'd', values: [1], text: null },
    ],
    maps: [],
    kept: [],
  })),
})

const remap = (scene: Scene, files: readonly { name: string; bytes: Uint8Array }[], makes: boolean) =>
  remapModel(
    scene,
    {
      target: surfaceModelNamed('gltf'),
      files,
      rules: { rules: [] },
      stem: 'figures',
      makes,
    },
    () => undefined,
    NODE_HOST,
  )

export const SURFACE_MEASURES: Record<string, (folder: string) => Promise<Record<string, number>>> = {
  async repackMaps(folder) {
    const start = performance.now()
    for (const name of readdirSync(folder)) {
      const image = sharp(readFileSync(join(folder, name)))
      const { data, info } = await image.raw().toBuffer({ resolveWithObject: true })
      await sharp(data, { raw: { width: info.width, height: info.height, channels: info.channels } })
        .png({ compressionLevel: 6 })
        .toBuffer()
    }
    return { milliseconds: performance.now() - start, peakBytes: process.resourceUsage().maxRSS * 1024 }
  },
  async remapMaps(folder) {
    const start = performance.now()
    const files = readdirSync(folder).map((name) => ({ name, bytes: readFileSync(join(folder, name)) }))
    const { plan, findings } = await remap(sceneOf(['brass']), files, true)
    if (plan.maps.length !== 4 || findings.some(({ code }) => code === 'remap.image-not-made'))
      throw new Error(`${plan.maps.length} maps were made`)
    return { milliseconds: performance.now() - start, peakBytes: process.resourceUsage().maxRSS * 1024 }
  },
  async remapMaterials() {
    const scene = sceneOf(Array.from({ length: 500 }, (_, at) => `part_${at}_mat`))
    const start = performance.now()
    const { sheets } = await remap(scene, [], false)
    if (sheets.length !== 500) throw new Error('materials are missing')
    return { milliseconds: performance.now() - start }
  },
}

export async function printSurfaceFigures(
  folder: string,
  {
    measure,
    seconds,
  }: {
    measure: (name: string, path: string) => Record<string, number>
    seconds: (milliseconds: number) => string
  },
): Promise<void> {
  const maps = join(folder, 'maps')
  await writeMaps(maps)
  const [repacked, remapped] = [measure('repackMaps', maps), measure('remapMaps', maps)]
  const ratio = remapped['milliseconds']! / repacked['milliseconds']!
  console.log(
    `five maps of ${SIDE} × ${SIDE}: unpacked and packed by sharp     ${seconds(repacked['milliseconds']!)}`,
  )
  console.log(
    `recognised, packed and turned for glTF                    ${seconds(remapped['milliseconds']!)}   ${ratio.toFixed(2)} of that (target at most 2), ${Math.round(remapped['peakBytes']! / 2 ** 20)} MB against ${Math.round(repacked['peakBytes']! / 2 ** 20)} MB`,
  )
  const materials = measure('remapMaterials', maps)
  console.log(
    `500 materials for glTF                                    ${seconds(materials['milliseconds']!)} (target under 1 s)`,
  )
}
