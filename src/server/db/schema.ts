import { sql } from 'drizzle-orm'
import {
  type AnyPgColumn,
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
import { storableText } from './storable-text.ts'

const bytea = customType<{ data: Buffer; driverData: Buffer }>({ dataType: () => 'bytea' })
/** Letters that can't be stored are shown as what they are: unknown. */
const jsonb = customType<{ data: unknown; driverData: string }>({
  dataType: () => 'jsonb',
  toDriver: (value) =>
    JSON.stringify(value, (_key, entry: unknown) =>
      typeof entry === 'string' ? storableText(entry, '\ufffd') : entry,
    ),
})
const time = (name: string) => timestamp(name, { withTimezone: true })

/** Content once each, by the SHA-256 of its bytes; the bytes lie in chunks. */
export const blobs = pgTable('blobs', {
  hash: text('hash').primaryKey(),
  byteLength: bigint('byte_length', { mode: 'number' }).notNull(),
  chunkCount: integer('chunk_count').notNull(),
  /**
   * How many scenes, trips and files name it, counted by triggers of these tables; what nobody names may be swept.
   * A count instead of a row a reference: a scene of two thousand parts names four thousand contents.
   */
  uses: integer('uses').notNull().default(0),
})

/** How the bytes of a chunk are packed (see content/packing.ts). */
export const PACKINGS = ['plain', 'deflate', 'zstd'] as const
export type Packing = (typeof PACKINGS)[number]

export const blobChunks = pgTable(
  'blob_chunks',
  {
    hash: text('hash')
      .notNull()
      .references(() => blobs.hash, { onDelete: 'cascade' }),
    place: integer('place').notNull(),
    packing: text('packing', { enum: PACKINGS }).notNull(),
    bytes: bytea('bytes').notNull(),
  },
  (table) => [primaryKey({ columns: [table.hash, table.place] })],
)

/** An inspection from before nodes had ids. */
export const withoutIds = (inspection: AnyPgColumn) =>
  sql`jsonb_array_length(${inspection} -> 'nodes') > 0 and not (${inspection} -> 'nodes' -> 0 ? 'id')`

/** A scene as a document whose arrays stand in its manifest (see content/manifest.ts). Immutable. */
export const scenes = pgTable(
  'scenes',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    document: jsonb('document').notNull(),
    /** The arrays by the places that the document uses. */
    manifest: bytea('manifest').notNull(),
    inspection: jsonb('inspection').notNull(),
    fingerprints: jsonb('fingerprints').notNull(),
    /** A small PNG for lists; null where there is nothing to be seen, and for scenes from before there were any. */
    picture: bytea('picture'),
    /** What lists show, so that no document is opened for them. */
    vertexCount: integer('vertex_count').notNull(),
    polygonCount: integer('polygon_count').notNull(),
    partCount: integer('part_count').notNull(),
    createdAt: time('created_at').notNull().defaultNow(),
  },
  // those that are still to be carried over, so that a start needs not open every document to find none
  (table) => [index('scenes_without_ids').on(table.id).where(withoutIds(table.inspection))],
)

export const assets = pgTable('assets', {
  id: uuid('id').primaryKey().defaultRandom(),
  name: text('name').notNull(),
  /** What the artist has noted of parts, by the id of their node: { role, label }. */
  partMarks: jsonb('part_marks').notNull().default({}),
  createdAt: time('created_at').notNull().defaultNow(),
})

/** Who may come in, where Kelbo is reached from elsewhere. */
export const accounts = pgTable(
  'accounts',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    name: text('name').notNull(),
    /** Argon2id with its salt and parameters, as its library writes it. */
    passwordHash: text('password_hash').notNull(),
    createdAt: time('created_at').notNull().defaultNow(),
  },
  (table) => [uniqueIndex('accounts_name').on(sql`lower(${table.name})`)],
)

/** Browsers that are signed in. Not part of a backup. */
export const sessions = pgTable(
  'sessions',
  {
    /** SHA-256 of what the browser's cookie holds: who reads the table can't sign in by it. */
    tokenHash: text('token_hash').primaryKey(),
    accountId: uuid('account_id')
      .notNull()
      .references(() => accounts.id, { onDelete: 'cascade' }),
    createdAt: time('created_at').notNull().defaultNow(),
    seenAt: time('seen_at').notNull().defaultNow(),
  },
  (table) => [index('sessions_account').on(table.accountId)],
)

/** Saved lists of steps, for any asset. */
export const recipes = pgTable('recipes', {
  id: uuid('id').primaryKey().defaultRandom(),
  name: text('name').notNull(),
  steps: jsonb('steps').notNull(),
  createdAt: time('created_at').notNull().defaultNow(),
  updatedAt: time('updated_at').notNull().defaultNow(),
})

/** Rules for a surface model under a name, for any asset and any destination. */
export const surfaceRules = pgTable('surface_rules', {
  id: uuid('id').primaryKey().defaultRandom(),
  name: text('name').notNull(),
  surface: text('surface').notNull(),
  rules: jsonb('rules').notNull(),
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
    /** The version that it was made from; null for the first, and for those from before this was noted. */
    basedOn: uuid('based_on').references((): AnyPgColumn => versions.id),
    /** Name of the account; null where nobody signs in. A name and not an id: it stays when the account goes. */
    madeBy: text('made_by'),
    createdAt: time('created_at').notNull().defaultNow(),
  },
  (table) => [
    uniqueIndex('versions_number').on(table.assetId, table.number),
    index('versions_scene').on(table.sceneId),
    index('versions_based_on').on(table.basedOn),
  ],
)

/** A file as it came in or went out. */
export const files = pgTable(
  'files',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    name: text('name').notNull(),
    byteLength: bigint('byte_length', { mode: 'number' }).notNull(),
    hash: text('hash')
      .notNull()
      .references(() => blobs.hash),
    createdAt: time('created_at').notNull().defaultNow(),
  },
  (table) => [index('files_hash').on(table.hash)],
)

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
    /** Parts that left, by the ids of their nodes; null: all. */
    selection: jsonb('selection'),
    /** Space of the numbers in the file that was sent. */
    space: jsonb('space').notNull(),
    sentFileId: uuid('sent_file_id')
      .notNull()
      .references(() => files.id),
    contents: jsonb('contents').notNull(),
    forecast: jsonb('forecast').notNull(),
    /** Arrays of places that the forecast names. */
    forecastManifest: bytea('forecast_manifest'),
    state: text('state').notNull(),
    /** What left, where a recipe made it another scene than the version's; null: the version's own. */
    sentSceneId: uuid('sent_scene_id').references(() => scenes.id),
    returnedSceneId: uuid('returned_scene_id').references(() => scenes.id),
    /** How the returned files were said to be meant, for reading them again. */
    returnOptions: jsonb('return_options').notNull().default({}),
    ledger: jsonb('ledger'),
    /** Arrays of places that the ledger names. */
    ledgerManifest: bytea('ledger_manifest'),
    /** Which element of the return is which of the version's; its arrays stand in its manifest. */
    matching: jsonb('matching'),
    matchingManifest: bytea('matching_manifest'),
    /** What a stand-in said of the file: lines. */
    log: jsonb('log').notNull().default([]),
    /** All files that came back, the model first; empty while nothing has. */
    returnedFileIds: uuid('returned_file_ids').array().notNull().default([]),
    resultVersionId: uuid('result_version_id').references(() => versions.id),
    /** Names of accounts, as in versions. */
    sentBy: text('sent_by'),
    returnedBy: text('returned_by'),
    sentAt: time('sent_at').notNull().defaultNow(),
    returnedAt: time('returned_at'),
    /** When its files were put into the hand-off folder; null: not yet, or there is none. */
    handedOffAt: time('handed_off_at'),
  },
  (table) => [
    uniqueIndex('trips_number').on(table.assetId, table.number),
    index('trips_version').on(table.versionId),
    index('trips_result_version').on(table.resultVersionId),
    index('trips_sent_scene').on(table.sentSceneId),
    index('trips_returned_scene').on(table.returnedSceneId),
    index('trips_sent_file').on(table.sentFileId),
    index('trips_returned_files').using('gin', table.returnedFileIds),
  ],
)

/** Files that landed in a hand-off folder, and what became of them. */
export const landings = pgTable(
  'landings',
  {
    id: uuid('id').primaryKey().defaultRandom(),
    /** Where it landed, below the hand-off folder. */
    place: text('place').notNull(),
    /** Folder of the destination that it landed in; empty: the one that all share. */
    folder: text('folder').notNull(),
    /** The files as they lay there, by path, size and time: what has been seen once is not looked at again. */
    entries: jsonb('entries').notNull(),
    /** Those that are kept here; empty where they could not be. */
    fileIds: uuid('file_ids').array().notNull().default([]),
    /** 'looking', 'asks', 'taken' or 'aside'. */
    state: text('state').notNull(),
    /** Why somebody is asked: code and parameters of a message. */
    why: jsonb('why'),
    /** Trips that it may be of, the likeliest first. */
    ranked: jsonb('ranked').notNull().default([]),
    /** What looks at it or takes it back; where that fails, somebody is asked. */
    jobId: uuid('job_id').references((): AnyPgColumn => jobs.id, { onDelete: 'set null' }),
    landedAt: time('landed_at').notNull().defaultNow(),
  },
  (table) => [
    index('landings_state').on(table.state),
    index('landings_job').on(table.jobId),
    index('landings_files').using('gin', table.fileIds),
  ],
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
    /** Name of the account that asked for it; what the job makes is made by it. */
    askedBy: text('asked_by'),
    /** Much to be worked on: it leaves one worker free for what is short. */
    long: boolean('long').notNull().default(false),
    result: jsonb('result'),
    error: jsonb('error'),
    /** How often a worker took it up; a job whose worker died is taken up again. */
    attempts: integer('attempts').notNull().default(0),
    heartbeatAt: time('heartbeat_at'),
    createdAt: time('created_at').notNull().defaultNow(),
    startedAt: time('started_at'),
    finishedAt: time('finished_at'),
  },
  (table) => [
    index('jobs_state').on(table.state, table.createdAt),
    index('jobs_created').on(table.createdAt),
    index('jobs_asset').on(table.assetId),
    index('jobs_trip').on(table.tripId),
  ],
)
