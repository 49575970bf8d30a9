/** What forms start with is what reading and writing do without a word, and every option is one that they know. */
import { expect, test } from 'vitest'
import { defaultsOf } from '../base/options/option.ts'
import { ALEMBIC_READ_DEFAULTS, ALEMBIC_WRITE_DEFAULTS } from './alembic/options.ts'
import { COLLADA_READ_DEFAULTS, COLLADA_WRITE_DEFAULTS } from './collada/options.ts'
import { FBX_READ_DEFAULTS, FBX_WRITE_DEFAULTS } from './fbx/options.ts'
import { GLTF_READ_DEFAULTS, GLTF_WRITE_DEFAULTS } from './gltf/options.ts'
import { OBJ_READ_DEFAULTS, OBJ_WRITE_DEFAULTS } from './obj/options.ts'
import { PLY_READ_DEFAULTS, PLY_WRITE_DEFAULTS } from './ply/options.ts'
import { formatById } from './registry.ts'
import { STL_READ_DEFAULTS, STL_WRITE_DEFAULTS } from './stl/options.ts'
import { USD_READ_DEFAULTS, USD_WRITE_DEFAULTS } from './usd/options.ts'

/** Options that are handed over beside those of the forms. */
const BESIDE = ['selection', 'codec']

test.each([
  ['obj', 'readOptions', OBJ_READ_DEFAULTS],
  ['obj', 'writeOptions', OBJ_WRITE_DEFAULTS],
  ['fbx', 'readOptions', FBX_READ_DEFAULTS],
  ['fbx', 'writeOptions', FBX_WRITE_DEFAULTS],
  ['gltf', 'readOptions', GLTF_READ_DEFAULTS],
  ['gltf', 'writeOptions', GLTF_WRITE_DEFAULTS],
  ['collada', 'readOptions', COLLADA_READ_DEFAULTS],
  ['collada', 'writeOptions', COLLADA_WRITE_DEFAULTS],
  ['ply', 'readOptions', PLY_READ_DEFAULTS],
  ['ply', 'writeOptions', PLY_WRITE_DEFAULTS],
  ['stl', 'readOptions', STL_READ_DEFAULTS],
  ['stl', 'writeOptions', STL_WRITE_DEFAULTS],
  ['alembic', 'readOptions', ALEMBIC_READ_DEFAULTS],
  ['alembic', 'writeOptions', ALEMBIC_WRITE_DEFAULTS],
  ['usd', 'readOptions', USD_READ_DEFAULTS],
  ['usd', 'writeOptions', USD_WRITE_DEFAULTS],
] as const)('%s, %s', (id, list, defaults) => {
  const known = Object.fromEntries(Object.entries(defaults).filter(([key]) => !BESIDE.includes(key)))
  expect(defaultsOf(formatById(id)![list])).toEqual(known)
})
