import type { Database } from 'better-sqlite3';
import type { BetterSQLite3Database } from 'drizzle-orm/better-sqlite3';
import type * as schema from './schema.ts';

/** The shop's database: by Drizzle, and as the driver itself where every microsecond counts. */
export type Db = BetterSQLite3Database<typeof schema> & { $client: Database };
