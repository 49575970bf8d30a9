import type { Finding } from '../messages/catalogue.ts'
import type { Scene } from '../scene/scene.ts'
import type { Trait } from '../traits/trait.ts'
import { MODEL_ENDINGS } from './endings.ts'
import { readFbx } from './fbx/read-fbx.ts'
import { FBX_WRITE_CHOICES, FBX_WRITE_DEFAULTS, writeFbx, type FbxWriteOptions } from './fbx/write-fbx.ts'
import { readObj } from './obj/read-obj.ts'
import { writeObj } from './obj/write-obj.ts'
import {
  OBJ_WRITE_CHOICES,
  OBJ_WRITE_DEFAULTS,
  type ObjReadOptions,
  type ObjWriteOptions,
} from './obj/options.ts'
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
  readonly write: (
    scene: Scene,
    fileName: string,
    options: WriteOptions,
  ) => { files: readonly PackageFile[]; findings: readonly Finding[] }
  /** The options that its writer knows, with their defaults. */
  readonly writeDefaults: object
  /** For options that take one of a few values: which. */
  readonly writeChoices: Readonly<Record<string, readonly (string | number)[]>>
}

/** Options of all formats together; a format takes those it knows. */
export type ReadOptions = Partial<ObjReadOptions>
export type WriteOptions = Partial<ObjWriteOptions & FbxWriteOptions>

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
    writeDefaults: OBJ_WRITE_DEFAULTS,
    writeChoices: OBJ_WRITE_CHOICES,
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
    write: writeFbx,
    writeDefaults: FBX_WRITE_DEFAULTS,
    writeChoices: FBX_WRITE_CHOICES,
  },
]

export const formatOf = (name: string): FormatDescriptor | null =>
  FORMATS.find((format) => format.endings.some((ending) => name.toLowerCase().endsWith(ending))) ?? null
