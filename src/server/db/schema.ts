import {
  bigint,
  boolean,
  customType,
  doublePrecision,
  index,
  integer,
  pgTable,
  primaryKey,
  text,
  timestamp,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core'

const bytea = customType<{ data: Buffer; driverData: Buffer }>({ dataType: () => 'bytea' })
/** Letters that PostgreSQL's JSON has no room for are shown as what they are: unknown. */
const soundText = (text: string): string =>
  text
    .replaceAll('\0', '\ufffd')
    .replace(/[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g, '\ufffd')
const jsonb = customType<{ data: unknown; driverData: string }>({
  dataType: () => 'jsonb',
  toDriver: (value) =>
    JSON.stringify(value, (_key, entry: unknown) => (typeof entry === 'string' ? soundText(entry) : entry)),
})
const time = (name: string) => timestamp(name, { withTimezone: true })

/** Content once each, by the SHA-256 of its bytes; the bytes lie in chunks. */
export const blobs = pgTable('blobs', {
  hash: text('hash').primaryKey(),
  byteLength: bigint('byte_length', { mode: 'number' }).notNull(),
  chunkCount: integer('chunk_count').notNull(),
})

export const blobChunks = pgTable(
  'blob_chunks',
  {
    hash: text('hash')
      .notNull()
      .references(() => blobs.hash, { onDelete: 'cascade' }),
    place: integer('place').notNull(),
    deflated: boolean('deflated').notNull(),
    bytes: bytea('bytes').notNull(),
  },
  (table) => [primaryKey({ columns: [table.hash, table.place] })],
)

/** A scene as a document that names its arrays by hash. Immutable. */
export const scenes = pgTable('scenes', {
  id: uuid('id').primaryKey().defaultRandom(),
  document: jsonb('document').notNull(),
  /** [{ hash, type, length }], by the places that the document uses. */
  arrays: jsonb('arrays').notNull(),
  inspection: jsonb('inspection').notNull(),
  fingerprints: jsonb('fingerprints').notNull(),
  createdAt: time('created_at').notNull().defaultNow(),
})

/** Which contents a scene or a ledger needs; what nobody needs may be swept. */
export const sceneBlobs = pgTable(
  'scene_blobs',
  {
    sceneId: uuid('scene_id')
      .notNull()
      .references(() => scenes.id, { onDelete: 'cascade' }),
    hash: text('hash')
      .notNull()
      .references(() => blobs.hash),
  },
  (table) => [primaryKey({ columns: [table.sceneId, table.hash] }), index('scene_blobs_hash').on(table.hash)],
)

export const assets = pgTable('assets', {
  id: uuid('id').primaryKey().defaultRandom(),
  name: text('name').notNull(),
  /** What the artist has noted of parts, by their path: { role, label }. */
  partMarks: jsonb('part_marks').notNull().default({}),
  createdAt: time('created_at').notNull().defaultNow(),
})

/** Saved lists of steps, for any asset. */
export const recipes = pgTable('recipes', {
  id: uuid('id').primaryKey().defaultRandom(),
  name: text('name').notNull(),
  steps: jsonb('steps').notNull(),
  createdAt: time('created_at').notNull().defaultNow(),
  updatedAt: time('updated_at').notNull().defaultNow(),
})

/** The artist's own destinations, as documents that have passed the contract's schema. */
export const destinations = pgTable('destinations', {
  id: uuid('id').primaryKey().defaultRandom(),
  name: text('name').notNull(),
  document: jsonb('document').notNull(),
  createdAt: time('created_at').notNull().defaultNow(),
  updatedAt: time('updated_at').notNull().defaultNow(),
})

export const versions = pgTable(
  'versions',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    assetId: uuid('asset_id')
      .notNull()
      .references(() => assets.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    sceneId: uuid('scene_id')
      .notNull()
      .references(() => scenes.id),
    note: text('note').notNull(),
    createdAt: time('created_at').notNull().defaultNow(),
  },
  (table) => [uniqueIndex('versions_number').on(table.assetId, table.number)],
)

/** A file as it came in or went out. */
export const files = pgTable('files', {
  id: uuid('id').primaryKey().defaultRandom(),
  name: text('name').notNull(),
  byteLength: bigint('byte_length', { mode: 'number' }).notNull(),
  hash: text('hash')
    .notNull()
    .references(() => blobs.hash),
  createdAt: time('created_at').notNull().defaultNow(),
})

export const trips = pgTable(
  'trips',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    assetId: uuid('asset_id')
      .notNull()
      .references(() => assets.id, { onDelete: 'cascade' }),
    number: integer('number').notNull(),
    destination: text('destination').notNull(),
    /** The destination as it was when the trip was sent; null: one that ships, from before this was kept. */
    destinationDocument: jsonb('destination_document'),
    versionId: uuid('version_id')
      .notNull()
      .references(() => versions.id),
    options: jsonb('options').notNull(),
    /** Space of the numbers in the file that was sent. */
    space: jsonb('space').notNull(),
    sentFileId: uuid('sent_file_id')
      .notNull()
      .references(() => files.id),
    contents: jsonb('contents').notNull(),
    forecast: jsonb('forecast').notNull(),
    state: text('state').notNull(),
    returnedFileId: uuid('returned_file_id').references(() => files.id),
    returnedSceneId: uuid('returned_scene_id').references(() => scenes.id),
    ledger: jsonb('ledger'),
    /** What a stand-in said of the file: lines. */
    log: jsonb('log').notNull().default([]),
    /** Ids of all files that came back, the model first. */
    returnedFileIds: jsonb('returned_file_ids').notNull().default([]),
    resultVersionId: uuid('result_version_id').references(() => versions.id),
    sentAt: time('sent_at').notNull().defaultNow(),
    returnedAt: time('returned_at'),
  },
  (table) => [uniqueIndex('trips_number').on(table.assetId, table.number)],
)

/** Arrays of places that a trip's ledgers name. */
export const tripBlobs = pgTable(
  'trip_blobs',
  {
    tripId: uuid('trip_id')
      .notNull()
      .references(() => trips.id, { onDelete: 'cascade' }),
    hash: text('hash')
      .notNull()
      .references(() => blobs.hash),
  },
  (table) => [primaryKey({ columns: [table.tripId, table.hash] }), index('trip_blobs_hash').on(table.hash)],
)

export const jobs = pgTable(
  'jobs',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    kind: text('kind').notNull(),
    title: text('title').notNull(),
    state: text('state').notNull(),
    progress: doublePrecision('progress').notNull().default(0),
    stage: text('stage').notNull().default(''),
    assetId: uuid('asset_id').references(() => assets.id, { onDelete: 'cascade' }),
    tripId: uuid('trip_id').references(() => trips.id, { onDelete: 'cascade' }),
    input: jsonb('input').notNull(),
    result: jsonb('result'),
    error: jsonb('error'),
    /** How often a worker took it up; a job whose worker died is taken up again. */
    attempts: integer('attempts').notNull().default(0),
    heartbeatAt: time('heartbeat_at'),
    createdAt: time('created_at').notNull().defaultNow(),
    startedAt: time('started_at'),
    finishedAt: time('finished_at'),
  },
  (table) => [index('jobs_state').on(table.state)],
)
