/** Files that the command line writes. */
import { mkdirSync, writeFileSync } from 'node:fs'
import { basename, dirname, join } from 'node:path'
import { compareScenes } from '../core/compare/compare-scenes.ts'
import type { WriteOptions } from '../core/formats/descriptor.ts'
import type { PackageFile } from '../core/formats/package/package-file.ts'
import { readWritten } from '../core/formats/package/read-written.ts'
import { writeZip } from '../core/formats/package/write-zip.ts'
import { FORMATS, formatNames, formatOf, readBackOptions } from '../core/formats/registry.ts'
import type { Scene } from '../core/scene/scene.ts'
import { partNodes } from '../core/scene/world.ts'
import { NODE_CODEC } from '../host/node-codec.ts'
import { UsageError } from './usage-error.ts'

/** Writes files beside each other; a ZIP where the name asks for one. */
export function save(path: string, files: readonly PackageFile[]): void {
  mkdirSync(dirname(path), { recursive: true })
  if (/\.zip$/i.test(path)) return writeFileSync(path, writeZip(files))
  for (const file of files) {
    const target = join(dirname(path), file.name)
    mkdirSync(dirname(target), { recursive: true })
    writeFileSync(target, file.bytes)
  }
}

/** Name of the model file; a ZIP holds one of the first format. */
export const outName = (path: string): string => basename(path).replace(/\.zip$/i, FORMATS[0]!.endings[0]!)

/** @throws UsageError where the file's ending is of no format. */
export function checkTarget(path: string): void {
  if (!formatOf(outName(path)))
    throw new UsageError(`“${path}” is no format that can be written: ${formatNames()}, ZIP.`)
}

/** Writes a scene and reads it back. */
export function writeAndForecast(
  scene: Scene,
  path: string,
  options: WriteOptions,
  beside: readonly PackageFile[] = [],
) {
  const format = formatOf(outName(path))!
  const written = format.write(scene, outName(path), { ...options, codec: NODE_CODEC })
  const back = readWritten(
    written.files,
    { ...readBackOptions(written.space, options), codec: NODE_CODEC },
    format.name,
    partNodes(scene).length,
  )
  save(path, [...written.files, ...beside])
  return { written, forecast: compareScenes(scene, back.scene) }
}

export const fileDocuments = (files: readonly PackageFile[]) =>
  files.map((file) => ({ name: file.name, bytes: file.bytes.length }))
