import { describe, expect, test } from 'vitest'
import { cubeOf, gridOf, materialOf, sceneOf, withNodes } from '../../../tests/solids.ts'
import type { NamingRules } from './destinations/destination.ts'
import { applyNaming, nameByRules, undoNaming } from './naming.ts'

const rules = (more: Partial<NamingRules> = {}): NamingRules => ({
  letters: 'any',
  longest: null,
  prefix: '',
  suffix: '',
  ...more,
})

describe('a name by the rules', () => {
  test.each([
    // each rule alone
    ['Größe A', rules(), 'Größe A'],
    ['Größe A', rules({ letters: 'plain' }), 'Gro_e_A'],
    ['Größe A', rules({ longest: 3 }), 'Grö'],
    ['Größe A', rules({ prefix: 'p' }), 'pGröße A'],
    ['Größe A', rules({ suffix: 's' }), 'Größe As'],
    // prefix and suffix count, and are never cut
    ['abcdef', rules({ longest: 5, prefix: 'p_', suffix: '_s' }), 'p_a_s'],
    ['abcdef', rules({ longest: 6, prefix: 'p_', suffix: '_s' }), 'p_ab_s'],
    ['abcdef', rules({ longest: 2, prefix: 'p_', suffix: '_s' }), 'p_a_s'],
    // several letters that are not plain are one underscore; those at the ends go
    ['--wing--left--', rules({ letters: 'plain' }), 'wing_left'],
    ['a__b', rules({ letters: 'plain' }), 'a__b'],
    ['_9', rules({ letters: 'plain' }), '9'],
    ['é́', rules({ letters: 'plain' }), 'e'],
    ['', rules({ letters: 'plain' }), 'part'],
    // a letter that takes two places is not cut in half
    ['a\u{1F426}b', rules({ longest: 2 }), 'a'],
    ['a\u{1F426}b', rules({ longest: 3 }), 'a\u{1F426}'],
    ['\u{1F426}b', rules({ longest: 1 }), '\u{1F426}'],
  ])('“%s”', (name, given, wanted) => expect(nameByRules(name, given)).toBe(wanted))
})

const pair = sceneOf([cubeOf({ name: 'a mesh' }), gridOf(1, 1, { name: 'another' })], {
  materials: [materialOf('Zinn!'), materialOf('zinn')],
})
const called = (...names: string[]) => withNodes(pair, (_node, at) => ({ name: names[at]! }))

describe('all names of a scene', () => {
  test.each([
    ['letters', rules({ letters: 'plain' }), ['w_1', 'w_2']],
    ['length', rules({ longest: 2 }), ['w ', 'w_2']],
    ['prefix', rules({ prefix: 'p' }), ['pw 1', 'pw 2']],
    ['suffix', rules({ suffix: 's' }), ['w 1s', 'w 2s']],
  ])('%s alone is a rule', (_title, given, wanted) => {
    expect(applyNaming(called('w 1', 'w 2'), given).scene.nodes.map(({ name }) => name)).toEqual(wanted)
  })
  test('without any they stay, to the object', () => {
    const { scene, renames } = applyNaming(pair, rules())
    expect(scene).toBe(pair)
    expect([renames.nodes.size, renames.materials.size]).toEqual([0, 0])
  })
  test('capitals alone don’t tell names apart; a number stands before the suffix', () => {
    const named = applyNaming(called('Wing', 'wing'), rules({ letters: 'plain', suffix: '_s' }))
    expect(named.scene.nodes.map(({ name }) => name)).toEqual(['Wing_s', 'wing_2_s'])
    expect(named.scene.materials.map(({ name }) => name)).toEqual(['Zinn', 'zinn_2'])
  })
  test('a mesh goes by its first part, one that nobody shows keeps its name', () => {
    const shared = {
      ...called('ü', 'y'),
      meshes: [...pair.meshes, { ...pair.meshes[0]!, name: 'nobody’s' }],
    }
    const twice = { ...shared, nodes: shared.nodes.map((node) => ({ ...node, mesh: 1 })) }
    const { scene } = applyNaming(twice, rules({ letters: 'plain', prefix: 'p_' }))
    expect(scene.meshes.map(({ name }) => name)).toEqual([pair.meshes[0]!.name, 'p_u', 'nobody’s'])
  })
  test('only what is called otherwise is remembered, and goes back', () => {
    const scene = called('plain_name', 'Füße')
    const named = applyNaming(scene, rules({ letters: 'plain' }))
    expect([...named.renames.nodes]).toEqual([['Fu_e', 'Füße']])
    expect([...named.renames.materials]).toEqual([['Zinn', 'Zinn!'], ['zinn_2', 'zinn']]) // prettier-ignore
    const back = undoNaming(named.scene, named.renames)
    expect(back.nodes.map(({ name }) => name)).toEqual(['plain_name', 'Füße'])
    expect(back.materials.map(({ name }) => name)).toEqual(['Zinn!', 'zinn'])
    expect(back.meshes[1]!.name).toBe('Füße')
  })
  test('parts alone, materials alone, or nothing at all go back', () => {
    const none = new Map<string, string>()
    expect(undoNaming(pair, { nodes: none, materials: none })).toBe(pair)
    const nodes = new Map([[pair.nodes[0]!.name, 'home']])
    expect(undoNaming(pair, { nodes, materials: none }).nodes[0]!.name).toBe('home')
    const materials = new Map([['zinn', 'tin']])
    const back = undoNaming(pair, { nodes: none, materials })
    expect(back.materials.map(({ name }) => name)).toEqual(['Zinn!', 'tin'])
    expect(back.nodes[1]).toBe(pair.nodes[1])
  })
})
