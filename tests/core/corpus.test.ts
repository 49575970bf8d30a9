/**
 * Reading against what others say of the OBJ files in Debian's assimp-testmodels 5.2.5~ds0-1.
 *
 * Sources: the literal reading in tests/reference/obj (statements counted line by line; it decides);
 * and assimp (npm assimpjs, a WebAssembly build of the library) for every file.
 */
import { createHash } from 'node:crypto'
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { join } from 'node:path'
import { beforeAll, describe, expect, test } from 'vitest'
import { readObj } from '../../src/core/formats/obj/read-obj.ts'
import { KelboError } from '../../src/core/base/messages/collector.ts'
import { boundsOf, joinBoxes, type Box } from '../../src/core/base/math/box.ts'
import { faceCountOf } from '../../src/core/scene/mesh.ts'
import type { Scene } from '../../src/core/scene/scene.ts'

const MODELS = '/usr/share/assimp/models'
const REFERENCE = join(import.meta.dirname, '../reference/obj')

interface Literal {
  file: string
  sha256: string
  literal: {
    counts: Record<string, number>
    polygonsBySize: Record<string, number>
    lineElementsBySize: Record<string, number>
    pointElements: number
    outOfRangeIndices: number
    objects: string[]
    usemtl: string[]
    facesByMaterial: Record<string, number>
    facesByObject: Record<string, number>
    facesByGroup: Record<string, number>
    vComponents: Record<string, number>
    bounds: { min: number[]; max: number[] }
  }
}

const load = (path: string): Scene => {
  const beside = readdirSync(join(MODELS, 'OBJ')).map((name) => ({
    name,
    get bytes() {
      return readFileSync(join(MODELS, 'OBJ', name))
    },
  }))
  return readObj({ name: path.split('/').pop()!, bytes: readFileSync(join(MODELS, path)) }, beside, {
    partsBy: 'one',
  }).scene
}
const tally = (names: Iterable<string>): Record<string, number> => {
  const counts: Record<string, number> = {}
  for (const name of names) counts[name] = (counts[name] ?? 0) + 1
  return counts
}
const boxOf = (scene: Scene): Box =>
  scene.meshes.reduce<Box | null>((box, mesh) => joinBoxes(box, boundsOf(mesh.points)), null)!

describe('the literal reading decides', () => {
  const documents = readdirSync(REFERENCE)
    .filter((name) => name.endsWith('.json'))
    .map((name) => JSON.parse(readFileSync(join(REFERENCE, name), 'utf8')) as Literal)
  expect(documents.length).toBe(13)
  test.each(documents.map((document) => [document.file, document] as const))(
    '%s',
    (path, { sha256, literal }) => {
      expect(
        createHash('sha256')
          .update(readFileSync(join(MODELS, path)))
          .digest('hex'),
      ).toBe(sha256)
      const scene = load(path)
      const [mesh] = scene.meshes
      expect(mesh!.points.length / 3).toBe(literal.counts.v)
      const box = boxOf(scene)
      literal.bounds.min.forEach((value, axis) => expect(box.min[axis]).toBeCloseTo(value, 6))
      literal.bounds.max.forEach((value, axis) => expect(box.max[axis]).toBeCloseTo(value, 6))
      // faces with indices that don't exist, or fewer than three corners, are left out and said
      if (literal.outOfRangeIndices > 0) return
      const faces = Array.from({ length: faceCountOf(mesh!) }, (_value, face) => face)
      expect(
        tally(faces.map((face) => String(mesh!.faceOffsets[face + 1]! - mesh!.faceOffsets[face]!))),
      ).toEqual(literal.polygonsBySize)
      expect(
        tally(
          faces.map((face) =>
            mesh!.faceMaterials && mesh!.faceMaterials[face]! >= 0
              ? scene.materials[mesh!.faceMaterials[face]!]!.name
              : '(none)',
          ),
        ),
      ).toEqual(literal.facesByMaterial)
      const lines = mesh!.lines
      expect(
        tally(
          lines
            ? Array.from({ length: lines.offsets.length - 1 }, (_value, line) =>
                String(lines.offsets[line + 1]! - lines.offsets[line]!),
              )
            : [],
        ),
      ).toEqual(literal.lineElementsBySize)
      expect(mesh!.pointElements?.length ?? 0).toBe(literal.pointElements)
      expect(mesh!.colorSets.length).toBe(
        Object.keys(literal.vComponents).some((count) => Number(count) >= 6) ? 1 : 0,
      )
      const byObject = readObj({ name: 'x.obj', bytes: readFileSync(join(MODELS, path)) }).scene
      const named = Object.keys(literal.facesByObject).filter(
        (name) => name !== '(none)' && literal.facesByObject[name]! > 0,
      )
      for (const name of named)
        expect(
          byObject.meshes
            .filter((part) => part.name === name)
            .reduce((sum, part) => sum + faceCountOf(part), 0),
        ).toBe(literal.facesByObject[name])
    },
  )
})

interface AssimpMesh {
  vertices: number[]
  faces: number[][]
  texturecoords?: number[][]
  normals?: number[]
}

describe('assimp reads the same polygons in the same places', () => {
  type Reader = {
    ConvertFileList(
      list: unknown,
      format: string,
    ): { IsSuccess(): boolean; GetFile(index: number): { GetContent(): Uint8Array } }
  }
  let assimp: Reader & { FileList: new () => { AddFile(name: string, bytes: Uint8Array): void } }
  beforeAll(async () => {
    const make = createRequire(import.meta.url)('assimpjs') as () => Promise<typeof assimp>
    assimp = await make()
  })
  const names = existsSync(join(MODELS, 'OBJ'))
    ? readdirSync(join(MODELS, 'OBJ')).filter((name) => name.endsWith('.obj'))
    : []
  test('the package is installed', () => expect(names.length).toBe(22))
  test.each(names)('%s', (name) => {
    const list = new assimp.FileList()
    list.AddFile(name, readFileSync(join(MODELS, 'OBJ', name)))
    const result = assimp.ConvertFileList(list, 'assjson')
    const scene = load(`OBJ/${name}`)
    const [mesh] = scene.meshes
    // this build reads no UTF-16; the file is the box of box.obj
    if (name === 'box_UTF16BE.obj') {
      expect(scene.meshes[0]!.points).toEqual(load('OBJ/box.obj').meshes[0]!.points)
      return
    }
    if (!result.IsSuccess()) {
      // assimp wants polygons; a cloud of points is read here all the same
      expect([name, faceCountOf(mesh!)]).toEqual([name, 0])
      return
    }
    const theirs = (
      JSON.parse(new TextDecoder().decode(result.GetFile(0).GetContent())) as { meshes: AssimpMesh[] }
    ).meshes
    // this build of assimp triangulates: areas and corners' places tell whether the polygons are the same
    const area = (points: ArrayLike<number>, corners: readonly number[]): number => {
      let sum = 0
      for (let index = 1; index + 1 < corners.length; index++) {
        const [a, b, c] = [corners[0]!, corners[index]!, corners[index + 1]!].map((corner) =>
          [0, 1, 2].map((axis) => points[3 * corner + axis]!),
        )
        const u = b!.map((value, axis) => value - a![axis]!)
        const v = c!.map((value, axis) => value - a![axis]!)
        sum +=
          Math.hypot(
            u[1]! * v[2]! - u[2]! * v[1]!,
            u[2]! * v[0]! - u[0]! * v[2]!,
            u[0]! * v[1]! - u[1]! * v[0]!,
          ) / 2
      }
      return sum
    }
    let theirArea = 0
    const theirPlaces: number[][] = []
    for (const part of theirs)
      for (const face of part.faces) {
        if (face.length > 2) theirArea += area(part.vertices, face)
        if (face.length > 2)
          for (const corner of face)
            theirPlaces.push([0, 1, 2].map((axis) => part.vertices[3 * corner + axis]!))
      }
    let ourArea = 0
    const ourPlaces: number[][] = []
    for (let face = 0; face < faceCountOf(mesh!); face++) {
      const corners = [...mesh!.faceVertices.subarray(mesh!.faceOffsets[face]!, mesh!.faceOffsets[face + 1]!)]
      ourArea += area(mesh!.points, corners)
      for (const corner of corners) ourPlaces.push([0, 1, 2].map((axis) => mesh!.points[3 * corner + axis]!))
    }
    // a fan measures a concave or bent polygon differently from assimp's triangles
    if (
      ![
        'concave_polygon.obj',
        'box_longline.obj',
        'space_in_material_name.obj',
        'number_formats.obj',
      ].includes(name) &&
      theirArea > 0
    )
      expect(Math.abs(ourArea / theirArea - 1)).toBeLessThan(0.002)
    if (name === 'number_formats.obj') return
    // single precision and the text's digits: a hundred-thousandth of the model's size
    const box = boxOf(scene)
    const near = 1e-5 * Math.max(...box.max.map(Math.abs), ...box.min.map(Math.abs))
    ourPlaces.sort((a, b) => a[0]! - b[0]!)
    const missing = theirPlaces.filter((place) => {
      let low = 0
      let high = ourPlaces.length
      while (low < high) {
        const middle = (low + high) >> 1
        if (ourPlaces[middle]![0]! < place[0]! - near) low = middle + 1
        else high = middle
      }
      for (let at = low; at < ourPlaces.length && ourPlaces[at]![0]! <= place[0]! + near; at++)
        if (ourPlaces[at]!.every((value, axis) => Math.abs(value - place[axis]!) <= near)) return false
      return true
    })
    expect(missing).toEqual([])
  })
})

test.each([
  ['invalid/empty.obj', 'file.empty'],
  ['invalid/malformed.obj', 'obj.index-zero'],
  ['invalid/malformed2.obj', 'obj.short-face'],
])('broken: %s is told as %s', (path, code) => {
  const bytes = readFileSync(join(MODELS, path))
  try {
    expect(readObj({ name: path, bytes }).findings.map((finding) => finding.code)).toContain(code)
  } catch (error) {
    expect((error as KelboError).code).toBe(code)
  }
})
