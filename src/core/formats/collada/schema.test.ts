/** What is written is valid by the published schema of COLLADA 1.4.1 (Debian's opencollada-tools, xmllint). */
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { anyScene } from '../../../../tests/any-scene.ts'
import { colladaFaults } from '../../../../tests/collada-schema.ts'
import { encodeUtf8 } from '../../base/bytes/text.ts'
import { buildCourierHeron } from '../../practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../../practice/demo/mooring-bollard.ts'
import { buildSignalKite } from '../../practice/demo/signal-kite.ts'
import { buildStormLantern } from '../../practice/demo/storm-lantern.ts'
import type { Scene } from '../../scene/scene.ts'
import { readCollada } from './read-collada.ts'
import { writeCollada } from './write-collada.ts'
import { howMany } from '../../../../tests/how-many.ts'

const MODELS = '/usr/share/assimp/models/Collada'

const written = (scene: Scene, options = {}) => {
  const [file] = writeCollada(scene, 'x.dae', options).files
  return file!.bytes
}

describe('the schema of COLLADA 1.4.1', () => {
  test('finds a fault where there is one', () => {
    const body = `<?xml version="1.0"?><COLLADA xmlns="http://www.collada.org/2005/11/COLLADASchema" version="1.4.1"><scene/></COLLADA>`
    expect(colladaFaults(new Map([['bare.dae', encodeUtf8(body)]])).join()).toContain('scene')
  })
  test('finds none in the demo, however it is written', () => {
    const documents = new Map<string, Uint8Array>()
    const scenes = { buildCourierHeron, buildMooringBollard, buildSignalKite, buildStormLantern }
    for (const [name, build] of Object.entries(scenes)) {
      const scene = build()
      documents.set(`${name}.dae`, written(scene))
      documents.set(
        `${name}-triangles.dae`,
        written(scene, { triangulate: true, smoothing: false, groups: false }),
      )
      documents.set(
        `${name}-bare.dae`,
        written(scene, { materials: 'none', uvs: false, normals: false, unitAs: 'roots' }),
      )
      documents.set(
        `${name}-names.dae`,
        written(scene, { materials: 'names', maps: false, upAxis: 'z', unitMeters: 0.01 }),
      )
    }
    expect(colladaFaults(documents)).toEqual([])
  })
  test('finds none in random scenes', () => {
    const documents = new Map<string, Uint8Array>()
    fc.sample(anyScene, { numRuns: howMany(40, 600), seed: 1 }).forEach((scene, at) => {
      documents.set(`scene-${at}.dae`, written(scene))
    })
    expect(colladaFaults(documents)).toEqual([])
  })
  test('finds none in models from outside but what stood in them', () => {
    const beside = readdirSync(MODELS).map((name) => ({
      name,
      bytes: new Uint8Array(readFileSync(join(MODELS, name))),
    }))
    const documents = new Map<string, Uint8Array>()
    for (const file of beside)
      if (/\.dae$/i.test(file.name)) documents.set(file.name, written(readCollada(file, beside).scene))
    expect(documents.size).toBeGreaterThan(20)
    // an animation without anything in it stands in one file, and is written back as it came
    const faults = colladaFaults(documents).filter((line) => !/fails to validate$/.test(line))
    expect(faults.filter((line) => !/^anims_with.*element animation: .*Missing child/.test(line))).toEqual([])
  })
})
