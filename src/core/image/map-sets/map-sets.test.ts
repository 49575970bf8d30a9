/** Names of map files as the trade writes them (common practice), sets, tiles, and which material's they are. */
import { describe, expect, test } from 'vitest'
import { groupMapSets, missingTiles } from './group-map-sets.ts'
import { packedByLetters } from './map-words.ts'
import { matchMapSets, nameLikeness } from './match-map-sets.ts'
import { parseMapName, parseMapNames } from './parse-map-name.ts'

describe('one name', () => {
  test.each([
    ['T_Brass_BaseColor_2k.png', 'brass', 'baseColor', false],
    ['brass-roughness-16bit.tif', 'brass', 'roughness', false],
    ['brass_gloss.png', 'brass', 'roughness', true],
    ['BrassMetallic.png', 'brass', 'metalness', false],
    ['metal_plate_rough_v002.png', 'metal_plate', 'roughness', false],
    ['gold_color_normal.png', 'gold_color', 'normal', false],
    ['roughness_brass.jpg', 'brass', 'roughness', false],
    ['wood/Roughness.png', 'wood', 'roughness', false],
    ['textures/wood_4k/albedo.jpg', 'wood', 'baseColor', false],
    ['Feder_Grundfarbe.png', 'feder', 'baseColor', false],
    ['laiton_Rugosité.png', 'laiton', 'roughness', false],
    ['laton_rugosidad.png', 'laton', 'roughness', false],
    ['布料基础颜色.png', '布料', 'baseColor', false],
    ['真鍮_粗さ.png', '真鍮', 'roughness', false],
    ['латунь_шероховатость.png', 'латунь', 'roughness', false],
    ['cloth.transparency.png', 'cloth', 'opacity', true],
    ['paint_coat_roughness.png', 'paint', 'clearcoatRoughness', false],
    ['velvet sheen color.png', 'velvet', 'sheenColor', false],
    ['brass_ao.png', 'brass', 'occlusion', false],
    ['brass_height.exr', 'brass', 'displacement', false],
    ['brass_emissive.png', 'brass', 'emissive', false],
    ['heron_MaterialID.png', 'heron', 'id', false],
  ] as const)('%s', (file, setName, slot, inverted) => {
    const name = parseMapName(file)
    expect(name.setName).toBe(setName)
    expect(name.meaning).toEqual(inverted ? { slot, inverted } : { slot })
  })

  test('what the name says of the image', () => {
    expect(parseMapName('brass_nrm_dx_linear_8k_32f.tif')).toMatchObject({
      direction: 'down',
      colorSpace: 'linear',
      resolution: 8192,
      bits: 32,
      setName: 'brass',
    })
    expect(parseMapName('brass_Normal_OpenGL_2048x1024.png')).toMatchObject({
      direction: 'up',
      resolution: 2048,
    })
    expect(parseMapName('plume_base-color_srgb_1002.png')).toMatchObject({ tile: '1002', colorSpace: 'sRGB' })
    expect(parseMapName('kite_u1_v2_color.png')).toMatchObject({ tile: 'u1_v2', setName: 'kite' })
    expect(parseMapName('flame_color.0007.png')).toMatchObject({ frame: 7, tile: null })
    expect(parseMapName('brass_2019.png').tile).toBe(null)
  })

  test('packed maps by word and by letters, and words that only look so', () => {
    expect(parseMapName('T_Brass_ORM.png').packed!.map((one) => one?.slot)).toEqual([
      'occlusion',
      'roughness',
      'metalness',
    ])
    expect(parseMapName('brass_metallicRoughness.png').packed!.map((one) => one?.slot ?? null)).toEqual([
      null,
      'roughness',
      'metalness',
    ])
    expect(packedByLetters('mrao')!.map((one) => one?.slot)).toEqual(['metalness', 'roughness', 'occlusion'])
    expect(packedByLetters('rma')!.map((one) => one?.slot)).toEqual(['roughness', 'metalness', 'occlusion'])
    for (const word of ['gem', 'hear', 'arc', 'ram1', 'heron']) expect(packedByLetters(word), word).toBeNull()
  })

  test('1024 is a tile only where another name differs in nothing but its tile', () => {
    const names = parseMapNames(['brass_color_1024.png', 'wood_color_1024.png', 'wood_color_1023.png'])
    expect(names.map(({ tile }) => tile)).toEqual([null, '1024', '1023'])
    expect(names[0]!.resolution).toBe(1024)
  })
})

describe('sets', () => {
  test('tiles are one map, doubled files one, and what is missing is named', () => {
    const { sets, doubled, unknown } = groupMapSets([
      'heron_color.1001.png',
      'heron_color.1002.png',
      'heron_rough.1001.png',
      'heron_normal_v1.png',
      'heron_normal_v2.png',
      'notes.png',
    ])
    const [heron] = sets
    expect(sets.map(({ name }) => name)).toEqual(['heron'])
    expect(heron!.maps.map(({ slot, files }) => [slot, files.length])).toEqual([
      ['baseColor', 2],
      ['normal', 1],
      ['roughness', 1],
    ])
    expect(doubled).toEqual([{ taken: 'heron_normal_v2.png', left: ['heron_normal_v1.png'] }])
    expect(missingTiles(heron!)).toEqual([{ file: 'heron_rough.1001.png', tiles: ['1002'] }])
    expect(unknown.map(({ file }) => file)).toEqual(['notes.png'])
  })
  test('one letter counts where a set has several of them', () => {
    const doubtOf = (files: string[]) => groupMapSets(files).sets[0]!.maps.map(({ doubt }) => doubt)
    expect(doubtOf(['heron_D.png', 'heron_N.png'])).toEqual([null, null])
    expect(doubtOf(['heron_D.png'])).toEqual(['one-letter'])
    expect(doubtOf(['brass_mask.png'])).toEqual(['loose-word'])
  })
})

describe('whose they are', () => {
  test('all pairs at once: the likelier partner takes its own, numbers tell apart', () => {
    const matches = matchMapSets(['brass_02', 'brass_01', 'glass'], ['M_Glass', 'Brass01_mat', 'Brass02_mat'])
    expect(matches.map(({ material, how }) => [material, how])).toEqual([
      [2, 'sure'],
      [1, 'sure'],
      [0, 'sure'],
    ])
  })
  test('what is alike to two is asked, what is like nothing has none', () => {
    const [feather, stone] = matchMapSets(['feather', 'granite'], ['feather_left', 'feather_right', 'beak'])
    expect(feather!.how).toBe('doubtful')
    expect([feather!.material, ...feather!.others].sort()).toEqual([0, 1])
    expect(stone).toMatchObject({ material: -1, how: 'none' })
  })
  test('the only set is the only material’s, whatever it is called', () => {
    expect(matchMapSets(['export'], ['lambert1'])[0]).toMatchObject({ material: 0, how: 'only' })
  })
  test('likeness is one for the same words and zero for none', () => {
    expect(nameLikeness('MAT_StormLantern', 'storm_lantern')).toBe(1)
    expect(nameLikeness('brass', 'glass')).toBeLessThan(0.6)
    expect(nameLikeness('', 'brass')).toBe(0)
  })
})

describe('which set is which material’s', () => {
  const chosen = (sets: string[], materials: string[]): number[] =>
    matchMapSets(sets, materials).map(({ material }) => material)
  test('the most alike pair is made first, wherever it stands', () => {
    expect(chosen(['stone dark', 'stone'], ['stone', 'stone dark'])).toEqual([1, 0])
    expect(chosen(['stone', 'stone dark'], ['stone dark', 'stone'])).toEqual([1, 0])
    expect(chosen(['oak plank', 'oak', 'wall'], ['wall', 'oak', 'oak plank'])).toEqual([2, 1, 0])
  })
  test('of pairs that are as much alike the first set has the first material', () => {
    expect(chosen(['leaf', 'leaf'], ['leaf', 'leaf'])).toEqual([0, 1])
    expect(chosen(['leaf', 'leaf', 'leaf'], ['leaf', 'leaf']).slice(0, 2)).toEqual([0, 1])
  })
})
