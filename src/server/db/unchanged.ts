import { and, eq, sql, type SQL } from 'drizzle-orm'
import type { AnyPgColumn } from 'drizzle-orm/pg-core'

/** True of a row that was not changed since `from`, which is told to the millisecond. */
export const unchangedSince = (
  table: { readonly id: AnyPgColumn; readonly updatedAt: AnyPgColumn },
  id: string,
  from: string,
): SQL | undefined =>
  and(eq(table.id, id), sql`date_trunc('milliseconds', ${table.updatedAt}) = ${from}::timestamptz`)
