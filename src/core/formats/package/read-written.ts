import { KelboError } from '../../base/messages/collector.ts'
import type { Scene } from '../../scene/scene.ts'
import { partNodes } from '../../scene/world.ts'
import type { ReadOptions } from '../descriptor.ts'
import type { PackageFile } from './package-file.ts'
import { readPackage } from './read-package.ts'

/** What a reader says of a file without anything in it. */
const EMPTY_CODES: readonly string[] = ['file.empty', 'file.not-a-model']

export interface WrittenRead {
  readonly scene: Scene
  /** Names of model files in which nothing is. */
  readonly empty: readonly string[]
}

/**
 * Reads files that were just written, to see what of a model arrives.
 *
 * @param format its name, for the words. @param parts how many were to be in them.
 * @throws KelboError `write.nothing` where nothing of the parts is in any of them.
 */
export function readWritten(
  files: readonly PackageFile[],
  options: ReadOptions,
  format: string,
  parts: number,
): WrittenRead {
  const nothing = (): KelboError => new KelboError('write.nothing', { format })
  try {
    const { scene, findings } = readPackage(files, options)
    if (parts > 0 && partNodes(scene).length === 0) throw nothing()
    const empty = findings.flatMap(({ code, file }) => (file && EMPTY_CODES.includes(code) ? [file] : []))
    return { scene, empty }
  } catch (error) {
    throw error instanceof KelboError && EMPTY_CODES.includes(error.code) ? nothing() : error
  }
}
