/** What a return is held against: the parts that left, under the names they left with. */
import { expect, test } from 'vitest'
import { receiveFiles } from '../../src/app/receive-files.ts'
import { writeObj } from '../../src/core/formats/obj/write-obj.ts'
import { completeIds } from '../../src/core/scene/ids.ts'
import { applyNaming } from '../../src/core/trips/naming.ts'
import { cubeOf, materialOf, sceneOf } from '../solids.ts'

const faces = (material: number) => new Int32Array(6).fill(material)
const rust = { properties: [{ name: 'Kd', values: [0.5, 0.2, 0.1], text: null }] }
const master = completeIds(
  sceneOf(
    [
      cubeOf({ name: 'größe links', faceMaterials: faces(0) }),
      { ...cubeOf({ name: 'keel', faceMaterials: faces(1) }, 2) },
      cubeOf({ name: 'stays at home', faceMaterials: faces(0) }, 3),
    ],
    { materials: [materialOf('Öl', rust), materialOf('tin')] },
  ),
)

test('parts that never left are not said to be lost, and Kelbo’s own names are known again', () => {
  const naming = { letters: 'plain', longest: null, prefix: 'm_', suffix: '' } as const
  const { scene } = applyNaming(master, naming)
  const { files } = writeObj(scene, 'sent.obj', { selection: [0, 1] })
  const selection = [0, 1].map((node) => master.nodes[node]!.id)
  const { ledger } = receiveFiles(master, { files, options: {}, naming, selection })
  expect(ledger.rows.map(({ name }) => name)).toEqual(['größe links', 'keel'])
  for (const row of ledger.rows) {
    expect(row.cells.names!.state).toBe('same')
    expect(row.cells.materials!.state).toBe('same')
  }
  const all = receiveFiles(master, { files, options: {}, naming, selection: null })
  expect(all.ledger.rows.find(({ name }) => name === 'stays at home')!.match.returnedNode).toBe(-1)
})
