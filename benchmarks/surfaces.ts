/** Maps recognised, converted and packed, beside what sharp takes to unpack and pack the same files; many materials. */
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import sharp from 'sharp'
import { remapModel } from '../src/app/remap-model.ts'
import { EMPTY_MESH } from '../src/core/scene/mesh.ts'
import { EMPTY_SCENE, rootNodes, type Scene } from '../src/core/scene/scene.ts'
import { ONE_MAP_DEFAULTS, type OneMapOptions } from '../src/core/surfaces/one-map/options.ts'
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

export async function writeMaps(folder: string): Promise<void> {
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

const remap = (
  scene: Scene,
  files: readonly { name: string; bytes: Uint8Array }[],
  makes: boolean,
  oneMap?: OneMapOptions,
) =>
  remapModel(
    scene,
    {
      target: surfaceModelNamed('gltf'),
      files,
      rules: { rules: [], ...(oneMap ? { oneMap } : {}) },
      stem: 'figures',
      makes,
    },
    () => undefined,
    NODE_HOST,
  )

/** Quads along a side: 99 856 in all. */
const QUADS = 316

/** A waved sheet with four materials in squares of 20 quads, the drawn set as it lies and the maps' own turned. */
export function sheet(files: readonly { name: string; bytes: Uint8Array }[]): Scene {
  const side = QUADS + 1
  const points = new Float64Array(3 * side * side)
  const uvs = new Float64Array(2 * side * side)
  const turned = new Float64Array(2 * side * side)
  for (let row = 0, at = 0; row < side; row++)
    for (let column = 0; column < side; column++, at++) {
      const [u, v] = [column / QUADS, row / QUADS]
      points.set([u, v, 0.1 * Math.sin(9 * u) * Math.cos(7 * v)], 3 * at)
      uvs.set([0.01 + 0.98 * u, 0.01 + 0.98 * v], 2 * at)
      turned.set([2 * (u * 0.8 - v * 0.6), 2 * (u * 0.6 + v * 0.8)], 2 * at)
    }
  const faceVertices = new Uint32Array(4 * QUADS * QUADS)
  const faceMaterials = new Int32Array(QUADS * QUADS)
  for (let row = 0, face = 0; row < QUADS; row++)
    for (let column = 0; column < QUADS; column++, face++) {
      const first = row * side + column
      faceVertices.set([first, first + 1, first + side + 1, first + side], 4 * face)
      faceMaterials[face] = (Math.floor(row / 20) % 2) * 2 + (Math.floor(column / 20) % 2)
    }
  const set = (name: string, values: Float64Array) => ({
    name,
    values,
    indices: Int32Array.from(faceVertices),
    depths: null,
  })
  const mesh = {
    ...EMPTY_MESH,
    name: 'sheet',
    points,
    faceOffsets: Uint32Array.from({ length: QUADS * QUADS + 1 }, (_, face) => 4 * face),
    faceVertices,
    faceMaterials,
    uvSets: [set('flat', uvs), set('own', turned)],
  }
  const slots = {
    BaseColor: 'baseColorTexture',
    Roughness: 'metallicRoughnessTexture',
    Metalness: 'metallicRoughnessTexture',
    Normal_dx: 'normalTexture',
    AO: 'occlusionTexture',
  } as const
  const slotOf = {
    BaseColor: 'baseColor',
    Roughness: 'roughness',
    Metalness: 'metalness',
    Normal_dx: 'normal',
    AO: 'occlusion',
  } as const
  return {
    ...sceneOf(['a', 'b', 'c', 'd']),
    nodes: rootNodes([mesh]),
    meshes: [mesh],
    materials: ['a', 'b', 'c', 'd'].map((name) => ({
      id: name,
      name,
      model: 'gltf_pbr',
      properties: [],
      maps: MAPS.map((map) => ({
        property: slots[map],
        slot: slotOf[map],
        file: `brass_${map}.png`,
        options: [],
        placement: {
          name: '',
          uvSet: 'own',
          wrapU: 'repeat',
          wrapV: 'repeat',
          scale: [1, 1],
          offset: [0, 0],
          kept: [],
        },
      })),
      kept: [],
    })),
    images: files.map(({ name, bytes }) => ({ file: name, entry: name, bytes })),
  }
}

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
  async oneMap(folder) {
    const files = readdirSync(folder).map((name) => ({ name, bytes: readFileSync(join(folder, name)) }))
    const scene = sheet(files)
    const start = performance.now()
    const { scene: drawn, findings } = await remap(scene, [], true, {
      ...ONE_MAP_DEFAULTS,
      size: SIDE,
      set: 'flat',
    })
    if (drawn.materials.length !== 1 || drawn.images.length !== 4 || findings.length)
      throw new Error(
        `${drawn.images.length} maps were drawn, ${findings.map(({ code }) => code).join(', ')}`,
      )
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
  const one = measure('oneMap', maps)
  console.log(
    `four materials on ${QUADS * QUADS} quads drawn into one, 20 maps of ${SIDE} × ${SIDE} into 5   ${seconds(one['milliseconds']!)} (target under 20 s), ${Math.round(one['peakBytes']! / 2 ** 20)} MB, ${(one['milliseconds']! / repacked['milliseconds']!).toFixed(2)} of unpacking and packing five`,
  )
  const materials = measure('remapMaterials', maps)
  console.log(
    `500 materials for glTF                                    ${seconds(materials['milliseconds']!)} (target under 1 s)`,
  )
}
