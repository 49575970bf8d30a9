/** Materials of glTF with all their maps, lit, or one of their parameters alone as flat colour. */
import * as THREE from 'three'
import type { Material, MaterialMap } from '../../core/scene/material.ts'
import type { Scene } from '../../core/scene/scene.ts'
import type { SurfaceParameter, SurfaceValues } from '../../core/surfaces/model.ts'
import { gltf } from '../../core/surfaces/models/gltf.ts'
import { recogniseSurface } from '../../core/surfaces/recognise-surface.ts'
import { drawImage } from './draw-image.ts'
import type { DrawnMaterials } from './drawn-materials.ts'
import { createFlatMaterial, showFlat } from './flat-material.ts'
import { litMaterial } from './lit-material.ts'

/** UV sets that three draws with at most. */
const MOST_SETS = 4
/** Looks along a slanting surface. */
const SLANT = 4

type MapName = keyof THREE.MeshPhysicalMaterial
/** Where three's material has each of glTF's textures; both read the same channels of them. */
const PLACES: Readonly<Record<string, readonly MapName[]>> = {
  baseColorTexture: ['map'],
  metallicRoughnessTexture: ['metalnessMap', 'roughnessMap'],
  normalTexture: ['normalMap'],
  occlusionTexture: ['aoMap'],
  emissiveTexture: ['emissiveMap'],
  specularTexture: ['specularIntensityMap'],
  specularColorTexture: ['specularColorMap'],
  clearcoatTexture: ['clearcoatMap'],
  clearcoatRoughnessTexture: ['clearcoatRoughnessMap'],
  clearcoatNormalTexture: ['clearcoatNormalMap'],
  sheenColorTexture: ['sheenColorMap'],
  sheenRoughnessTexture: ['sheenRoughnessMap'],
  anisotropyTexture: ['anisotropyMap'],
  iridescenceTexture: ['iridescenceMap'],
  iridescenceThicknessTexture: ['iridescenceThicknessMap'],
}

const parametersOf = ({ property }: MaterialMap): SurfaceParameter[] =>
  gltf.parameters.filter(({ mapName }) => mapName === property)

/** The sets that maps lie on, the first before all others. */
function setNamesOf({ materials }: Scene): string[] {
  const names = new Set([''])
  for (const { maps } of materials) for (const { placement } of maps) names.add(placement?.uvSet ?? '')
  return [...names].slice(0, MOST_SETS)
}

/** A texture as one map of a material lays it. */
function laid(image: THREE.Texture, { placement }: MaterialMap, setNames: readonly string[]): THREE.Texture {
  const texture = image.clone()
  texture.channel = Math.max(0, setNames.indexOf(placement?.uvSet ?? ''))
  texture.anisotropy = SLANT
  if (!placement) return texture
  const { x, y } = image.repeat
  texture.repeat.set(placement.scale[0] * x, placement.scale[1] * y)
  texture.offset.set(placement.offset[0] * x, placement.offset[1] * y)
  const wrap = (word: 'repeat' | 'clamp') =>
    word === 'clamp' ? THREE.ClampToEdgeWrapping : THREE.RepeatWrapping
  texture.wrapS = wrap(placement.wrapU)
  texture.wrapT = wrap(placement.wrapV)
  return texture
}

/** @param outline a scene whose materials are glTF's; of its meshes nothing is read. */
export function createLitMaterials(outline: Scene): DrawnMaterials {
  const setNames = setNamesOf(outline)
  const bare: Material = { id: '', name: '', model: gltf.materialModel, properties: [], maps: [], kept: [] }
  // what has no material is drawn as a rough grey
  const values: SurfaceValues[] = [
    ...outline.materials.map((material) => recogniseSurface(material).values),
    { base_color: [0.5, 0.5, 0.5], metallic: 0, roughness: 0.7 },
  ]
  const materials = [...outline.materials, bare]
  const lit = values.map((own) => {
    const material = litMaterial(own)
    material.side = THREE.DoubleSide
    return material
  })
  const flat = values.map(() => createFlatMaterial())
  /** By material and glTF's word for it. */
  const textures = materials.map(() => new Map<string, THREE.Texture>())
  let parameter: string | null = null
  let maps = true

  function refresh(): void {
    const shown = gltf.parameters.find(({ name, mapName }) => (name ?? mapName) === parameter) ?? null
    for (const [at, own] of textures.entries()) {
      const material = lit[at]!
      for (const [word, texture] of own)
        for (const place of PLACES[word] ?? [])
          if (material[place] !== (maps ? texture : null)) {
            Object.assign(material, { [place]: maps ? texture : null })
            material.needsUpdate = true
          }
      if (own.has('normalTexture')) {
        const strength = Number(values[at]!['normal_scale'] ?? 1)
        material.normalScale.set(strength, strength)
      }
      const occlusion = Number(values[at]!['occlusion'] ?? 1)
      material.aoMapIntensity = occlusion
      if (shown)
        showFlat(
          flat[at]!,
          shown,
          shown.name === null ? undefined : values[at]![shown.name],
          (maps && own.get(shown.mapName ?? '')) || null,
        )
    }
  }

  return {
    get looks() {
      return parameter === null ? lit : flat
    },
    setNames,
    textures: new Map(),
    lookOf: (material) => (material >= 0 && material < outline.materials.length ? material : lit.length - 1),
    colorOf: () => [1, 1, 1],
    normalsOf: (material) => (textures[material]?.get('normalTexture')?.image as ImageBitmap) ?? null,
    async loadMaps(scene) {
      const images = new Map<string, Promise<THREE.Texture | null>>()
      for (const [at, material] of scene.materials.entries())
        for (const map of material.maps) {
          const isColor = parametersOf(map).some(({ mapIsColor }) => mapIsColor)
          const image = scene.images.find(({ file }) => file === map.file)
          if (!image?.bytes) continue
          const key = `${isColor} ${map.file}`
          const drawn = await (images.get(key) ?? images.set(key, drawImage(image, isColor)).get(key)!)
          // an image that this browser can't show leaves the material its value
          if (drawn) textures[at]!.set(map.property, laid(drawn, map, setNames))
        }
      refresh()
    },
    setLook(settings) {
      maps = settings.maps
      parameter = settings.parameter
      refresh()
    },
    dispose() {
      for (const material of [...lit, ...flat]) material.dispose()
      for (const own of textures) for (const texture of own.values()) texture.dispose()
    },
  }
}
