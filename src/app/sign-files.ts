import { KelboError } from '../core/base/messages/collector.ts'
import { formatOf } from '../core/formats/registry.ts'
import { isZip } from '../core/formats/package/read-zip.ts'
import { EMPTY_SCENE } from '../core/scene/scene.ts'
import { signScene, type SceneSignature } from '../core/trips/hand-off/sign-scene.ts'
import { BARE_HOST, QUIET, type Host, type Progress } from './host.ts'
import { readFiles, type ReadRequest } from './read-files.ts'

export interface SignedFiles {
  readonly whole: SceneSignature
  /** Of each model file or ZIP by itself, by its place among the files; empty where there is only one. */
  readonly each: readonly { readonly file: number; readonly signature: SceneSignature }[]
}

/** @throws KelboError as reading does, where none of the files can be read. */
export function signFiles(
  request: ReadRequest,
  progress: Progress = QUIET,
  host: Host = BARE_HOST,
): SignedFiles {
  const { files } = request
  const models = [...files.keys()].filter((at) => formatOf(files[at]!.name) || isZip(files[at]!))
  const beside = files.filter((_file, at) => !models.includes(at))
  const sign = (chosen: ReadRequest['files'], from: number, to: number): SceneSignature =>
    signScene(
      readFiles(
        { ...request, files: chosen },
        (share, stage) => progress(from + (to - from) * share, stage),
        host,
      ).scene,
    )
  /** One of several that can't be read is of no trip; somebody is asked for it. */
  const signOne = (chosen: ReadRequest['files'], from: number, to: number): SceneSignature => {
    try {
      return sign(chosen, from, to)
    } catch (error) {
      if (!(error instanceof KelboError)) throw error
      return signScene(EMPTY_SCENE)
    }
  }
  const whole = sign(files, 0, models.length > 1 ? 0.5 : 1)
  return {
    whole,
    each:
      models.length > 1
        ? models.map((file, at) => ({
            file,
            signature: signOne(
              [files[file]!, ...beside],
              0.5 + (0.5 * at) / models.length,
              0.5 + (0.5 * (at + 1)) / models.length,
            ),
          }))
        : [],
  }
}
