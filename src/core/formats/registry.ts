import type { Finding } from '../base/messages/catalogue.ts'
import type { Scene, Space } from '../scene/scene.ts'
import { MODEL_ENDINGS } from './endings.ts'
import { readFbx } from './fbx/read-fbx.ts'
import {
  FBX_WRITE_CHOICES,
  FBX_WRITE_DEFAULTS,
  type FbxReadOptions,
  type FbxWriteOptions,
} from './fbx/options.ts'
import { writeFbx } from './fbx/write-fbx.ts'
import { readObj } from './obj/read-obj.ts'
import { writeObj } from './obj/write-obj.ts'
import {
  OBJ_WRITE_CHOICES,
  OBJ_WRITE_DEFAULTS,
  type ObjReadOptions,
  type ObjWriteOptions,
} from './obj/options.ts'
import type { PackageFile } from './package/package-file.ts'

/** What Kelbo knows of one model format. */
export interface FormatDescriptor {
  readonly id: string
  readonly name: string
  readonly endings: readonly string[]
  /** Traits that the format has words for, as far as one file goes. */
  readonly carries: readonly string[]
  readonly read: (
    file: PackageFile,
    beside: readonly PackageFile[],
    options: ReadOptions,
  ) => { scene: Scene; findings: readonly Finding[] }
  readonly write: (
    scene: Scene,
    fileName: string,
    options: WriteOptions,
  ) => { files: readonly PackageFile[]; findings: readonly Finding[]; space: Space }
  /** The options that its writer knows, with their defaults. */
  readonly writeDefaults: object
  /** Options that understand a file that was written in a space with given options. */
  readonly readBack: (space: Space, options: WriteOptions) => ReadOptions
  /** For options that take one of a few values: which. */
  readonly writeChoices: Readonly<Record<string, readonly (string | number)[]>>
}

/** Options of all formats together; a format takes those it knows. */
export type ReadOptions = Partial<ObjReadOptions & FbxReadOptions> & {
  /** What is assumed of a file of a format, by the format's id, where nothing else is said. */
  readonly assumed?: Readonly<Record<string, ReadOptions>>
}
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
    // the file says nothing of its unit and axes
    readBack: (space, options) => ({
      unitMeters: space.unitMeters,
      upAxis: space.upAxis,
      frontAxis: space.frontAxis,
      mirrored: space.handedness === 'left',
      flipV: options.flipV ?? false,
    }),
  },
  {
    id: 'fbx',
    name: 'FBX',
    endings: MODEL_ENDINGS.fbx,
    carries: TRAITS,
    read: readFbx,
    write: writeFbx,
    writeDefaults: FBX_WRITE_DEFAULTS,
    writeChoices: FBX_WRITE_CHOICES,
    // unit and axes stand in the file; on which scale its creases are doesn't
    readBack: (_space, options) => ({
      creaseScale: options.creaseScale ?? FBX_WRITE_DEFAULTS.creaseScale,
      creaseExponent: options.creaseExponent ?? FBX_WRITE_DEFAULTS.creaseExponent,
    }),
  },
]

export const formatOf = (name: string): FormatDescriptor | null =>
  FORMATS.find((format) => format.endings.some((ending) => name.toLowerCase().endsWith(ending))) ?? null

/** What a file of each format, written in a space with given options, is understood by. */
export const readBackOptions = (space: Space, options: WriteOptions): ReadOptions => ({
  assumed: Object.fromEntries(FORMATS.map((format) => [format.id, format.readBack(space, options)])),
})
