/** The floors of the house: which folder stands on which, and which packages each may use. */

export interface Folder {
  /** Relative to src; a folder without a line of its own belongs to the nearest one above it. */
  readonly folder: string
  /** Folders of lower floors only; folders of one floor never import each other. */
  readonly floor: number
  /** Packages by name, or by prefix where it ends with "/" or ":". */
  readonly packages: readonly string[]
  /** Folders that it may use; absent: all on lower floors. */
  readonly uses?: readonly string[]
}

const core = (folder: string, floor: number, packages: readonly string[] = []): Folder => ({
  folder: `core/${folder}`,
  floor,
  packages,
})

export const FOLDERS: readonly Folder[] = [
  core('base/bytes', 0, ['fflate']),
  core('base/remembering', 0, []),
  core('base/math', 1),
  core('base/messages', 1),
  core('base/options', 1),
  core('scene', 3),
  core('mesh/relations', 4),
  core('mesh/closest', 5),
  core('mesh/triangles', 5, ['earcut']),
  core('mesh/faults', 5),
  core('mesh/orientation', 5),
  core('mesh/smoothing', 5),
  core('mesh/normals', 6),
  core('mesh/rebuilding', 6),
  core('mesh/welds', 7),
  core('mesh/cutting', 7),
  core('mesh/subdividing', 7),
  core('mesh/visibility', 7),
  core('image', 8, ['fast-png']),
  core('uv', 8),
  core('surfaces', 9, ['saxes']),
  core('formats', 10, ['fflate', 'saxes']),
  core('compare', 11, ['ml-matrix']),
  core('reconcile', 12),
  core('checks', 12),
  core('inspect', 12),
  core('steps', 13),
  core('trips', 14),
  core('practice', 15),
  core('view', 15),
  { folder: 'app', floor: 20, packages: [] },
  { folder: 'host', floor: 20, packages: ['node:', 'sharp', 'three', 'meshoptimizer'], uses: ['core'] },
  { folder: 'contract', floor: 21, packages: ['zod'], uses: ['core', 'app'] },
  { folder: 'cli', floor: 30, packages: ['node:'], uses: ['core', 'app', 'host', 'contract'] },
  {
    folder: 'server',
    floor: 30,
    packages: [
      'node:',
      '@fastify/',
      '@node-rs/argon2',
      '@toondepauw/node-zstd',
      'fastify',
      'fastify-type-provider-zod',
      'drizzle-orm',
      'pg',
      'pino',
      'zod',
    ],
    uses: ['core', 'app', 'host', 'contract'],
  },
  {
    folder: 'web',
    floor: 30,
    packages: [
      '@fontsource-variable/',
      '@tanstack/vue-virtual',
      'element-plus',
      'pinia',
      'plotly.js-basic-dist-min',
      'splitpanes',
      'three',
      'three-mesh-bvh',
      'vue',
      'vue-router',
      'zod',
    ],
    uses: ['core', 'app', 'contract'],
  },
]

/** Folders whose own subfolders (or, where marked so, files) are kinds: none of them imports another. */
export const KINDS: readonly {
  readonly folder: string
  readonly by: 'folder' | 'file'
  readonly shared: RegExp
}[] = [
  { folder: 'core/formats', by: 'folder', shared: /^(package|arrange|notes)$/ },
  { folder: 'core/checks', by: 'file', shared: /^(check|settings|registry|run-checks)$/ },
  {
    folder: 'core/steps',
    by: 'file',
    shared: /^(step|recipe|registry|run-steps|grow-selection|bench-document|shared\/.+)$/,
  },
  { folder: 'core/surfaces/models', by: 'file', shared: /^$/ },
  { folder: 'core/practice/standins', by: 'file', shared: /^(standin|registry)$/ },
  { folder: 'core/trips/destinations', by: 'file', shared: /^(destination|registry)$/ },
]
