import type { Material, MaterialMap } from '../../scene/material.ts'
import type { SceneImage } from '../../scene/scene.ts'

/** A material of the demo in MTL's words, with its base colour map and, for metals, a roughness map. */
export function demoMaterial(
  name: string,
  color: readonly [number, number, number],
  roughness: number,
  metalness: number,
  opacity: number,
  maps: readonly MaterialMap[],
): Material {
  const property = (key: string, values: readonly number[]): Material['properties'][number] => ({
    name: key,
    values,
    text: null,
  })
  return {
    id: '',
    name,
    model: 'mtl',
    properties: [
      property('Kd', color),
      property('Ks', [0.04, 0.04, 0.04]),
      property('Ns', [Math.round(2 / (roughness ** 4 || 1e-3))]),
      property('d', [opacity]),
      property('illum', [2]),
      property('Pr', [roughness]),
      property('Pm', [metalness]),
    ],
    maps,
    kept: [],
  }
}

export const colorMap = (file: string): MaterialMap => ({
  property: 'map_Kd',
  slot: 'baseColor',
  file,
  options: [],
})
export const roughnessMap = (file: string): MaterialMap => ({
  property: 'map_Pr',
  slot: 'roughness',
  file,
  options: [],
})

export const demoImage = (file: string, bytes: Uint8Array): SceneImage => ({ file, entry: file, bytes })
