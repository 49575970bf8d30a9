/** What checks find, steps do, stand-ins and destinations write, and surfaces and images become: see tell.ts. */
import { test } from 'vitest'
import { chanceOf } from '../../../src/core/base/math/chance.ts'
import { KelboError } from '../../../src/core/base/messages/collector.ts'
import { hasValue } from '../../../src/core/base/options/option.ts'
import { findingText, runChecks } from '../../../src/core/checks/run-checks.ts'
import { noteText } from '../../../src/core/compare/traits/registry.ts'
import { messageText } from '../../../src/core/formats/catalogue.ts'
import { formatById } from '../../../src/core/formats/registry.ts'
import { ImageRefusal } from '../../../src/core/image/operations/operation.ts'
import { IMAGE_OPERATIONS } from '../../../src/core/image/operations/registry.ts'
import type { Pixels } from '../../../src/core/image/pixels.ts'
import { inspectScene } from '../../../src/core/inspect/inspect-scene.ts'
import { buildCourierHeron } from '../../../src/core/practice/demo/courier-heron.ts'
import { buildMooringBollard } from '../../../src/core/practice/demo/mooring-bollard.ts'
import { buildSignalKite } from '../../../src/core/practice/demo/signal-kite.ts'
import { buildStormLantern } from '../../../src/core/practice/demo/storm-lantern.ts'
import { flatten } from '../../../src/core/practice/faults/scene-faults.ts'
import { runStandIn, STAND_INS } from '../../../src/core/practice/standins/registry.ts'
import type { Scene } from '../../../src/core/scene/scene.ts'
import { runStep } from '../../../src/core/steps/run-steps.ts'
import { STEPS } from '../../../src/core/steps/registry.ts'
import { StepRefusal } from '../../../src/core/steps/step.ts'
import { convertSurface } from '../../../src/core/surfaces/convert/convert-surface.ts'
import { SURFACE_MODELS } from '../../../src/core/surfaces/registry.ts'
import { deliver } from '../../../src/core/trips/deliver.ts'
import { DESTINATIONS } from '../../../src/core/trips/destinations/registry.ts'
import { cubeOf, gridOf, sceneOf } from '../../solids.ts'
import { faulty } from '../made-faults.ts'
import { anyOptions, expectApproved, mark, said, tellScene } from './tell.ts'
import { scenesOf } from './touch.ts'

const heron = flatten(buildCourierHeron())
const beak = heron.nodes.findIndex(({ name }) => name === 'beak')
/** Parts of the demo with all that an artist gives them. */
const parts: Scene = {
  ...heron,
  nodes: heron.nodes.slice(beak, beak + 3).map((node, mesh) => ({ ...node, mesh })),
  meshes: heron.meshes.slice(beak, beak + 3),
}
const bent = sceneOf([cubeOf(), gridOf(6, 4, {}, (x, z) => Math.sin(x) * 0.5 + Math.cos(z))])
const faultyOnes = Array.from({ length: 16 }, (_scene, seed) => faulty(seed + 1))

test('the demo: what it is made of', async () => {
  const lines = [buildCourierHeron, buildStormLantern, buildMooringBollard, buildSignalKite].flatMap(
    (build) => {
      const scene = build()
      return [
        build.name,
        ...tellScene(scene),
        ...scene.meshes.map(
          ({ name, points, faceOffsets }) =>
            `    “${name}” of ${points.length / 3} points and ${faceOffsets.length - 1} polygons`,
        ),
      ]
    },
  )
  await expectApproved('demo', lines)
})

test('checks: what they find, where, and what mends it', async () => {
  const lines: string[] = []
  ;[...faultyOnes.slice(0, 10), ...scenesOf(23, 14), parts, bent].forEach((scene, at) => {
    const settings = at % 2 ? { triangleBudget: 10, oneMaterial: true } : {}
    lines.push(`${at} ${mark(inspectScene(scene))}`)
    for (const finding of runChecks(scene, { settings })) {
      const { check, severity, node, places, heat, distribution, fix } = finding
      lines.push(
        `    ${severity} ${check} ${node ?? ''}: ${findingText(finding)} ${mark({ places, heat, distribution })} ${fix ? `${fix.step} ${JSON.stringify(fix.params)}` : ''}`,
      )
    }
  })
  await expectApproved('checks', lines)
})

test('steps: what they do with any options, and why not', async () => {
  const lines: string[] = []
  const scenes = [...faultyOnes.slice(0, 4), ...scenesOf(24, 4), parts, bent]
  STEPS.forEach((step, number) => {
    for (let seed = 0; seed < 8; seed++) {
      const chance = chanceOf(100 * number + seed)
      const scene = scenes[Math.floor(chance() * scenes.length)]!
      const params = anyOptions(step.parameters, chance)
      lines.push(`${step.id} ${JSON.stringify(params)}`)
      try {
        const {
          changedCount,
          of,
          places,
          notes,
          warning,
          scene: done,
        } = runStep(scene, { step: step.id, params })
        lines.push(
          `    ${changedCount} ${of} ${mark(places)} ${notes.join(' ')} ${warning ?? ''}`,
          ...tellScene(done),
        )
      } catch (error) {
        if (!(error instanceof StepRefusal)) throw error
        lines.push(`    ${error.message}`)
      }
    }
  })
  await expectApproved('steps', lines)
})

test('stand-ins: the files that they give back, and what they say', async () => {
  const lines: string[] = []
  STAND_INS.forEach((standIn, number) => {
    const format = formatById(standIn.reads[0]!)!
    const sent = format.write(parts, `parts${format.endings[0]!}`, {}).files
    for (let seed = 0; seed < 3; seed++) {
      const parameters = anyOptions(standIn.parameters, chanceOf(100 * number + seed))
      lines.push(`${standIn.id} ${JSON.stringify(parameters)}`)
      const { files, log } = runStandIn(standIn, sent, parameters)
      lines.push(`    ${files.map(({ name, bytes }) => `${name} ${mark(bytes)}`).join(', ')}`)
      lines.push(...log.map((line) => `    ${line}`))
    }
  })
  await expectApproved('stand-ins', lines)
})

test('destinations: what leaves, and what is said before', async () => {
  const lines: string[] = []
  for (const destination of DESTINATIONS)
    for (const [at, scene] of [parts, bent, ...scenesOf(25, 3)].entries()) {
      lines.push(`${destination.id} ${at}`)
      try {
        const { files, forecast, findings, checks, size, sent } = deliver(scene, {
          destination,
          options: {},
          stem: 'model',
          withRecipe: at % 2 === 0,
          codec: null,
        })
        lines.push(
          `    ${files.map(({ name, bytes }) => `${name} ${mark(bytes)}`).join(', ')} ${mark(size)} ${mark(sent)}`,
        )
        lines.push(...said(findings))
        for (const { check, message, mustBeClean, mended } of checks)
          lines.push(
            `    ${check}: ${message} ${mustBeClean ? 'must be clean' : ''} ${mended ? 'mended' : ''}`,
          )
        for (const { name, cells } of forecast.rows)
          for (const [trait, { state, note, parameters }] of Object.entries(cells))
            if (state !== 'same') lines.push(`    “${name}” ${trait} ${state} ${noteText(note, parameters)}`)
      } catch (error) {
        if (!(error instanceof KelboError)) throw error
        lines.push(`    ${messageText(error.code, error.parameters)}`)
      }
    }
  await expectApproved('destinations', lines)
})

test('surfaces: any model to any other', async () => {
  const lines: string[] = []
  SURFACE_MODELS.forEach((from, number) => {
    const chance = chanceOf(number)
    const values = Object.fromEntries(
      from.parameters.flatMap(({ name, kind, width, range, choices }) => {
        if (name === null || chance() < 0.5) return []
        const [least, most] = range ?? [0, 2]
        const one = (): number => least + chance() * ((most ?? least + 3) - least)
        const value =
          kind === 'boolean'
            ? chance() < 0.5
            : kind === 'choice'
              ? choices![Math.floor(chance() * choices!.length)]!
              : width === 3
                ? ([one(), one(), one()] as const)
                : one()
        return [[name, value]]
      }),
    )
    for (const to of SURFACE_MODELS) {
      const { parameters: made, ...rest } = convertSurface(values, from, to)
      lines.push(`${from.id} to ${to.id}: ${JSON.stringify(made, (_key, one: unknown) => (typeof one === 'number' ? Number(one.toPrecision(6)) : one))} ${mark(rest)}`) // prettier-ignore
    }
  })
  await expectApproved('surfaces', lines)
})

test('image operations with any options', async () => {
  const lines: string[] = []
  const pixelsBy = (chance: () => number): Pixels => {
    const [width, height] = [1 + Math.floor(chance() * 8), 1 + Math.floor(chance() * 8)]
    const channels = (1 + Math.floor(chance() * 4)) as 1 | 2 | 3 | 4
    const bits = ([8, 16, 32] as const)[Math.floor(chance() * 3)]!
    const length = width * height * channels
    const values =
      bits === 32
        ? Float32Array.from({ length }, () => chance() * 2)
        : bits === 16
          ? Uint16Array.from({ length }, () => chance() * 65536)
          : Uint8Array.from({ length }, () => chance() * 256)
    return { width, height, channels, bits, values }
  }
  IMAGE_OPERATIONS.forEach((operation, number) => {
    for (let seed = 0; seed < 10; seed++) {
      const chance = chanceOf(100 * number + seed)
      const all = anyOptions(operation.options.filter(hasValue), chance)
      // images that are told apart by eye
      const options = Object.fromEntries(
        Object.entries(all).map(([id, value]) => [
          id,
          typeof value === 'number' ? Math.min(value, 40) : value,
        ]),
      )
      const given = Array.from({ length: 1 + Math.floor(chance() * 3) }, (_image, at) => ({
        name: `cloth.${1001 + at}.png`,
        pixels: pixelsBy(chance),
      }))
      try {
        const made = operation.run(given, options)
        lines.push(`${operation.id} ${JSON.stringify(options)}: ${made.map(({ name, pixels }) => `${name} ${mark(pixels)}`).join(', ')}`) // prettier-ignore
      } catch (error) {
        if (!(error instanceof ImageRefusal)) throw error
        lines.push(`${operation.id}: ${error.message}`)
      }
    }
  })
  await expectApproved('images', lines)
})
