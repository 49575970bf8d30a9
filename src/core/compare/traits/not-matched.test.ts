/** Of parts whose elements are not known to be the same ones nothing is said of what they carry, but that they do or don't. */
import { describe, expect, test } from 'vitest'
import { fullScene } from '../../../../tests/full-scene.ts'
import type { Mesh } from '../../scene/mesh.ts'
import type { Scene } from '../../scene/scene.ts'
import { comparePart } from '../compare-scenes.ts'
import { matchScenes } from '../match-scenes.ts'
import type { Correspondence } from '../match/correspondence.ts'
import type { MatchedPart } from './trait.ts'

const scene = fullScene()
const [whole] = matchScenes(scene, scene).matched
const none = ({ correspondence }: MatchedPart): Correspondence => ({
  ...correspondence,
  kind: 'none',
  pointToReturned: correspondence.pointToReturned.map(() => -1),
  faceToReturned: correspondence.faceToReturned.map(() => -1),
  cornerToReturned: correspondence.cornerToReturned.map(() => -1),
  matchedFaceCount: 0,
})
const compare = (master: Mesh, returned: Mesh, correspondence: Correspondence) =>
  comparePart(scene, scene as Scene, { ...whole!, master, returned, correspondence })

/** What a part has of each, and a part without it. */
const WITHOUT = {
  uvs: { uvSets: [] },
  normals: { normals: null },
  smoothing: { smoothing: null },
  creases: { creases: null },
  materials: { faceMaterials: null },
  groups: { groups: null },
  colours: { colorSets: [] },
  shapes: { shapes: [], skin: null },
} as const satisfies Record<string, Partial<Mesh>>

describe('elements without counterparts', () => {
  const { master } = whole!
  for (const [trait, without] of Object.entries(WITHOUT) as [keyof typeof WITHOUT, Partial<Mesh>][])
    test(trait, () => {
      const bare = { ...master, ...without }
      const nowhere = none(whole!)
      const both = compare(master, master, nowhere)[trait]
      expect([both.state, both.note]).toEqual(['incomparable', 'not-matched'])
      // how many there are is known all the same
      if (!['colours', 'shapes'].includes(trait)) expect(both.totalCount).toBeGreaterThan(0)
      expect(both.changedCount).toBe(0)
      // and so is whether there are any
      expect(compare(master, bare, nowhere)[trait].state).toBe('lost')
      expect(compare(bare, master, nowhere)[trait].state).toBe('gained')
      expect(compare(bare, bare, nowhere)[trait].note).toBe('none')
      // with counterparts the same two are the same
      expect(compare(master, master, whole!.correspondence)[trait].state).toBe('same')
    })
  test('points and polygons themselves', () => {
    const cells = compare(master, master, none(whole!))
    expect([cells.points.state, cells.points.note]).toEqual(['incomparable', 'points-surface'])
    expect(cells.points.totalCount).toBe(master.points.length / 3)
    expect(cells.topology.state).toBe('changed')
  })
})
