import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { modelOf, readAnatomy, type Anatomy } from '../core/anatomy/index.ts';
import { consumablesOf, DEFAULT_RULES, planDive, checkPlan, BOND_KINDS } from '../core/dive/index.ts';
import { readActs } from '../core/explore/index.ts';
import { BONDS, type BondKind } from '../core/kinds/index.ts';
import { tinyBond, tinyDevice } from '../demo/tiny.ts';
import { fieldsOf } from '../web/screens/workshop/fields.ts';
import { tell } from '../words/index.ts';
import { nibrel } from './nibrel.ts';

const FELT = 'felt' as BondKind;
const soft = {
  ...BONDS.of('tape'),
  called: 'felt pad',
  byHouse: false,
  seals: false,
  takes: 'hand',
  lined: false,
  price: '0.70',
} as const;
const felt: Anatomy = tinyDevice((a) => {
  a.fasteners = a.fasteners.filter((f) => !f.holds.includes('cover'));
  a.bonds = [tinyBond('pad', FELT, ['cover', 'frame'], { softensAt: null, solvent: true })];
});

describe('a kind of bond that nobody has heard of', () => {
  it('is refused by reader and form', () => {
    expect(readAnatomy(structuredClone(felt))).toMatchObject({ faults: [{ path: 'bonds[0].kind' }] });
    expect(fieldsOf('bonds').find((f) => f.field === 'kind')).not.toMatchObject({ of: expect.arrayContaining([FELT]) });
  });

  describe('through the doors of its two tables', () => {
    const away: (() => void)[] = [];
    beforeAll(() => {
      away.push(BONDS.add(FELT, soft), BOND_KINDS.add(FELT, BOND_KINDS.of('thermal')));
    });
    afterAll(() => {
      for (const undo of away) undo();
    });

    it('is read, planned, judged, drawn, told, priced by, and taken by the command line', async () => {
      expect(readAnatomy(structuredClone(felt))).toMatchObject({ ok: true });
      expect(fieldsOf('bonds').find((f) => f.field === 'kind')).toMatchObject({ of: expect.arrayContaining([FELT]) });
      const model = modelOf(felt);
      const plan = planDive(model, { replace: ['battery'] }, DEFAULT_RULES, { heat: 'usual' });
      expect(plan.steps.map((s) => `${s.do} ${s.items.join(' ')}`)).toEqual(
        expect.arrayContaining(['solvent pad', 'cut pad', 'bond pad', 'press pad']),
      );
      expect(checkPlan(model, plan)).toBeNull();
      expect(consumablesOf(model, plan).map((c) => tell(model, c.what))).toEqual(['felt']);
      expect(model.nameOf('pad')).toBe('felt pad of cover');
      const seen = { act: 'bond-cut', item: 'pad', seen: { bond: FELT }, id: '1', at: '2026-01-05T09:00:00Z' };
      const device = { name: 'x', kind: 'phone', width: 70, height: 150, thickness: 8 };
      expect(readActs({ schema: 'nibrel.acts/1', device, acts: [seen] })).toMatchObject({ ok: true });
      const path = join(mkdtempSync(join(tmpdir(), 'nibrel-felt-')), 'felt.json');
      writeFileSync(path, JSON.stringify(felt));
      expect(await nibrel(['check', path])).toMatchObject({ code: 0 });
    });
  });

  it('is unknown again once it is taken away', () => {
    expect(readAnatomy(structuredClone(felt)).ok).toBe(false);
  });
});
