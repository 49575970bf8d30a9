/** Scenes of any kind, for properties that hold of all of them: fast-check arbitraries over the scene's types. */
import fc from 'fast-check'
import {
  EMPTY_MESH,
  type ColorSet,
  type CornerNormals,
  type Mesh,
  type UvSet,
} from '../src/core/scene/mesh.ts'
import { EMPTY_SCENE, type Axis, type Scene, type SceneNode, type Space } from '../src/core/scene/scene.ts'
import { multiplyMatrices, type Matrix } from '../src/core/base/math/matrix.ts'
import { materialOf, moved, scaled } from './solids.ts'
import { rotationMatrix } from '../src/core/formats/fbx/transform-chain.ts'

/** Numbers as files have them: plain, tiny, huge, and those that text rounds where it is careless. */
export const anyNumber: fc.Arbitrary<number> = fc
  .oneof(
    { weight: 3, arbitrary: fc.double({ min: -100, max: 100, noNaN: true }) },
    fc.constantFrom(0, 1, -1, 0.1, 1 / 3, 1e-7, 123456.789, 2 ** -30),
  )
  .map((value) => value + 0)

/** Names as artists and tools make them: words, umlauts, quotes, path signs, nothing. */
export const anyName: fc.Arbitrary<string> = fc.oneof(
  {
    weight: 4,
    arbitrary: fc.constantFrom('body', 'wing_left', 'Größe', 'リボン', 'a b', 'x::y', 'lid/top', 'q"q', ''),
  },
  fc.string({ unit: 'grapheme', maxLength: 6 }).filter((text) => !/[\0-\x1f\ufffd]|&quot;/.test(text)),
)

const listOf = (length: number, values: fc.Arbitrary<number>): fc.Arbitrary<number[]> =>
  fc.array(values, { minLength: length, maxLength: length })

/** Sets always have a name: a reader gives them one where the file has none. */
const anySetName = anyName.filter((name) => name !== '')

/** Values with an index a corner, each value used so that nothing is dropped as unused; `absent` allows -1. */
function anyIndexed(
  cornerCount: number,
  width: number,
  absent: boolean,
): fc.Arbitrary<{ values: Float64Array; indices: Int32Array }> {
  return fc
    .tuple(listOf(cornerCount, fc.nat(5)), listOf(cornerCount, fc.nat(9)), listOf(6 * width, anyNumber))
    .map(([wanted, holes, values]) => {
      const numberOf = new Map<number, number>()
      const indices = Int32Array.from(wanted, (value, corner) => {
        if (absent && corner > 0 && holes[corner] === 0) return -1
        if (!numberOf.has(value)) numberOf.set(value, numberOf.size)
        return numberOf.get(value)!
      })
      return { indices, values: Float64Array.from(values.slice(0, numberOf.size * width)) }
    })
}

/** Edges of a mesh as pairs of points, each once. */
function edgesOf(faceOffsets: Uint32Array, faceVertices: Uint32Array): [number, number][] {
  const edges = new Map<string, [number, number]>()
  for (let face = 0; face + 1 < faceOffsets.length; face++)
    for (let corner = faceOffsets[face]!; corner < faceOffsets[face + 1]!; corner++) {
      const a = faceVertices[corner]!
      const b = faceVertices[corner + 1 < faceOffsets[face + 1]! ? corner + 1 : faceOffsets[face]!]!
      edges.set(`${Math.min(a, b)} ${Math.max(a, b)}`, [Math.min(a, b), Math.max(a, b)])
    }
  return [...edges.values()]
}

/** Polygons of three to six corners over points that none of them names twice. */
const anyPolygons = fc.integer({ min: 4, max: 12 }).chain((pointCount) =>
  fc.record({
    pointCount: fc.constant(pointCount),
    points: listOf(3 * pointCount, anyNumber),
    faces: fc.array(
      fc.uniqueArray(fc.nat(pointCount - 1), { minLength: 3, maxLength: Math.min(6, pointCount) }),
      { minLength: 1, maxLength: 8 },
    ),
  }),
)

export const anyMesh = (materialCount: number): fc.Arbitrary<Mesh> =>
  anyPolygons.chain(({ pointCount, points, faces }) => {
    const faceOffsets = new Uint32Array(faces.length + 1)
    faces.forEach((face, at) => (faceOffsets[at + 1] = faceOffsets[at]! + face.length))
    const faceVertices = Uint32Array.from(faces.flat())
    const corners = faceVertices.length
    const edges = edgesOf(faceOffsets, faceVertices)
    const someEdges = fc.subarray(edges)
    const sharpness = fc.constantFrom(0.5, 1, 2.5, 5, 10)
    const uvSet: fc.Arbitrary<UvSet> = fc
      .tuple(anySetName, anyIndexed(corners, 2, true))
      .map(([name, indexed]) => ({ name, ...indexed, depths: null }))
    const normals: fc.Arbitrary<CornerNormals | null> = fc.option(anyIndexed(corners, 3, false))
    const colours: fc.Arbitrary<ColorSet> = fc
      .tuple(anySetName, anyIndexed(corners, 4, false))
      .map(([name, indexed]) => ({ name, components: 4, per: 'corners', ...indexed }))
    const byFace = (most: number): fc.Arbitrary<number[]> =>
      listOf(faces.length, fc.integer({ min: -1, max: most }))
    return fc
      .record({
        uvSets: fc.uniqueArray(uvSet, { maxLength: 3, selector: (set) => set.name }),
        normals,
        colorSets: fc.uniqueArray(colours, { maxLength: 2, selector: (set) => set.name }),
        hard: fc.option(someEdges),
        masks: fc.option(listOf(faces.length, fc.nat(2 ** 32 - 1))),
        creased: fc.tuple(
          someEdges,
          listOf(edges.length, sharpness),
          fc.subarray([...Array(pointCount).keys()]),
        ),
        materials: byFace(materialCount - 1),
        groups: fc.option(fc.tuple(fc.uniqueArray(anySetName, { minLength: 1, maxLength: 3 }), byFace(2))),
        levels: fc.option(fc.integer({ min: 1, max: 3 })),
        shape: fc.option(
          fc.tuple(
            fc.subarray([...Array(pointCount).keys()], { minLength: 1 }),
            listOf(3 * pointCount, anyNumber),
          ),
        ),
      })
      .map((drawn): Mesh => {
        const [crease, weights, sharpPoints] = drawn.creased
        const hasCreases = crease.length + sharpPoints.length > 0
        const groups = drawn.groups
        return {
          ...EMPTY_MESH,
          points: Float64Array.from(points),
          faceOffsets,
          faceVertices,
          uvSets: drawn.uvSets,
          normals: drawn.normals,
          colorSets: drawn.colorSets,
          smoothing: drawn.hard
            ? { kind: 'edges', hardEdgePoints: Uint32Array.from(drawn.hard.flat()) }
            : drawn.masks
              ? { kind: 'masks', faceMasks: Uint32Array.from(drawn.masks) }
              : null,
          creases: hasCreases
            ? {
                edgePoints: Uint32Array.from(crease.flat()),
                edgeSharpness: Float64Array.from(weights.slice(0, crease.length)),
                cornerPoints: Uint32Array.from(sharpPoints),
                cornerSharpness: Float64Array.from(sharpPoints, (_point, at) => [10, 1.5][at % 2]!),
              }
            : null,
          subdivision: drawn.levels
            ? { scheme: 'catmull-clark', levels: drawn.levels }
            : EMPTY_MESH.subdivision,
          faceMaterials:
            materialCount && drawn.materials.some((material) => material >= 0)
              ? Int32Array.from(drawn.materials)
              : null,
          groups: groups && {
            names: groups[0],
            sets: groups[0].map((_name, at) => [at]),
            faceSets: Int32Array.from(groups[1], (set) => Math.min(set, groups[0].length - 1)),
          },
          shapes: drawn.shape
            ? [
                {
                  name: 'smile',
                  points: Uint32Array.from(drawn.shape[0]),
                  offsets: Float64Array.from(drawn.shape[1].slice(0, 3 * drawn.shape[0].length)),
                },
              ]
            : [],
        }
      })
  })

/** A place, a turn in degrees and a scale without shear; mirrored ones among them. */
export const anyPlace: fc.Arbitrary<Matrix> = fc
  .tuple(
    listOf(3, anyNumber),
    listOf(3, fc.constantFrom(0, 0, 30, -90, 12.5, 180)),
    listOf(3, fc.constantFrom(1, 1, 2, 0.5, -1)),
  )
  .map(([place, turn, scale]) =>
    multiplyMatrices(
      moved(place[0]!, place[1]!, place[2]!),
      multiplyMatrices(
        rotationMatrix(turn as [number, number, number], 'xyz'),
        scaled(scale[0]!, scale[1]!, scale[2]!),
      ),
    ),
  )

const AXES: readonly Axis[] = ['x', 'y', 'z', '-x', '-y', '-z']
export const anySpace: fc.Arbitrary<Space> = fc
  .record({
    unitMeters: fc.constantFrom(1, 0.01, 0.001, 0.0254),
    upAxis: fc.constantFrom(...AXES),
    frontAxis: fc.constantFrom(...AXES),
    handedness: fc.constantFrom('right' as const, 'left' as const),
  })
  .filter(({ upAxis, frontAxis }) => upAxis.replace('-', '') !== frontAxis.replace('-', ''))

const anyProperties = fc.dictionary(
  fc.constantFrom('author', 'keep', 'weight', 'tint'),
  fc.oneof(anyName, fc.boolean(), anyNumber, listOf(3, anyNumber)),
  { maxKeys: 3 },
)

/** Up to four nodes in any tree, with or without meshes, that share them or not. */
export const anyScene: fc.Arbitrary<Scene> = fc.integer({ min: 0, max: 3 }).chain((materialCount) =>
  fc.array(anyMesh(materialCount), { minLength: 1, maxLength: 3 }).chain((meshes) =>
    fc
      .record({
        space: anySpace,
        nodes: fc.array(
          fc.record({
            name: anyName,
            parent: fc.integer({ min: -1, max: 3 }),
            mesh: fc.integer({ min: -1, max: meshes.length - 1 }),
            visible: fc.boolean(),
            local: anyPlace,
            properties: anyProperties,
          }),
          { minLength: meshes.length, maxLength: 4 },
        ),
      })
      .map(({ space, nodes }): Scene => ({
        ...EMPTY_SCENE,
        format: 'test',
        space,
        meshes: meshes.map((mesh, at) => ({ ...mesh, name: `mesh ${at}` })),
        materials: Array.from({ length: materialCount }, (_entry, at) =>
          materialOf(`material ${at}`, { model: 'phong' }),
        ),
        // every mesh is on some node, so that none is dropped as unused
        nodes: nodes.map((node, at): SceneNode => ({
          ...node,
          mesh: at < meshes.length ? at : node.mesh,
          parent: Math.min(node.parent, at - 1),
          transform: null,
          id: '',
        })),
      })),
  ),
)
