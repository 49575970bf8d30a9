/** Damaged files of every format, by seeds; `./kelbo fuzz` goes through as many as one likes. */
import { expect, test } from 'vitest'
import { attempt, fuzzSources, mutationOf } from '../fuzz/mutations.ts'

const sources = fuzzSources()

test('every format is among the files', () => {
  const names = sources.flatMap(({ files }) => files.map(({ name }) => name.split('.').pop()!.toLowerCase()))
  for (const ending of [
    'obj',
    'mtl',
    'fbx',
    'glb',
    'gltf',
    'bin',
    'ply',
    'stl',
    'dae',
    'usda',
    'usdc',
    'usdz',
    'abc',
    'zip',
  ])
    expect(names).toContain(ending)
  expect(sources.length).toBeGreaterThan(40)
})

test('a seed gives the same file every time, and most seeds another', () => {
  const texts = new Set<string>()
  for (let seed = 0; seed < 500; seed++) {
    const text = (at: number): string =>
      mutationOf(sources, at)
        .files.map(({ bytes }) => Buffer.from(bytes).toString('base64'))
        .join()
    expect(text(seed)).toBe(text(seed))
    texts.add(text(seed))
  }
  expect(texts.size).toBeGreaterThan(450)
})

test('twelve thousand seeds: each is read or answered in words', () => {
  const outcomes = new Map<string, number>()
  for (let seed = 0; seed < 12000; seed++) {
    const outcome = attempt(mutationOf(sources, seed).files)
    if (outcome.startsWith('fault')) expect.fail(`seed ${seed}: ${outcome}`)
    outcomes.set(outcome, (outcomes.get(outcome) ?? 0) + 1)
  }
  expect(outcomes.get('read')!).toBeGreaterThan(6000)
  expect(outcomes.size).toBeGreaterThan(3)
})
