/** What decides between trips, on signatures made by hand, so that every share is known. */
import { describe, expect, test } from 'vitest'
import { chooseTrip, likeness, nameLikeness, type TripCandidate } from './choose-trip.ts'
import type { Sample, SceneSignature } from './sign-scene.ts'

const WHOLE = 2 ** 32
const sample = (from: number, count: number, limit = WHOLE): Sample => ({
  hashes: Array.from({ length: count }, (_hash, at) => from + at),
  limit,
})
const NONE = sample(0, 0)
const part = (name: string, triangles: number, corners = triangles * 2) => ({
  name,
  polygons: Math.round((corners - triangles) / 2),
  triangles,
  corners,
})
const signature = (more: Partial<SceneSignature> = {}): SceneSignature => ({
  parts: [],
  materials: [],
  uvs: NONE,
  places: NONE,
  ...more,
})
const candidate = (id: string, more: Partial<TripCandidate> = {}): TripCandidate => ({
  id,
  number: 1,
  assetName: id,
  destinationName: 'Sculpting tool',
  contents: [`${id}.obj`],
  isBack: false,
  signature: signature(),
  ...more,
})

describe('how much of one model is in another', () => {
  test.each([
    // of 20 members, as many are shared
    [12, 0.6, true],
    [11, 0.55, false],
    [20, 1, true],
  ])('%i of 20 UVs, or places', (shared, content, fits) => {
    const came = sample(20 - shared, 20)
    for (const key of ['uvs', 'places'] as const)
      expect(likeness(signature({ [key]: sample(0, 20) }), signature({ [key]: came }))).toEqual({
        content,
        fits,
      })
  })
  test('a share is of the smaller; fewer than twelve say nothing', () => {
    const of = (own: Sample, other: Sample) =>
      likeness(signature({ places: own }), signature({ places: other })).content
    expect(of(sample(0, 12), sample(0, 100))).toBe(1)
    expect(of(sample(0, 100), sample(0, 12))).toBe(1)
    expect(of(sample(0, 11), sample(0, 100))).toBe(0)
  })
  test('of samples that were cut, only what both could hold is compared', () => {
    const of = (own: Sample, other: Sample) =>
      likeness(signature({ uvs: own }), signature({ uvs: other })).content
    // below 15 the other has all; beyond it could have none
    expect(of(sample(0, 40), sample(0, 15, 15))).toBe(1)
    expect(of(sample(0, 15, 15), sample(0, 40))).toBe(1)
    expect(of(sample(0, 40), sample(0, 11, 11))).toBe(0)
  })
  test('parts count by their triangles, each of them once', () => {
    const names = { materials: ['zinc'] }
    const of = (own: readonly number[], came: readonly number[]) =>
      likeness(
        signature({ ...names, parts: own.map((count) => part('a', count)) }),
        signature({ ...names, parts: came.map((count) => part('b', count)) }),
      )
    expect(of([60, 40], [60, 41])).toEqual({ content: 0.6, fits: true })
    expect(of([59, 41], [59, 40]).fits).toBe(false)
    // one that is there once stands for one alone
    expect(of([30, 30, 40], [30, 71]).content).toBeCloseTo(0.3, 9)
    // all as one
    expect(of([30, 70], [100]).content).toBe(1)
    // what travelled in a small piece of the whole
    expect(of([30, 70], [70]).content).toBe(1)
    expect(of([], [70])).toEqual({ content: 0, fits: false })
  })
  test('a refined part is known by its counts, up to five levels of them', () => {
    const names = { materials: ['zinc'] }
    const of = (corners: number, count: number, came: number) =>
      likeness(
        signature({ ...names, parts: [part('a', count, corners)] }),
        signature({ ...names, parts: [part('b', came), part('c', 5)] }),
      ).content
    // quads from every corner of a polygon, in triangles twice as many; a triangle in four
    for (let level = 0; level < 5; level++) {
      expect(of(24, 12, 48 * 4 ** level), `quads, ${level + 1}`).toBe(1)
      expect(of(36, 12, 12 * 4 ** (level + 1)), `triangles, ${level + 1}`).toBe(1)
    }
    expect(of(24, 12, 48 * 4 ** 5)).toBe(0)
    expect(of(36, 12, 12 * 4 ** 6)).toBe(0)
  })
  test('as many triangles are no likeness by themselves: names, UVs or places say so too', () => {
    const of = (own: Partial<SceneSignature>, came: Partial<SceneSignature>) =>
      likeness(
        signature({ parts: [part('wing', 50)], ...own }),
        signature({ parts: [part('leg', 50)], ...came }),
      )
    expect(of({}, {})).toEqual({ content: 0.5, fits: false })
    expect(of({ parts: [part('Leg', 50)] }, {})).toEqual({ content: 1, fits: true })
    expect(of({ materials: ['zinc', 'tin'] }, { materials: ['zinc', 'lead'] })).toEqual({
      content: 0.75,
      fits: true,
    })
    expect(of({ materials: ['zinc', 'tin', 'lead'] }, { materials: ['zinc', 'a', 'b'] }).fits).toBe(false)
    // a few of the UVs or places
    for (const key of ['uvs', 'places'] as const) {
      expect(of({ [key]: sample(0, 20) }, { [key]: sample(14, 20) }).fits, key).toBe(true)
      expect(of({ [key]: sample(0, 20) }, { [key]: sample(15, 20) }).fits, key).toBe(false)
    }
  })
})

describe('what a name says', () => {
  const crate = candidate('c', { assetName: 'Crate B', number: 12, contents: ['Crate_B_v3.fbx', 'ab.mtl'] })
  test.each([
    ['other.obj', 0],
    // a file's name that says hardly anything says nothing
    ['ab.obj', 0],
    ['work/my crate_b.obj', 1],
    ['CRATE_B_V3_sculpted.obj', 1],
    ['crate_b_v3/x.obj', 1],
    ['crate_b_trip_12.obj', 3],
    ['crate_b-trip 0012/x.obj', 3],
    ['crate_b_trip_121.obj', 1],
    ['crate_b_trip_2.obj', 1],
    ['trip12/crate_b.obj', 2],
    ['old_crate_b_trip12.obj', 2],
  ] as const)('%s: %i', (name, says) => expect(nameLikeness([name], crate)).toBe(says))
  test('a short name is a word by itself, and no ending of a file', () => {
    const short = (assetName: string) => candidate('x', { assetName, contents: [] })
    expect(['heron.obj', 'ab.obj', 'b.fbx', 'my_b-2.fbx'].map((name) => nameLikeness([name], short('b')))).toEqual([0, 0, 1, 1]) // prettier-ignore
    expect(nameLikeness(['heron.obj'], short('obj'))).toBe(0)
    // a word that only ends as the asset is called is another
    expect(['spire.obj', 'tower/ire_v2.obj', 'ires.obj'].map((name) => nameLikeness([name], short('ire')))).toEqual([0, 1, 1]) // prettier-ignore
  })
  test('several files are heard together', () => {
    expect(nameLikeness(['x.obj', 'crate_b.mtl'], crate)).toBe(1)
    expect(nameLikeness(['trip_12/x.obj', 'crate_b.mtl'], crate)).toBe(2)
    expect(nameLikeness([], crate)).toBe(0)
  })
  test('signs of a pattern in an asset’s name are letters like others', () => {
    expect(nameLikeness(['a_trip_1.obj'], candidate('x', { assetName: 'a+', contents: [] }))).toBe(3)
  })
})

describe('the choice', () => {
  const came = signature({ uvs: sample(0, 100) })
  const sharing = (id: string, share: number, more: Partial<TripCandidate> = {}): TripCandidate =>
    candidate(id, { signature: signature({ uvs: sample(100 - share, 100) }), ...more })
  const choose = (candidates: TripCandidate[], name = 'x.obj') => chooseTrip(came, [name], candidates)

  test('the one that fits; whoever doesn’t is not among the ranked', () => {
    expect(choose([sharing('other', 30), sharing('own', 90)])).toEqual({
      tripId: 'own',
      why: null,
      ranked: [{ id: 'own', content: 0.9, name: 0, fits: true }],
    })
  })
  test('none: the likeliest are shown all the same, six at most', () => {
    const { tripId, why, ranked } = choose([10, 40, 20, 50, 30, 5, 55].map((share) => sharing(`s${share}`, share))) // prettier-ignore
    expect([tripId, why]).toEqual([null, 'landing.no-trip'])
    expect(ranked.map(({ id }) => id)).toEqual(['s55', 's50', 's40', 's30', 's20', 's10'])
  })
  test('two that are about as like, and two of which one is clearly more so', () => {
    const close = choose([sharing('b', 85), sharing('a', 90), sharing('none', 20)])
    expect([close.tripId, close.why, close.ranked.map(({ id }) => id)]).toEqual([
      null,
      'landing.several-trips',
      ['a', 'b'],
    ])
    expect(choose([sharing('b', 79), sharing('a', 90)]).tripId).toBe('a')
  })
  test('a name settles it between two that are as like, but never against what is clearly in the file', () => {
    expect(choose([sharing('alpha', 88), sharing('beta', 90)], 'alpha.obj').tripId).toBe('alpha')
    expect(choose([sharing('alpha', 79), sharing('beta', 90)], 'alpha.obj')).toMatchObject({
      tripId: null,
      why: 'landing.several-trips',
    })
    // a name alone makes no trip of what is not in the file
    expect(choose([sharing('alpha', 30), sharing('beta', 90)], 'alpha.obj').tripId).toBe('beta')
  })
  test('something has come back from it already: somebody is asked, and it is offered', () => {
    const { tripId, why, ranked } = choose([sharing('own', 90, { isBack: true }), sharing('other', 20)])
    expect([tripId, why, ranked.map(({ id }) => id)]).toEqual([null, 'landing.already-back', ['own']])
  })
})
