import Joi from 'joi';
import { DEFAULT_SHOP, type ShopSettings } from '../core/jobs/index.ts';
import type { Db } from './db/db.ts';
import { settings } from './db/schema.ts';
import { decimal } from './validate.ts';

const hour = Joi.string().pattern(/^([01]\d|2[0-3]):[0-5]\d$/);

export const shopSchema = Joi.object({
  name: Joi.string().trim().min(1).max(80).required(),
  address: Joi.string().trim().allow('').max(400).required(),
  hours: Joi.array()
    .length(7)
    .items(Joi.object({ from: hour.required(), to: hour.required() }).allow(null))
    .required(),
  paper: Joi.string().valid('A4', 'Letter').required(),
  backupFolder: Joi.string().trim().allow('').max(400).required(),
  backupsKept: Joi.number().integer().min(1).max(400).required(),
  till: Joi.object({
    currency: Joi.string()
      .valid(...Intl.supportedValuesOf('currency'))
      .required(),
    tax: decimal.required(),
    hourly: decimal.required(),
    markup: decimal.required(),
  }).default(DEFAULT_SHOP.till),
  warrantyMonths: Joi.number().integer().min(0).max(120).default(DEFAULT_SHOP.warrantyMonths),
  keptDays: Joi.number().integer().min(30).max(7300).default(DEFAULT_SHOP.keptDays),
  disposal: Joi.string().trim().allow('').max(400).default(DEFAULT_SHOP.disposal),
});

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
