/** How a scene's materials are drawn: a few looks that many materials share, and their maps. */
import * as THREE from 'three'
import type { Material, MaterialMap } from '../../core/scene/material.ts'
import type { Scene } from '../../core/scene/scene.ts'
import { checkerTexture } from './checker.ts'
import { drawImage } from './draw-image.ts'
import type { ViewSettings } from './viewer-messages.ts'

/** Names by which the formats call a material's own colour. */
const COLOR_NAMES = ['kd', 'diffusecolor', 'diffuse']
const PLAIN_COLOR = [0xb9 / 255, 0xb4 / 255, 0xaa / 255] as const

const numberOf = (material: Material, name: string, fallback: number): number =>
  material.properties.find((property) => property.name.toLowerCase() === name)?.values[0] ?? fallback

const baseColorMap = (material: Material): MaterialMap | null =>
  material.maps.find((candidate) => candidate.slot === 'baseColor') ?? null

/** UV sets that are drawn with at most, the first among them. */
const MOST_SETS = 4

/** The sets that colours lie on, the first before all others. */
function setNamesOf({ materials }: Scene): string[] {
  const names = new Set([''])
  for (const material of materials) names.add(baseColorMap(material)?.placement?.uvSet ?? '')
  return [...names].slice(0, MOST_SETS)
}

export interface DrawnMaterials {
  /** Number of the look that a material (-1: none) is drawn with. */
  readonly lookOf: (material: number) => number
  /** Linear red, green and blue of a material's own colour. */
  readonly colorOf: (material: number) => readonly [number, number, number]
  /** By the number of the look; others where another way of showing them is set. */
  readonly looks: readonly THREE.Material[]
  /** Names of the UV sets that their maps lie on; empty: the first. */
  readonly setNames: readonly string[]
  /** Textures by the number of the material, where there is a base colour map. */
  readonly textures: ReadonlyMap<number, THREE.Texture>
  /** The map of normals of a material, V up; null where none is drawn. */
  readonly normalsOf: (material: number) => ImageBitmap | null
  /** Takes the maps out of the scene's images. */
  readonly loadMaps: (scene: Scene) => Promise<void>
  /** Shows maps or the materials' own colours, back faces marked or not, one parameter alone or all. */
  readonly setLook: (settings: Pick<ViewSettings, 'maps' | 'checker' | 'backFaces' | 'parameter'>) => void
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
  const colorMaps: (MaterialMap | null)[] = []
  const setNames = setNamesOf(outline)
  const byKey = new Map<string, number>()
  const textures = new Map<number, THREE.Texture>()
  const shown = { maps: true, checker: false, backFaces: false }

  function lookFor(material: Material | null): number {
    const opacity = material
      ? Math.min(1, Math.max(0.15, numberOf(material, 'd', 1 - numberOf(material, 'tr', 0))))
      : 1
    const roughness = material ? Math.max(0.25, numberOf(material, 'pr', 0.7)) : 0.8
    // without surroundings to mirror, a full metal would be black
    const metalness = material ? numberOf(material, 'pm', 0) * 0.35 : 0
    const map = material && baseColorMap(material)
    const key = JSON.stringify([opacity, roughness, metalness, map?.file, map?.placement?.uvSet])
    let look = byKey.get(key)
    if (look === undefined) {
      look = looks.length
      byKey.set(key, look)
      looks.push(drawLook(roughness, metalness, opacity))
      colorMaps.push(map)
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
      const own = shown.maps ? (look.userData.texture as THREE.Texture | null) : null
      const texture = shown.checker ? checkerTexture() : own
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
    setNames,
    textures,
    normalsOf: () => null,
    lookOf: (material) => numbers[material] ?? plain,
    colorOf: (material) => colors[material] ?? plainColor,
    async loadMaps(scene) {
      for (const [look, map] of colorMaps.entries()) {
        const image = map && scene.images.find((candidate) => candidate.file === map.file)
        if (!image?.bytes) continue
        const texture = await drawImage(image, true)
        // a format this browser can't show; the material keeps its colour
        if (!texture) continue
        const uvSet = map?.placement?.uvSet ?? ''
        texture.channel = Math.max(0, setNames.indexOf(uvSet))
        texture.userData.uvSet = uvSet
        looks[look]!.userData.texture = texture
        numbers.forEach((own, material) => {
          if (own === look) textures.set(material, texture)
        })
      }
      refresh()
    },
    setLook({ maps, checker, backFaces }) {
      shown.maps = maps
      shown.checker = checker
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
