import type { SurfaceModelDescriptor } from '../model.ts'

/** Materials of MTL files, with the words of its physically based extension for maps. */
export const mtl: SurfaceModelDescriptor = {
  id: 'mtl',
  title: 'MTL',
  source: 'Wavefront MTL, version 4.2 (appendix B1 of its manual); extension for physically based rendering',
  materialModel: 'mtl',
  parameters: [
    { slot: 'baseColor', name: 'Kd', width: 3, mapName: 'map_Kd' },
    { slot: 'ambient', name: 'Ka', width: 3, mapName: 'map_Ka' },
    { slot: 'specular', name: 'Ks', width: 3, mapName: 'map_Ks' },
    { slot: 'emissive', name: 'Ke', width: 3, mapName: 'map_Ke' },
    { slot: 'shininess', name: 'Ns', width: 1, mapName: 'map_Ns' },
    { slot: 'opacity', name: 'd', width: 1, mapName: 'map_d' },
    { slot: 'bump', name: null, width: 0, mapName: 'map_bump' },
    { slot: 'normal', name: null, width: 0, mapName: 'norm' },
    { slot: 'displacement', name: null, width: 0, mapName: 'disp' },
    { slot: 'reflection', name: null, width: 0, mapName: 'refl' },
    { slot: 'roughness', name: 'Pr', width: 1, mapName: 'map_Pr' },
    { slot: 'metalness', name: 'Pm', width: 1, mapName: 'map_Pm' },
    { slot: 'sheen', name: 'Ps', width: 1, mapName: 'map_Ps' },
    { slot: 'clearcoat', name: 'Pc', width: 1, mapName: null },
    { slot: 'clearcoatRoughness', name: 'Pcr', width: 1, mapName: null },
    { slot: 'anisotropy', name: 'aniso', width: 1, mapName: null },
    { slot: 'anisotropyRotation', name: 'anisor', width: 1, mapName: null },
  ],
  ownWords: ['illum', 'Ni', 'Tf', 'Tr', 'sharpness'],
}
