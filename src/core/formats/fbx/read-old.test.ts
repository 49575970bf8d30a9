/**
 * FBX 6.1, as text and as binary records: objects by name, polygons in the model itself, lists of values in
 * place of arrays. Source: the layout as described by open-source exporters of that time, from memory; no
 * reader at hand in these tests takes it (three asks for 6.4, assimp for 7.1).
 */
import { describe, expect, test } from 'vitest'
import { readFbx } from './read-fbx.ts'
import { int, record, type WriteRecord } from './write-tree.ts'
import { writeBinaryTree } from './write-binary-tree.ts'
import { writeFbx } from './write-fbx.ts'
import { PURE_CODEC } from '../../base/bytes/zlib.ts'
import { fingerprintScene } from '../../compare/fingerprint.ts'
import { TRAITS } from '../../compare/traits/registry.ts'

const POINTS = [0, 0, 0, 2, 0, 0, 2, 2, 0, 0, 2, 0, 4, 0, 0, 4, 2, 0]
/** A list over several lines, as exporters broke them. */
const lines = (values: readonly number[], each = 5): string =>
  values
    .reduce<string[]>((rows, value, at) => {
      if (at % each === 0) rows.push('')
      rows[rows.length - 1] += `${at % each ? ',' : ''}${value}`
      return rows
    }, [])
    .join('\n,')

const OLD = `; FBX 6.1.0 project file
; ----------------------------------------------------
FBXHeaderExtension:  {
	FBXHeaderVersion: 1003
	FBXVersion: 6100
	Creator: "A workshop of long ago"
}
Definitions:  {
	Version: 100
	Count: 3
	ObjectType: "Model" {
		Count: 2
	}
}
Objects:  {
	Model: "Model::deck", "Mesh" {
		Version: 232
		Properties60:  {
			Property: "Lcl Translation", "Lcl Translation", "A+",10,20,30
			Property: "Lcl Rotation", "Lcl Rotation", "A+",0,90,0
			Property: "Lcl Scaling", "Lcl Scaling", "A+",1,1,1
			Property: "RotationOrder", "enum", "",0
			Property: "plank", "KString", "U", "oak"
			Property: "Show", "bool", "",1
		}
		Vertices: ${lines(POINTS)}
		PolygonVertexIndex: 0,1,2,-4,1,4,5,-3
		Edges: 0,1,2,3,4,5,6
		GeometryVersion: 124
		LayerElementNormal: 0 {
			Version: 101
			Name: ""
			MappingInformationType: "ByVertice"
			ReferenceInformationType: "Direct"
			Normals: ${lines(
        POINTS.map((_value, at) => (at % 3 === 2 ? 1 : 0)),
        7,
      )}
		}
		LayerElementSmoothing: 0 {
			Version: 102
			MappingInformationType: "ByEdge"
			ReferenceInformationType: "Direct"
			Smoothing: 1,0,1,1,1,1,1
		}
		LayerElementUV: 0 {
			Version: 101
			Name: "planks"
			MappingInformationType: "ByPolygonVertex"
			ReferenceInformationType: "IndexToDirect"
			UV: 0,0,0.5,0,0.5,1,0,1,1,0,1,1
			UVIndex: 0,1,2,3,1,4,5,2
		}
		LayerElementMaterial: 0 {
			Version: 101
			MappingInformationType: "ByPolygon"
			ReferenceInformationType: "IndexToDirect"
			Materials: 0,1
		}
		Shape: "warped" {
			Indexes: 0,5
			Vertices: 0,0,0.5,0,0,-0.5
			Normals: 0,0,0,0,0,0
		}
	}
	Model: "Model::watch", "Camera" {
		Properties60:  {
			Property: "Lcl Translation", "Lcl Translation", "A+",0,0,100
			Property: "FieldOfView", "FieldOfView", "A+",40
		}
	}
	Material: "Material::oak", "" {
		ShadingModel: "lambert"
		Properties60:  {
			Property: "DiffuseColor", "ColorRGB", "",0.5,0.25,0.125
		}
	}
	Material: "Material::tar", "" {
		ShadingModel: "phong"
		Properties60:  {
			Property: "DiffuseColor", "ColorRGB", "",0.0625,0.0625,0.0625
		}
	}
	Texture: "Texture::grain", "TextureVideoClip" {
		FileName: "grain.png"
		RelativeFilename: "grain.png"
		ModelUVTranslation: 0.5,0
		ModelUVScaling: 2,1
	}
	GlobalSettings:  {
		Version: 1000
		Properties60:  {
			Property: "UpAxis", "int", "",2
			Property: "UpAxisSign", "int", "",1
			Property: "FrontAxis", "int", "",1
			Property: "FrontAxisSign", "int", "",-1
			Property: "CoordAxis", "int", "",0
			Property: "CoordAxisSign", "int", "",1
			Property: "UnitScaleFactor", "double", "",2.54
		}
	}
}
Connections:  {
	Connect: "OO", "Model::deck", "Model::Scene"
	Connect: "OO", "Model::watch", "Model::Scene"
	Connect: "OO", "Material::oak", "Model::deck"
	Connect: "OO", "Material::tar", "Model::deck"
	Connect: "OO", "Texture::grain", "Model::deck"
}
Takes:  {
	Current: ""
}
Version5:  {
	Settings:  {
		FrameRate: "24"
	}
}
`
const readText = (text: string) => readFbx({ name: 'old.fbx', bytes: new TextEncoder().encode(text) })

/** The same file as binary records of version 6.1, numbers one by one. */
function oldBinary(): Uint8Array {
  const named = (name: string, kind: string): string => `${name}\0\x01${kind}`
  const P = (name: string, type: string, flags: string, ...values: number[]): WriteRecord =>
    record('Property', [name, type, flags, ...values])
  const layer = (kind: string, mapping: string, reference: string, inner: WriteRecord[], name = '') =>
    record(
      kind,
      [int(0)],
      [
        record('Name', [name]),
        record('MappingInformationType', [mapping]),
        record('ReferenceInformationType', [reference]),
        ...inner,
      ],
    )
  const records = [
    record('FBXHeaderExtension', [], [record('FBXVersion', [int(6100)])]),
    record(
      'Objects',
      [],
      [
        record(
          'Model',
          [named('deck', 'Model'), 'Mesh'],
          [
            record(
              'Properties60',
              [],
              [
                P('Lcl Translation', 'Lcl Translation', 'A+', 10, 20, 30),
                P('Lcl Rotation', 'Lcl Rotation', 'A+', 0, 90, 0),
              ],
            ),
            record('Vertices', POINTS),
            record('PolygonVertexIndex', [0, 1, 2, -4, 1, 4, 5, -3].map(int)),
            record('Edges', [0, 1, 2, 3, 4, 5, 6].map(int)),
            layer('LayerElementSmoothing', 'ByEdge', 'Direct', [
              record('Smoothing', [1, 0, 1, 1, 1, 1, 1].map(int)),
            ]),
            layer(
              'LayerElementUV',
              'ByPolygonVertex',
              'IndexToDirect',
              [
                record('UV', [0, 0, 0.5, 0, 0.5, 1, 0, 1, 1, 0, 1, 1]),
                record('UVIndex', [0, 1, 2, 3, 1, 4, 5, 2].map(int)),
              ],
              'planks',
            ),
          ],
        ),
      ],
    ),
    record('Connections', [], [record('Connect', ['OO', named('deck', 'Model'), named('Scene', 'Model')])]),
  ]
  const bytes = writeBinaryTree(records, 7400, PURE_CODEC)
  new DataView(bytes.buffer).setUint32(23, 6100, true)
  return bytes
}

describe('FBX 6.1', () => {
  test('text: hierarchy, polygons, layers, materials, shapes, cameras, unit and axes', () => {
    const { scene, findings } = readText(OLD)
    expect(findings.map((finding) => finding.code)).toEqual(['image.missing'])
    expect(scene.formatVersion).toBe('6.1 text')
    expect(scene.space).toEqual({ unitMeters: 0.0254, upAxis: 'z', frontAxis: '-y', handedness: 'right' })
    expect(scene.nodes.map((node) => [node.name, node.parent, node.visible, node.properties])).toEqual([
      ['deck', -1, true, { plank: 'oak' }],
      ['watch', -1, true, {}],
    ])
    expect(scene.nodes[0]!.local).toEqual([0, 0, -1, 0, 0, 1, 0, 0, 1, 0, 0, 0, 10, 20, 30, 1])
    const [mesh] = scene.meshes
    expect([...mesh!.points]).toEqual(POINTS)
    expect([[...mesh!.faceOffsets], [...mesh!.faceVertices]]).toEqual([
      [0, 4, 8],
      [0, 1, 2, 3, 1, 4, 5, 2],
    ])
    expect([...mesh!.normals!.indices]).toEqual([0, 1, 2, 3, 1, 4, 5, 2])
    expect(mesh!.smoothing).toEqual({ kind: 'edges', hardEdgePoints: Uint32Array.of(1, 2) })
    expect([mesh!.uvSets[0]!.name, ...mesh!.uvSets[0]!.indices]).toEqual(['planks', 0, 1, 2, 3, 1, 4, 5, 2])
    expect(mesh!.shapes).toEqual([
      {
        name: 'warped',
        points: Uint32Array.of(0, 5),
        offsets: Float64Array.of(0, 0, 0.5, 0, 0, -0.5),
        normals: new Float64Array(6),
      },
    ])
    expect([...mesh!.faceMaterials!].map((at) => scene.materials[at]!.name)).toEqual(['oak', 'tar'])
    expect(scene.materials.map((material) => [material.model, material.properties[0]!.values[0]])).toEqual([
      ['lambert', 0.5],
      ['phong', 0.0625],
    ])
    expect(scene.materials[0]!.maps[0]).toMatchObject({
      slot: 'baseColor',
      file: 'grain.png',
      placement: { scale: [2, 1], offset: [0.5, 0] },
    })
    expect(scene.cameras.map((camera) => camera.node)).toEqual([1])
  })
  test('binary: the same polygons and layers', () => {
    const text = readText(OLD).scene.meshes[0]!
    const { scene, findings } = readFbx({ name: 'old.fbx', bytes: oldBinary() })
    expect([findings, scene.formatVersion]).toEqual([[], '6.1 binary'])
    const [mesh] = scene.meshes
    for (const key of ['points', 'faceOffsets', 'faceVertices', 'smoothing', 'uvSets'] as const)
      expect(mesh![key]).toEqual(text[key])
  })
  test('written as 7.4, read again: every trait the same', () => {
    const { scene } = readText(OLD)
    const again = readFbx(writeFbx(scene, 'new.fbx').files[0]!).scene
    const [before, after] = [fingerprintScene(scene), fingerprintScene(again)]
    expect(TRAITS.filter((trait) => before[trait] !== after[trait])).toEqual([])
  })
  test('a number that is too large is told as the file has it, and a list full of such is no work', () => {
    const large = readText(OLD.replace('Vertices: 0,0,0,2,0', `Vertices: ${'0,'.repeat(40)}1e999,0,0,0,2,0`))
    expect(large.findings.find((finding) => finding.code === 'fbx.number')!.parameters.text).toBe('1e999')
    const many = readText(OLD.replace('Vertices: 0,0,0,2,0', `Vertices: ${'1e999,'.repeat(300000)}0,0,0,2,0`))
    expect(many.findings.find((finding) => finding.code === 'fbx.number')!.total).toBe(300000)
  })
  test('a list with a broken number says so with its line', () => {
    const { scene, findings } = readText(OLD.replace('2,2,0,0', '2,2x,0,0'))
    const [number] = findings.filter((finding) => finding.code === 'fbx.number')
    expect([number!.parameters.text, typeof number!.line]).toEqual(['2x', 'number'])
    expect(scene.meshes[0]!.points.length).toBe(POINTS.length)
  })
})
