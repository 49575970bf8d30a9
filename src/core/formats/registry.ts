import type { Finding } from '../messages/catalogue.ts'
import type { Scene } from '../scene/scene.ts'
import type { Trait } from '../traits/trait.ts'
import { MODEL_ENDINGS } from './endings.ts'
import { readFbx } from './fbx/read-fbx.ts'
import { readObj } from './obj/read-obj.ts'
import { writeObj } from './obj/write-obj.ts'
import type { ObjReadOptions, ObjWriteOptions } from './obj/options.ts'
import type { PackageFile } from './package-file.ts'

/** What Kelbo knows of one model format. */
export interface FormatDescriptor {
  readonly id: string
  readonly name: string
  readonly endings: readonly string[]
  /** Traits that the format has words for, as far as one file goes. */
  readonly carries: readonly Trait[]
  readonly read: (
    file: PackageFile,
    beside: readonly PackageFile[],
    options: ReadOptions,
  ) => { scene: Scene; findings: readonly Finding[] }
  /** Null for a format that is read only. */
  readonly write:
    | ((
        scene: Scene,
        fileName: string,
        options: WriteOptions,
      ) => { files: readonly PackageFile[]; findings: readonly Finding[] })
    | null
}

/** Options of all formats together; a format takes those it knows. */
export type ReadOptions = Partial<ObjReadOptions>
export type WriteOptions = Partial<ObjWriteOptions>

export const FORMATS: readonly FormatDescriptor[] = [
  {
    id: 'obj',
    name: 'OBJ',
    endings: MODEL_ENDINGS.obj,
    carries: [
      'topology',
      'points',
      'uvs',
      'smoothing',
      'normals',
      'creases',
      'names',
      'materials',
      'surfaces',
      'groups',
      'colours',
    ],
    read: readObj,
    write: writeObj,
  },
  {
    id: 'fbx',
    name: 'FBX',
    endings: MODEL_ENDINGS.fbx,
    carries: [
      'topology',
      'points',
      'uvs',
      'smoothing',
      'normals',
      'creases',
      'transforms',
      'names',
      'materials',
      'surfaces',
      'colours',
      'scene',
    ],
    read: readFbx,
    write: null,
  },
]

export const formatOf = (name: string): FormatDescriptor | null =>
  FORMATS.find((format) => format.endings.some((ending) => name.toLowerCase().endsWith(ending))) ?? null
