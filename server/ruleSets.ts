import { randomUUID } from 'node:crypto';
import { asc, eq } from 'drizzle-orm';
import { DEFAULT_RULES, readOldRules, type HouseRules } from '../core/dive/index.ts';
import type { RuleSet } from '../core/jobs/index.ts';
import type { Db } from './db/db.ts';
import { ruleSets } from './db/schema.ts';
import { notFound, Problem } from './problem.ts';

/** The shop's named sets of house rules. There is always one, and one is chosen. */
export class RuleSets {
  constructor(private readonly db: Db) {}

  all(): RuleSet[] {
    const rows = this.db.select().from(ruleSets).orderBy(asc(ruleSets.name)).all();
    if (rows.length > 0) return rows.map((row) => ({ ...row, rules: this.read(row.rules) }));
    const first = { id: randomUUID(), name: 'House rules', rules: DEFAULT_RULES, chosen: true, revision: 1 };
    this.db.insert(ruleSets).values(first).run();
    return [first];
  }

  /** What is stored may be older than a rule that was added since; it then takes its default. */
  private read(stored: unknown): HouseRules {
    return readOldRules(stored);
  }

  chosen(): RuleSet {
    const all = this.all();
    return all.find((set) => set.chosen) ?? all[0]!;
  }

  /** @throws Problem 404 */
  get(id: string): RuleSet {
    const found = this.all().find((set) => set.id === id);
    if (!found) throw notFound('the set of house rules');
    return found;
  }

  /** @throws Problem 422 when the name is taken */
  save({ id, name, rules }: Omit<RuleSet, 'chosen' | 'id' | 'revision'> & { id?: string | undefined }): RuleSet {
    const other = this.all().find((set) => set.name === name && set.id !== id);
    if (other) throw new Problem(422, { error: `there is a set "${name}" already; give this one another name` });
    if (id === undefined) {
      const made = { id: randomUUID(), name, rules, chosen: false, revision: 1 };
      this.db.insert(ruleSets).values(made).run();
      return made;
    }
    const revision = this.get(id).revision + 1;
    this.db.update(ruleSets).set({ name, rules, revision }).where(eq(ruleSets.id, id)).run();
    return this.get(id);
  }

  choose(id: string): void {
    this.get(id);
    this.db.transaction((tx) => {
      tx.update(ruleSets).set({ chosen: false }).run();
      tx.update(ruleSets).set({ chosen: true }).where(eq(ruleSets.id, id)).run();
    });
  }

  /** @throws Problem 409 for the chosen one */
  remove(id: string): void {
    if (this.get(id).chosen) throw new Problem(409, { error: 'this set is the one in use; choose another first' });
    this.db.delete(ruleSets).where(eq(ruleSets.id, id)).run();
  }
}
