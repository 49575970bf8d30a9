import type { SurfaceModelDescriptor } from '../model.ts'

/** Materials of the old shading models in FBX; two of its words for one thing differ by an ending. */
export const fbxPhong: SurfaceModelDescriptor = {
  id: 'fbx-phong',
  title: 'FBX Phong',
  source: 'names of the public FBX SDK documentation, from memory',
  materialModel: 'phong',
  parameters: [
    { slot: 'baseColor', name: 'DiffuseColor', width: 3, mapName: 'DiffuseColor' },
    { slot: 'ambient', name: 'AmbientColor', width: 3, mapName: 'AmbientColor' },
    { slot: 'specular', name: 'SpecularColor', width: 3, mapName: 'SpecularColor' },
    { slot: 'emissive', name: 'EmissiveColor', width: 3, mapName: 'EmissiveColor' },
    {
      slot: 'shininess',
      name: 'ShininessExponent',
      width: 1,
      mapName: 'ShininessExponent',
      synonyms: ['Shininess'],
    },
    { slot: 'opacity', name: 'Opacity', width: 1, mapName: 'TransparentColor' },
    { slot: 'bump', name: null, width: 0, mapName: 'Bump' },
    { slot: 'normal', name: null, width: 0, mapName: 'NormalMap' },
    { slot: 'displacement', name: null, width: 0, mapName: 'DisplacementColor' },
    { slot: 'reflection', name: null, width: 0, mapName: 'ReflectionColor' },
    { slot: 'roughness', name: null, width: 0, mapName: 'Roughness' },
    { slot: 'metalness', name: null, width: 0, mapName: 'Metalness' },
  ],
}
