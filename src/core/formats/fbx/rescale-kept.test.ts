/** What was kept of an FBX follows the unit of its scene, as far as it is known what its numbers are. */
import { readFileSync } from 'node:fs'
import { describe, expect, test } from 'vitest'
import { runStep } from '../../steps/run-steps.ts'
import type { Scene } from '../../scene/scene.ts'
import type { FbxWriteOptions } from './options.ts'
import { readFbx } from './read-fbx.ts'
import { writeFbx } from './write-fbx.ts'

const MODELS = '/usr/share/assimp/models/FBX'
const FORMS: readonly Partial<FbxWriteOptions>[] = [{ version: 7400 }, { version: 7500 }, { form: 'text' }]
const back = (scene: Scene, write: Partial<FbxWriteOptions> = {}) => {
  const { files, findings } = writeFbx(scene, 'x.fbx', write)
  return { scene: readFbx(files[0]!).scene, written: findings, files }
}
const text = (body: string) => readFbx({ name: 'x.fbx', bytes: new TextEncoder().encode(body) })

describe('animation and poses go with the unit; where axes turn they stay, and that is said', () => {
  const { scene } = readFbx({ name: 'a.fbx', bytes: readFileSync(`${MODELS}/huesitos.fbx`) })
  const matricesOf = (of: Scene) =>
    of
      .kept!.objects.filter(({ record }) => record.name === 'Pose')
      .flatMap(({ record }) => record.children.filter(({ name }) => name === 'PoseNode'))
      .map((node) => [...(node.children.find(({ name }) => name === 'Matrix')!.values[0] as Float64Array)])
  /** Keys of the curves that are tied to a property, and what stands on the channels. */
  const keysOf = (of: Scene, property: string) => {
    const nodes = new Set(of.kept!.links.filter((link) => link.property === property).map(({ from }) => from))
    const curves = new Set(of.kept!.links.filter(({ to }) => nodes.has(to)).map(({ from }) => from))
    return of
      .kept!.objects.filter(({ id }) => curves.has(id))
      .map(({ record }) => {
        const values = (name: string) => record.children.find((child) => child.name === name)!.values[0]
        return [values('Default') as number, ...(values('KeyValueFloat') as Float64Array)]
      })
  }
  const near = (values: number[][], wanted: number[][]) => {
    expect(values.length).toBe(wanted.length)
    for (const [at, row] of values.entries())
      for (const [place, value] of row.entries())
        // keys are 32-bit numbers in the file
        expect(Math.abs(value - wanted[at]![place]!)).toBeLessThanOrEqual(
          2e-7 * Math.abs(wanted[at]![place]!) + 1e-12,
        )
  }
  const by = (rows: number[][], ratio: number) => rows.map((row) => row.map((value) => value * ratio))
  test.each([
    [
      'by an option',
      (form: Partial<FbxWriteOptions>) => back(scene, { ...form, scale: 2, unitAs: 'points' }),
    ],
    [
      'by a step',
      (form: Partial<FbxWriteOptions>) =>
        back(runStep(scene, { step: 'scale-to-size', params: { factor: 2 } }).scene, form),
    ],
    [
      'by a change of unit',
      (form: Partial<FbxWriteOptions>) =>
        back(
          runStep(scene, { step: 'change-space', params: { unitMeters: scene.space.unitMeters! / 2 } }).scene,
          form,
        ),
    ],
  ])('%s', (_name, change) => {
    for (const form of FORMS) {
      const { scene: again, written } = change(form)
      expect(written).toEqual([])
      expect(keysOf(scene, 'Lcl Translation').length).toBeGreaterThan(20)
      near(keysOf(again, 'Lcl Translation'), by(keysOf(scene, 'Lcl Translation'), 2))
      expect(keysOf(again, 'Lcl Rotation')).toEqual(keysOf(scene, 'Lcl Rotation'))
      expect(keysOf(again, 'Lcl Scaling')).toEqual(keysOf(scene, 'Lcl Scaling'))
      const wanted = matricesOf(scene).map((matrix) =>
        matrix.map((value, at) => (at >= 12 && at < 15 ? value * 2 : value)),
      )
      expect(wanted.length).toBeGreaterThan(5)
      expect(matricesOf(again)).toEqual(wanted)
      // the pivots of the nodes are kept and go along
      expect(again.nodes.map(({ transform }) => transform?.preRotation)).toEqual(
        scene.nodes.map(({ transform }) => transform?.preRotation),
      )
    }
  })
  test('slopes of keys go along, tension does not; numbers packed in two halves stay, in a text as whole numbers', () => {
    const body = (flags: number) => `FBXHeaderExtension: {\n FBXVersion: 7400\n}\nObjects: {
Model: 1, "Model::arm", "Null" {\n}
AnimationCurveNode: 2, "AnimCurveNode::T", "" {\nProperties70: {\nP: "d|X", "Number", "", "A",3\n}\n}
AnimationCurve: 3, "AnimCurve::", "" {
Default: 3
KeyTime: *1 {\na: 0\n}
KeyValueFloat: *1 {\na: 3\n}
KeyAttrFlags: *1 {\na: ${flags}\n}
KeyAttrDataFloat: *4 {\na: 5,7,218434821,0\n}
KeyAttrRefCount: *1 {\na: 1\n}
}
}
Connections: {\nC: "OO",1,0\nC: "OP",2,1, "Lcl Translation"\nC: "OP",3,2, "d|X"\n}\n`
    for (const [flags, wanted] of [
      [24840, [10, 14]],
      [0x208, [5, 7]],
    ] as const)
      for (const form of FORMS) {
        const { scene: again, files } = back(text(body(flags)).scene, { ...form, scale: 2, unitAs: 'points' })
        const curve = again.kept!.objects.find(({ record }) => record.name === 'AnimationCurve')!.record
        const [data] = curve.children.find(({ name }) => name === 'KeyAttrDataFloat')!.values
        // 218434821 is 0x0d050505: 0x1a of an exponent, a little above 4.1e-31 as a 32-bit number
        expect([...(data as Float64Array).subarray(0, 2)]).toEqual(wanted)
        expect((data as Float64Array)[2]).toBeCloseTo(4.0985e-31, 33)
        const channel = again.kept!.objects.find(({ record }) => record.name === 'AnimationCurveNode')!.record
        expect(channel.children[0]!.children[0]!.values[4]).toBe(6)
        if (form.form === 'text')
          expect(new TextDecoder().decode(files[0]!.bytes)).toContain(`a: ${wanted.join()},218434821,0`)
      }
  })
  test('turned axes, a scale on the roots, and what has lengths that are not known', () => {
    const codes = (write: Partial<FbxWriteOptions>) =>
      back(scene, write).written.map(({ code, parameters }) => [code, parameters['what']])
    expect(codes({ upAxis: 'z', axesAs: 'points' })).toEqual([
      ['write.not-converted', 'poses, animation, animation curves'],
    ])
    expect(codes({ scale: 2, unitAs: 'roots' })[0]![0]).toBe('write.not-converted')
    expect(codes({})).toEqual([])
    const bound = text(
      `FBXHeaderExtension: {\n FBXVersion: 7400\n}\nGlobalSettings: {\n}\nObjects: {\nModel: 1, "Model::arm", "Null" {\n}\nConstraint: 5, "Constraint::aim", "" {\n}\n}\nConnections: {\nC: "OO",1,0\n}\n`,
    ).scene
    expect(back(bound, { scale: 2, unitAs: 'points' }).written.map(({ parameters }) => parameters)).toEqual([
      { what: 'constraints' },
    ])
    expect(back(bound).written).toEqual([])
  })
})

test('animated parts that were moved or baked since are named: their keys still say where they stood', () => {
  const { scene } = readFbx({ name: 'a.fbx', bytes: readFileSync(`${MODELS}/animation_with_skeleton.fbx`) })
  const said = (of: Scene, write: Partial<FbxWriteOptions> = {}) =>
    back(of, write).written.filter(({ code }) => code === 'write.moved-animation')
  expect(said(scene)).toEqual([])
  // a scale that the keys follow moves nothing, nor does what is written and read again
  expect(said(runStep(scene, { step: 'scale-to-size', params: { factor: 3 } }).scene)).toEqual([])
  expect(said(back(scene, { scale: 2, unitAs: 'points' }).scene)).toEqual([])
  const [arm] = scene.kept!.animated!
  const moved = {
    ...scene,
    nodes: scene.nodes.map((node) =>
      node.source === arm!.node
        ? { ...node, local: node.local.map((value, at) => (at === 12 ? value + 1 : value)) }
        : node,
    ),
  }
  expect(said(moved)[0]!.parameters).toMatchObject({ count: 1 })
  // a part that nothing moves may be put anywhere
  const still = scene.nodes.find(({ source }) => !scene.kept!.animated!.some(({ node }) => node === source))!
  const elsewhere = { ...scene, nodes: scene.nodes.map((node) => (node === still ? { ...node, local: moved.nodes[0]!.local } : node)) } // prettier-ignore
  expect(said(elsewhere)).toEqual([])
})
