/** Surface models and folders of maps from the command line. */
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs'
import { basename, join } from 'node:path'
import type { PackageFile } from '../core/formats/package/package-file.ts'
import { readZip } from '../core/formats/package/read-zip.ts'
import type { SurfaceModel } from '../core/surfaces/model.ts'
import { parseOwnModel } from '../core/surfaces/own-model.ts'
import { SURFACE_MODELS } from '../core/surfaces/registry.ts'
import { readJson } from './load.ts'
import { UsageError } from './usage-error.ts'

export const surfaceNames = (): string => SURFACE_MODELS.map(({ id }) => id).join(', ')

/** One that ships, by its id, or the JSON file of one. @throws UsageError, KelboError remap.bad-model. */
export function surfaceNamed(id: string | undefined, option: string): SurfaceModel {
  if (!id) throw new UsageError(`${option} MODEL is missing: ${surfaceNames()}, or a JSON file of one.`, true)
  const shipped = SURFACE_MODELS.find((model) => model.id === id)
  if (shipped) return shipped
  if (!/\.json$/i.test(id))
    throw new UsageError(`“${id}” is no surface model: ${surfaceNames()}, or a JSON file of one.`)
  return parseOwnModel(readJson(id), basename(id).replace(/\.json$/i, ''))
}

const IMAGE = /\.(png|jpe?g|tga|tiff?|exr|hdr|bmp|webp|svgz?|gif)$/i
/** Files of a folder that are looked at, and how deep its folders go. */
const MOST_FILES = 20000
const DEEPEST = 6

/** Images of a folder or a ZIP, by their paths within it; their bytes are read when asked for. @throws UsageError. */
export function loadMaps(path: string): PackageFile[] {
  if (!existsSync(path)) throw new UsageError(`There is no folder “${path}”.`)
  if (statSync(path).isFile()) {
    if (!/\.zip$/i.test(path)) throw new UsageError(`“${path}” is neither a folder nor a ZIP.`)
    return readZip({ name: basename(path), bytes: readFileSync(path) }).files.filter(({ name }) =>
      IMAGE.test(name),
    )
  }
  const files: PackageFile[] = []
  const walk = (folder: string, depth: number): void => {
    for (const entry of readdirSync(join(path, folder), { withFileTypes: true })) {
      const name = folder ? `${folder}/${entry.name}` : entry.name
      if (entry.isDirectory() && !entry.name.startsWith('.') && depth < DEEPEST) walk(name, depth + 1)
      else if (entry.isFile() && IMAGE.test(entry.name) && !entry.name.startsWith('.'))
        files.push({
          name,
          get bytes() {
            return readFileSync(join(path, name))
          },
        })
      if (files.length > MOST_FILES) throw new UsageError(`“${path}” holds more than ${MOST_FILES} images.`)
    }
  }
  walk('', 0)
  return files.sort((a, b) => (a.name < b.name ? -1 : 1))
}
