import { describe, expect, test } from 'vitest'
import { file } from '../../../../tests/meshes.ts'
import { writeFbx } from '../../formats/fbx/write-fbx.ts'
import { writeObj } from '../../formats/obj/write-obj.ts'
import { readPackage } from '../../formats/package/read-package.ts'
import { surfaceModelNamed, FILE_MODELS } from '../registry.ts'
import { slotOfProperty, wordIn } from './wording.ts'

describe('words of surface models', () => {
  test('words are found by their last part, whatever their letters’ case', () => {
    expect(slotOfProperty('Any|thing|diffusecolor')).toBe('baseColor')
    expect(slotOfProperty('Shininess')).toBe('shininess')
    expect(slotOfProperty('Translucency')).toBeNull()
    const phong = surfaceModelNamed('fbx-phong')
    expect([wordIn(phong, 'kd'), wordIn(phong, 'Pr')]).toEqual(['DiffuseColor', 'Pr'])
  })
  test('each model has each slot once, under a name of its own', () => {
    for (const model of FILE_MODELS) {
      const slots = model.parameters.flatMap(({ slot }) => slot ?? [])
      expect(new Set(slots).size).toBe(slots.length)
      const names = model.parameters.flatMap(({ name }) => name ?? [])
      expect(new Set(names.map((name) => name.toLowerCase())).size).toBe(names.length)
    }
  })
  test('all that MTL says of a material comes home through FBX, maps included', () => {
    const MTL = `newmtl steel
Ka 0.1 0.2 0.3
Kd 0.5 0.4 0.3
Ks 0.1 0.1 0.1
Ke 0 0.5 0
Ns 20
Ni 1.45
d 0.8
Tf 0.9 0.8 0.7
illum 2
sharpness 60
Pr 0.3
Pm 0.9
Ps 0.4
Pc 0.25
Pcr 0.1
aniso 0.2
anisor 0.1
map_Kd kd.png
map_Pr rough.png
map_Pm metal.png
norm n.png
`
    const OBJ = 'mtllib a.mtl\no a\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl steel\nf 1 2 3\n'
    const { scene } = readPackage([file('a.obj', OBJ), file('a.mtl', MTL)])
    for (const form of ['binary', 'text'] as const) {
      const through = readPackage(writeFbx(scene, 'a.fbx', { form }).files).scene
      const { files, findings } = writeObj(through, 'a.obj')
      expect(findings.map(({ parameters }) => parameters['what'])).toEqual([])
      const lines = (text: string) => text.split('\n').filter(Boolean).sort()
      expect(lines(new TextDecoder().decode(files[1]!.bytes))).toEqual(lines(MTL))
    }
  })
})
