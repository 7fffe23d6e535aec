import { DEFAULT_SHOP, type ShopSettings } from '../core/jobs/index.ts';
import type { Db } from './db/db.ts';
import { settings } from './db/schema.ts';

/** What the shop says of itself, kept as one row. */
export class ShopBook {
  constructor(private readonly db: Db) {}

  private rows(): Map<string, unknown> {
    return new Map(
      this.db
        .select()
        .from(settings)
        .all()
        .map((row) => [row.key, row.value]),
    );
  }

  get(): ShopSettings & { setUp: boolean; revision: number } {
    const rows = this.rows();
    const kept = rows.get('shop') as Partial<ShopSettings> | undefined;
    // Before there was a screen for it, only the name was kept.
    const name = rows.get('shop-name') as string | undefined;
    return {
      ...DEFAULT_SHOP,
      ...(name === undefined ? {} : { name }),
      ...kept,
      setUp: kept !== undefined || name !== undefined,
      revision: (rows.get('shop-revision') as number | undefined) ?? 0,
    };
  }

  save(shop: ShopSettings): void {
    const revision = this.get().revision + 1;
    this.db.transaction(() => {
      this.put('shop', shop);
      this.put('shop-revision', revision);
    });
  }

  put(key: string, value: unknown): void {
    this.db.insert(settings).values({ key, value }).onConflictDoUpdate({ target: settings.key, set: { value } }).run();
  }

  value<T>(key: string): T | undefined {
    return this.rows().get(key) as T | undefined;
  }
}
