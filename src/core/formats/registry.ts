/** All formats. One line each. */
import type { OptionDescriptor } from '../base/options/option.ts'
import type { Space } from '../scene/scene.ts'
import type { FormatDescriptor, FormatOptions, ReadOptions } from './descriptor.ts'
import { alembic } from './alembic/alembic.ts'
import { collada } from './collada/collada.ts'
import { fbx } from './fbx/fbx.ts'
import { gltf } from './gltf/gltf.ts'
import { obj } from './obj/obj.ts'
import { ply } from './ply/ply.ts'
import { stl } from './stl/stl.ts'
import { usd } from './usd/usd.ts'

export const FORMATS: readonly FormatDescriptor[] = [obj, fbx, gltf, collada, ply, stl, usd, alembic]

/** The format of a file by its ending; null where none has it. */
export const formatOf = (name: string): FormatDescriptor | null =>
  FORMATS.find((format) => format.endings.some((ending) => name.toLowerCase().endsWith(ending))) ?? null

/** The format of an id; null for none. */
export const formatById = (id: string): FormatDescriptor | null =>
  FORMATS.find((format) => format.id === id) ?? null

/** @throws Error where there is no such format: who asks has it from the registry. */
export function formatNamed(id: string): FormatDescriptor {
  const format = formatById(id)
  if (!format) throw new Error(`no format ${id}`)
  return format
}

/** The ending of a file of a format that is written with given options. */
export const endingOf = (format: FormatDescriptor, options: FormatOptions): string =>
  format.endingFor?.(options) ?? format.endings[0]!

/** Names of all formats, as a sentence lists them. */
export const formatNames = (): string => FORMATS.map((format) => format.name).join(', ')

/** Each option once that some format has for reading: what may be said of a file before its format is known. */
export function anyReadOptions(): OptionDescriptor[] {
  const known = new Map<string, OptionDescriptor>()
  for (const format of FORMATS)
    for (const option of format.readOptions) if (!known.has(option.id)) known.set(option.id, option)
  return [...known.values()]
}

/** What a file of each format, written in a space with given options, is understood by. */
export const readBackOptions = (space: Space, options: FormatOptions): ReadOptions => ({
  assumed: Object.fromEntries(FORMATS.map((format) => [format.id, format.readBack(space, options)])),
})

/** The options for one file: what is asked of all beside what is assumed of its format. */
export function optionsFor(format: FormatDescriptor, { assumed, ...asked }: ReadOptions): FormatOptions {
  return { ...assumed?.[format.id], ...asked }
}
