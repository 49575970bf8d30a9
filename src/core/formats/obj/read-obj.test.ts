import { describe, expect, test } from 'vitest'
import { codesOf, CUBE, CUBE_MTL, file, readText } from '../../../../tests/meshes.ts'
import { readObj } from './read-obj.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { inspectMesh } from '../../inspect/inspect-scene.ts'
import { faceCountOf, type Smoothing } from '../../scene/mesh.ts'

const meshOf = (text: string, options = {}) => readText(text, options).scene.meshes[0]!
const groupsOf = (smoothing: Smoothing | null) =>
  smoothing?.kind === 'groups' ? [...smoothing.faceGroups] : null
const POINTS = 'v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 0 0 1\n'
const UVS = 'vt 0 0\nvt 1 0\nvt 1 1\n'
const NORMALS = 'vn 0 0 1\nvn 0 1 0\n'

describe('faces', () => {
  test('all four forms of corners', () => {
    const mesh = meshOf(
      `${POINTS}${UVS}${NORMALS}f 1 2 3\nf 1/1 2/2 3/3\nf 1//1 2//1 3//2\nf 1/1/1 2/2/1 3/3/2\n`,
    )
    expect([...mesh.faceVertices]).toEqual([0, 1, 2, 0, 1, 2, 0, 1, 2, 0, 1, 2])
    expect([...mesh.uvSets[0]!.indices]).toEqual([-1, -1, -1, 0, 1, 2, -1, -1, -1, 0, 1, 2])
    expect([...mesh.normals!.indices]).toEqual([-1, -1, -1, -1, -1, -1, 0, 0, 1, 0, 0, 1])
  })
  test('indices that count back from where they stand', () => {
    const mesh = meshOf('v 0 0 0\nv 1 0 0\nv 1 1 0\nf -3 -2 -1\nv 5 5 5\nf -4 -3 -1\n')
    expect([...mesh.faceVertices]).toEqual([0, 1, 2, 0, 1, 3])
  })
  test('polygons stay as drawn, and vertices may be declared after use', () => {
    const mesh = meshOf(`f 1 2 3 4 5\n${POINTS}`)
    expect([...mesh.faceOffsets]).toEqual([0, 5])
    expect([...mesh.faceVertices]).toEqual([0, 1, 2, 3, 4])
  })
  test('continued lines, tabs, repeated blanks, no newline at the end', () => {
    const mesh = meshOf(`${POINTS}f  1\t2 \\\n  3   4`)
    expect([...mesh.faceVertices]).toEqual([0, 1, 2, 3])
  })
  test.each([
    ['line feeds', '\n'],
    ['carriage returns and line feeds', '\r\n'],
    ['carriage returns', '\r'],
  ])('lines ended by %s', (_name, end) => {
    const { scene, findings } = readText(`${POINTS}f 1 2 9\nf 1 2 3\n`.replace(/\n/g, end))
    expect(faceCountOf(scene.meshes[0]!)).toBe(1)
    expect(findings).toMatchObject([{ code: 'obj.index-out-of-range', line: 6 }])
  })
  test('line numbers count continued lines', () => {
    const { findings } = readText(`${POINTS}f 1 \\\n2 3\nf 1 2 77\n`)
    expect(findings[0]).toMatchObject({ code: 'obj.index-out-of-range', line: 8 })
  })
})

describe('vertices', () => {
  test('a fourth number is a rational weight, six or more a colour', () => {
    const weighted = meshOf('v 0 0 0 0.5\nv 1 0 0\nv 1 1 0\nf 1 2 3\n')
    expect([...weighted.pointWeights!]).toEqual([0.5, 1, 1])
    expect(weighted.colorSets).toEqual([])
    const colored = meshOf('v 0 0 0 1 0.5 0\nv 1 0 0 0 0 0\nv 1 1 0\nf 1 2 3\n')
    expect(colored.pointWeights).toBeNull()
    expect(colored.colorSets[0]).toMatchObject({ components: 3, per: 'points' })
    expect([...colored.colorSets[0]!.indices]).toEqual([0, 1, -1])
    expect([...colored.colorSets[0]!.values]).toEqual([1, 0.5, 0, 0, 0, 0])
  })
  test('one, two or three texture coordinates', () => {
    const mesh = meshOf(`${POINTS}vt 0.5\nvt 0.25 0.75\nvt 0.1 0.2 0.3\nf 1/1 2/2 3/3\n`)
    expect([...mesh.uvSets[0]!.values]).toEqual([0.5, 0, 0.25, 0.75, 0.1, 0.2])
    expect([...mesh.uvSets[0]!.depths!]).toEqual([0, 0, 0.3])
    expect(meshOf(`${POINTS}${UVS}f 1/1 2/2 3/3\n`).uvSets[0]!.depths).toBeNull()
  })
  test('V can be turned over exactly', () => {
    expect([...meshOf(`${POINTS}vt 0.25 0.75\nf 1/1 2/1 3/1\n`, { flipV: true }).uvSets[0]!.values]).toEqual([
      0.25, 0.25,
    ])
  })
})

describe('state', () => {
  test('groups in combinations, smoothing as it came, materials with blanks in their names', () => {
    const { scene } = readText(CUBE, {}, [file('cube.mtl', CUBE_MTL)])
    const mesh = scene.meshes[0]!
    expect(mesh.name).toBe('crate')
    expect(mesh.groups!.names).toEqual(['lid', 'walls', 'sides'])
    expect(mesh.groups!.sets).toEqual([[0], [1, 2], [1]])
    expect([...mesh.groups!.faceSets]).toEqual([0, 1, 1, 1, 2, 2])
    expect(groupsOf(mesh.smoothing)).toEqual([1, 2, 4, 4, 4, 0])
    expect(scene.materials.map((material) => material.name)).toEqual(['brass', 'oak wood'])
    expect([...mesh.faceMaterials!]).toEqual([0, 1, 1, 1, 1, 1])
  })
  test('creases from tag lines, with vertices counted from 0', () => {
    const creases = meshOf(CUBE).creases!
    expect([...creases.edgePoints]).toEqual([4, 5, 5, 6])
    expect([...creases.edgeSharpness]).toEqual([2.5, 2.5])
    expect([[...creases.cornerPoints], [...creases.cornerSharpness]]).toEqual([[6], [10]])
  })
  test('hard edges are those whose faces share no group', () => {
    // groups 1 2 4 4 4 and none: the walls 2-3 and 3-4 share two soft edges, the other ten are hard
    const { scene } = readText(CUBE)
    expect(inspectMesh(scene, scene.meshes[0]!)).toMatchObject({ hardEdges: 10, edges: 12, vertices: 8 })
  })
  test('smoothing on and off, big numbers, and none stated', () => {
    const text = `${POINTS}s 4000000\nf 1 2 3\ns on\nf 1 2 3\ns off\nf 1 2 3\ns 0\nf 1 2 3\n`
    expect(groupsOf(meshOf(text).smoothing)).toEqual([4000000, 1, 0, 0])
    expect(meshOf(`${POINTS}f 1 2 3\n`).smoothing).toBeNull()
  })
})

describe('parts', () => {
  const two = `o left\n${POINTS}f 1 2 3\no right\nv 9 9 9\nf 3 4 6\n`
  test('one for each o, with points in file order and shared ones copied', () => {
    const { scene, findings } = readText(two)
    expect(scene.nodes.map((node) => node.name)).toEqual(['left', 'right'])
    // the fourth and fifth vertex: used by the right part, used by none
    expect(scene.meshes.map((mesh) => mesh.points.length / 3)).toEqual([4, 3])
    expect([...scene.meshes[1]!.points]).toEqual([1, 1, 0, 0, 1, 0, 9, 9, 9])
    expect(findings).toMatchObject([{ code: 'obj.shared-points', parameters: { count: 1 } }])
  })
  test('two of the same name stay two', () => {
    expect(
      readText('o a\nv 0 0 0\nv 1 0 0\nv 1 1 0\nf 1 2 3\no a\nv 3 0 0\nv 4 0 0\nv 4 1 0\nf 4 5 6\n').scene
        .nodes,
    ).toHaveLength(2)
  })
  test.each([
    ['group', ['lid', 'walls sides', 'walls']],
    ['material', ['brass', 'oak wood']],
    ['one', ['model']],
  ] as const)('one for each %s', (partsBy, names) => {
    const { scene } = readText(CUBE, { partsBy })
    expect(scene.nodes.map((node) => node.name)).toEqual(names)
    expect(scene.meshes.reduce((sum, mesh) => sum + faceCountOf(mesh), 0)).toBe(6)
  })
})

describe('what is left out is said', () => {
  test.each([
    ['obj.index-out-of-range', 'f 1 2 99', 'f 1 2 5'],
    ['obj.index-out-of-range', 'f 1 2 -9', 'f 1 2 -1'],
    ['obj.index-zero', 'f 0 1 2', 'f 1 2 3'],
    ['obj.short-face', 'f 1 2', 'f 1 2 3'],
    ['obj.attribute-out-of-range', 'f 1/1 2/9 3/1', 'f 1/1 2/3 3/1'],
    ['obj.malformed-number', 'v 1 3.1+e2 0', 'v 1 3.1e+2 0'],
    ['obj.not-finite', 'v 1 nan 0', 'v 1 0 0'],
    ['obj.not-finite', 'v 1 1e999 0', 'v 1 1e300 0'],
    ['obj.missing-number', 'v 1 2', 'v 1 2 3'],
    ['obj.not-read', 'curv2 1 2 3', '# curv2 1 2 3'],
    ['obj.unknown-statement', 'wobble 1', 'mg 1 0.5'],
    ['obj.crease-unreadable', 't crease 2/1/0 4 x 1', 't crease 2/1/0 1 2 1'],
  ])('%s: “%s”, not “%s”', (code, bad, good) => {
    const text = (line: string): string => `${POINTS}${UVS}f 1 2 3\n${line}\n`
    const { findings, scene } = readText(text(bad))
    expect(codesOf(findings)).toContain(code)
    expect(findings.find((finding) => finding.code === code)!.line).toBe(10)
    expect(faceCountOf(scene.meshes[0]!)).toBeGreaterThan(0)
    expect(codesOf(readText(text(good)).findings)).not.toContain(code)
  })
  test('findings are capped one by one and all are counted', () => {
    const { findings } = readText(POINTS + 'f 1 2 99\n'.repeat(500) + 'f 1 2 3\n')
    expect(findings).toHaveLength(20)
    expect(findings[0]!.total).toBe(500)
  })
  test('a cloud of points is told as obj.no-faces, with one polygon it is not', () => {
    expect(codesOf(readText(POINTS).findings)).toEqual(['obj.no-faces'])
    expect(readText(`${POINTS}f 1 2 3\n`).findings).toEqual([])
  })
  test('an empty file and garbage are no models', () => {
    expect(() => readText('')).toThrow(expect.objectContaining({ code: 'file.empty' }))
    const garbage = Uint8Array.from({ length: 20000 }, (_value, index) => (index * 7919) % 251)
    expect(() => readText(String.fromCharCode(...garbage))).toThrow(
      expect.objectContaining({ code: 'file.not-a-model' }),
    )
  })
})

test('a comment behind what a line states is none of it, decimal commas or not', () => {
  const plain = `${POINTS}v 5 6 7 0.5 0.25 1\nvt 0.5 0.25\nvn 0 0 1\ns 1\nf 1/1/1 2/1/1 3/1/1\nl 1 2\np 3\nt crease 2/1/0 0 1 2\n`
  const lines = plain.trim().split('\n')
  const commented = lines.map((line) => `${line}\t# 7 of 9, half`).join('\n')
  const commas = lines.map((line) => `${line.replace(/(\d)\.(\d)/g, '$1,$2')} #`).join('\r\n')
  const [own, other, third] = [plain, commented, commas].map((text) => readText(text))
  expect(other).toEqual(own)
  expect(third!.scene).toEqual(own!.scene)
  expect(new Set(codesOf(third!.findings))).toEqual(new Set([...codesOf(own!.findings), 'file.commas']))
  // of what is ill-formed all the same the very place is told
  const { findings } = readText(`${POINTS}v 0,5 2x 1 # 3\nf 1 2 3 4# 5\n`)
  expect(findings.map(({ code, parameters }) => [code, parameters.text])).toEqual([
    ['file.commas', undefined],
    ['obj.malformed-number', '2x'],
    ['obj.malformed-number', '4#'],
  ])
})

describe('names in other encodings', () => {
  test('UTF-8 with a mark and Latin-1', () => {
    expect(readText('\ufeffo Möwe\n' + POINTS + 'f 1 2 3\n').scene.nodes[0]!.name).toBe('Möwe')
    const latin = encodeUtf8('o M?we\n' + POINTS + 'f 1 2 3\n')
    latin[3] = 0xf6
    const { scene, findings } = readObj({ name: 'm.obj', bytes: latin })
    expect(scene.nodes[0]!.name).toBe('Möwe')
    expect(codesOf(findings)).toContain('obj.latin1')
  })
})

test('a number that is too large is told as the file has it', () => {
  const { findings } = readText('v 1 1e999 0\nv 0 0 1\nv 0 1 0\nf 1 2 3\n')
  expect(findings.map((finding) => [finding.code, finding.parameters.text])).toEqual([
    ['obj.not-finite', '1e999'],
  ])
})

describe('numbers that name nothing', () => {
  const told = (text: string) =>
    readText(text).findings.map(({ code, parameters, line }) => [
      code,
      parameters['kind'],
      parameters['value'],
      line,
    ])
  test('a normal or a UV beyond those there are goes, and is told with its line; the last one is one', () => {
    const text = `${POINTS}${UVS}${NORMALS}f 1/3/2 2/3/3 3/4/2\nf 1//-2 2//-3 3//-1\n`
    const mesh = meshOf(text)
    expect([...mesh.normals!.indices]).toEqual([1, -1, 1, 0, -1, 1])
    expect([...mesh.uvSets[0]!.indices]).toEqual([2, 2, -1, -1, -1, -1])
    expect(told(text)).toEqual([
      ['obj.attribute-out-of-range', 'normal', 3, 11],
      ['obj.attribute-out-of-range', 'UV', 4, 11],
      ['obj.attribute-out-of-range', 'normal', -3, 12],
    ])
  })
  test('each list is counted back by itself', () => {
    const mesh = meshOf(`${POINTS}${UVS}${NORMALS}f -5/-3/-2 -4/-2/-1 -3/-1/-1\n`)
    expect([...mesh.faceVertices]).toEqual([0, 1, 2])
    expect([...mesh.uvSets[0]!.indices]).toEqual([0, 1, 2])
    expect([...mesh.normals!.indices]).toEqual([0, 1, 1])
  })
})

describe('materials that nothing describes', () => {
  const text = (head: string): string => `${head}${POINTS}usemtl brass\nf 1 2 3\nusemtl tin\nf 1 3 4\n`
  const library = { name: 'a.mtl', bytes: encodeUtf8('newmtl brass\nKd 1 0 0\nnewmtl spare\n') }
  const read = (head: string, options = {}) =>
    readObj({ name: 'a.obj', bytes: encodeUtf8(text(head)) }, [library], options)
  const undefinedIn = ({
    findings,
  }: {
    findings: readonly { code: string; parameters: Record<string, unknown> }[]
  }) =>
    findings
      .filter(({ code }) => code === 'obj.undefined-material')
      .map(({ parameters }) => parameters['name'])
  test('are told where a library is named, and where its words are asked for', () => {
    expect(undefinedIn(read('mtllib a.mtl\n'))).toEqual(['tin'])
    expect(undefinedIn(read('mtllib a.mtl\n', { materials: 'names' }))).toEqual([])
    expect(undefinedIn(read(''))).toEqual([])
    expect(read('mtllib a.mtl\n').scene.materials.map(({ name }) => name)).toEqual(['brass', 'tin', 'spare'])
  })
  test('a statement that names no library is none that is missing', () => {
    expect(read('mtllib \n').findings.map(({ code }) => code)).not.toContain('obj.missing-mtl')
  })
})
