/** MaterialX documents beside a model: what it has only the name of is described by them, and nothing else is replaced. */
import { expect, test } from 'vitest'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { readPackage } from './read-package.ts'

const DOCUMENT = `<?xml version="1.0"?>
<materialx version="1.39">
  <nodegraph name="tin_maps">
    <image name="tin_image" type="color3"><input name="file" type="filename" value="maps/tin.png"/></image>
    <output name="tin_out" type="color3" nodename="tin_image"/>
  </nodegraph>
  <open_pbr_surface name="tin_surface" type="surfaceshader">
    <input name="base_color" type="color3" nodegraph="tin_maps" output="tin_out"/>
    <input name="base_metalness" type="float" value="1"/>
  </open_pbr_surface>
  <surfacematerial name="old_tin" type="material"><input name="surfaceshader" type="surfaceshader" nodename="tin_surface"/></surfacematerial>
  <open_pbr_surface name="brass" type="surfaceshader"><input name="base_metalness" type="float" value="0.5"/></open_pbr_surface>
</materialx>`
const OBJ = 'mtllib own.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nusemtl old tin\nf 1 2 3\nusemtl brass\nf 1 3 2\n'
const MTL = 'newmtl brass\nKd 0.8 0.6 0.2\n'
const files = (more: Record<string, string>) =>
  Object.entries({ 'a.obj': OBJ, 'own.mtl': MTL, 'maps/tin.png': 'x', ...more }).map(([name, text]) => ({
    name,
    bytes: encodeUtf8(text),
  }))

test('a material of which the model has only the name is what the document says; one that it describes stays', () => {
  const { scene, findings, models } = readPackage(files({ 'looks/all.mtlx': DOCUMENT }))
  expect(models).toEqual(['a.obj'])
  const byName = new Map(scene.materials.map((material) => [material.name, material]))
  expect([...byName.keys()].sort()).toEqual(['brass', 'old tin'])
  expect(byName.get('old tin')).toMatchObject({
    model: 'open_pbr_surface',
    properties: [{ name: 'base_metalness', values: [1] }],
    maps: [{ slot: 'baseColor', file: 'maps/tin.png' }],
  })
  expect(byName.get('brass')!.model).toBe('mtl')
  expect(scene.images.find(({ file }) => file === 'maps/tin.png')!.bytes).not.toBeNull()
  expect(
    findings
      .map(({ code, parameters }) => [code, parameters])
      .filter(([code]) => String(code).startsWith('package')),
  ).toEqual([
    ['package.document-left', { name: 'brass', file: 'all.mtlx' }],
    ['package.document', { file: 'all.mtlx', count: 1 }],
  ])
})
test('one that no part wears is there; a document that is none is told, and the model is read', () => {
  const { scene, findings } = readPackage(
    files({ 'b.mtlx': DOCUMENT.replace('old_tin', 'nickel'), 'c.mtlx': 'no XML' }),
  )
  expect(scene.materials.map(({ name }) => name)).toContain('nickel')
  expect(findings.map(({ code }) => code)).toContain('package.document-unread')
  expect(scene.meshes).toHaveLength(1)
})
test('what lies beside is no model of its own', () => {
  const [model, ...rest] = files({})
  const other = { name: 'b.obj', bytes: model!.bytes, isBeside: true }
  expect(readPackage([model!, ...rest, other]).models).toEqual(['a.obj'])
})
