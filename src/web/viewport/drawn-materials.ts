/** How a scene's materials are drawn: a few looks that many materials share, and their maps. */
import * as THREE from 'three'
import type { Material } from '../../core/scene/material.ts'
import { tilePattern } from '../../core/scene/image-tiles.ts'
import type { Scene, SceneImage } from '../../core/scene/scene.ts'

/** Names by which the formats call a material's own colour. */
const COLOR_NAMES = ['kd', 'diffusecolor', 'diffuse']
const PLAIN_COLOR = [0xb9 / 255, 0xb4 / 255, 0xaa / 255] as const

const numberOf = (material: Material, name: string, fallback: number): number =>
  material.properties.find((property) => property.name.toLowerCase() === name)?.values[0] ?? fallback

const baseColorFile = (material: Material): string | null =>
  material.maps.find((candidate) => candidate.slot === 'baseColor')?.file ?? null

/** Pixels along the longer side of a picture that all tiles of a map are drawn into. */
const MOST_PIXELS = 4096

/** Squares along a side of it. */
const MOST_SQUARES = 100

const bitmapOf = (bytes: Uint8Array): Promise<ImageBitmap> =>
  createImageBitmap(new Blob([bytes.slice()]), { imageOrientation: 'flipY' })

/** Tiles side by side; squares without one stay white. */
async function drawTiles(image: SceneImage): Promise<THREE.Texture> {
  const { tileOf } = tilePattern(image.file)!
  const tiles = image.tiles!.map(({ label, bytes }) => ({ ...tileOf(label), bytes }))
  const columns = 1 + Math.max(...tiles.map(({ column }) => column))
  const rows = 1 + Math.max(...tiles.map(({ row }) => row))
  if (Math.max(columns, rows) > MOST_SQUARES)
    throw new RangeError('These tiles lie too far apart for a picture.')
  const [first] = tiles
  const size = Math.max(
    1,
    Math.min((await bitmapOf(first!.bytes)).width, Math.floor(MOST_PIXELS / Math.max(columns, rows))),
  )
  const canvas = new OffscreenCanvas(columns * size, rows * size)
  const context = canvas.getContext('2d')!
  context.fillStyle = 'white'
  context.fillRect(0, 0, canvas.width, canvas.height)
  for (const { column, row, bytes } of tiles)
    context.drawImage(await bitmapOf(bytes), column * size, row * size, size, size)
  const texture = new THREE.Texture(canvas.transferToImageBitmap())
  texture.repeat.set(1 / columns, 1 / rows)
  return texture
}

/** Null for what this browser can't show. */
async function drawImage(image: SceneImage): Promise<THREE.Texture | null> {
  let texture: THREE.Texture
  try {
    texture = image.tiles ? await drawTiles(image) : new THREE.Texture(await bitmapOf(image.bytes!))
  } catch {
    return null
  }
  texture.flipY = false
  texture.colorSpace = THREE.SRGBColorSpace
  texture.wrapS = texture.wrapT = THREE.RepeatWrapping
  texture.needsUpdate = true
  return texture
}

export interface DrawnMaterials {
  /** Number of the look that a material (-1: none) is drawn with. */
  readonly lookOf: (material: number) => number
  /** Linear red, green and blue of a material's own colour. */
  readonly colorOf: (material: number) => readonly [number, number, number]
  /** By the number of the look. */
  readonly looks: readonly THREE.MeshStandardMaterial[]
  /** Textures by the number of the material, where there is a base colour map. */
  readonly textures: ReadonlyMap<number, THREE.Texture>
  /** Takes the maps out of the scene's images. */
  readonly loadMaps: (scene: Scene) => Promise<void>
  /** Shows maps or the materials' own colours, and back faces marked or not. */
  readonly setLook: (maps: boolean, backFaces: boolean) => void
  readonly dispose: () => void
}

function drawLook(roughness: number, metalness: number, opacity: number): THREE.MeshStandardMaterial {
  const drawn = new THREE.MeshStandardMaterial({
    vertexColors: true,
    roughness,
    metalness,
    side: THREE.DoubleSide,
    transparent: opacity < 1,
    opacity,
    polygonOffset: true,
    polygonOffsetFactor: 1,
    polygonOffsetUnits: 1,
  })
  drawn.userData.texture = null
  drawn.userData.marks = { value: 0 }
  // back faces are striped: told apart without colour
  drawn.onBeforeCompile = (shader) => {
    shader.uniforms.markBackFaces = drawn.userData.marks as { value: number }
    shader.fragmentShader = `uniform float markBackFaces;\n${shader.fragmentShader}`.replace(
      '#include <color_fragment>',
      `#include <color_fragment>
      if (markBackFaces > 0.5 && !gl_FrontFacing) {
        float stripe = step(0.5, fract((gl_FragCoord.x + gl_FragCoord.y) / 14.0));
        diffuseColor = vec4(mix(vec3(0.68, 0.18, 0.05), vec3(0.95, 0.86, 0.8), stripe), 1.0);
      }`,
    )
  }
  return drawn
}

/** Materials that look alike are drawn as one: colours go with the vertices. */
export function createDrawnMaterials(outline: Scene): DrawnMaterials {
  const looks: THREE.MeshStandardMaterial[] = []
  const files: (string | null)[] = []
  const byKey = new Map<string, number>()
  const textures = new Map<number, THREE.Texture>()
  const shown = { maps: true, backFaces: false }

  function lookFor(material: Material | null): number {
    const opacity = material
      ? Math.min(1, Math.max(0.15, numberOf(material, 'd', 1 - numberOf(material, 'tr', 0))))
      : 1
    const roughness = material ? Math.max(0.25, numberOf(material, 'pr', 0.7)) : 0.8
    // without surroundings to mirror, a full metal would be black
    const metalness = material ? numberOf(material, 'pm', 0) * 0.35 : 0
    const file = material && baseColorFile(material)
    const key = JSON.stringify([opacity, roughness, metalness, file])
    let look = byKey.get(key)
    if (look === undefined) {
      look = looks.length
      byKey.set(key, look)
      looks.push(drawLook(roughness, metalness, opacity))
      files.push(file)
    }
    return look
  }
  const plain = lookFor(null)
  const numbers = outline.materials.map(lookFor)
  const colors = outline.materials.map((material): readonly [number, number, number] => {
    const values = material.properties.find((property) =>
      COLOR_NAMES.includes(property.name.toLowerCase()),
    )?.values
    return values && values.length >= 3 ? [values[0]!, values[1]!, values[2]!] : plainColor
  })

  function refresh(): void {
    for (const look of looks) {
      const texture = shown.maps ? (look.userData.texture as THREE.Texture | null) : null
      // a map is shown as it is; without it the material's own colour
      if (look.map !== texture || look.vertexColors !== (texture === null)) {
        look.map = texture
        look.vertexColors = texture === null
        look.needsUpdate = true
      }
      ;(look.userData.marks as { value: number }).value = shown.backFaces ? 1 : 0
    }
  }

  return {
    looks,
    textures,
    lookOf: (material) => numbers[material] ?? plain,
    colorOf: (material) => colors[material] ?? plainColor,
    async loadMaps(scene) {
      for (const [look, file] of files.entries()) {
        const image = file === null ? null : scene.images.find((candidate) => candidate.file === file)
        if (!image?.bytes) continue
        const texture = await drawImage(image)
        // a format this browser can't show; the material keeps its colour
        if (!texture) continue
        looks[look]!.userData.texture = texture
        numbers.forEach((own, material) => {
          if (own === look) textures.set(material, texture)
        })
      }
      refresh()
    },
    setLook(maps, backFaces) {
      shown.maps = maps
      shown.backFaces = backFaces
      refresh()
    },
    dispose() {
      for (const look of looks) {
        ;(look.userData.texture as THREE.Texture | null)?.dispose()
        look.dispose()
      }
    },
  }
}

const plainColor: readonly [number, number, number] = (() => {
  const { r, g, b } = new THREE.Color().setRGB(...PLAIN_COLOR, THREE.SRGBColorSpace)
  return [r, g, b]
})()
