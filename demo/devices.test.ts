import { describe, expect, it } from 'vitest';
import type { Model } from '../core/anatomy/index.ts';
import { planDive, reachOf } from '../core/dive/index.ts';
import { demoModel, DEVICES } from './models.ts';
import { JOBS, SHOP } from './shop.ts';

const models = new Map(DEVICES.map((id): [string, Model] => [id, demoModel(id)]));
const of = (id: string) => models.get(id)!;
const bonds = (m: Model, kind: string) => m.anatomy.bonds.filter((b) => b.kind === kind);
const count = (m: Model) => m.anatomy.fasteners.length;

describe('every made-up device', () => {
  it.each([...models])('%s: every part can be reached, replaced and refitted', (_, model) => {
    expect(reachOf(model)).toEqual({ faults: [], warnings: [] });
  });
  it.each([...models])('%s: each function has a test in words, and something that touches it', (_, model) => {
    const { functions, connectors, parts } = model.anatomy;
    const touched = new Set([
      ...connectors.flatMap((c) => c.carries),
      ...parts.flatMap((p) => [...p.functions, ...p.pairing.flatMap((x) => x.loses)]),
    ]);
    for (const f of functions) {
      expect(f.test.length, f.id).toBeGreaterThan(5);
      expect(touched.has(f.id), f.id).toBe(true);
    }
  });
  it.each([...models])('%s: screws are of a size that such devices have', (_, model) => {
    for (const f of model.anatomy.fasteners) {
      expect(f.length, f.id).toBeGreaterThanOrEqual(1);
      expect(f.length, f.id).toBeLessThanOrEqual(7);
      expect(f.thread, f.id).toBeGreaterThanOrEqual(1);
      expect(f.thread, f.id).toBeLessThanOrEqual(2);
    }
  });
  it('no two share their dimensions or their counts', () => {
    const facts = [...models.values()].map(
      (m) => `${m.anatomy.body.width}×${m.anatomy.body.height}×${m.anatomy.body.thickness}`,
    );
    expect(new Set(facts).size).toBe(models.size);
  });
});

describe('each device is of its own build', () => {
  it('the sealed phone: four drives, 35 fasteners and more, near-equal lengths, four stretch tabs, a cable under the board', () => {
    const m = of('velmora-quill-5');
    expect(count(m)).toBeGreaterThanOrEqual(35);
    expect(new Set(m.anatomy.fasteners.map((f) => f.drive)).size).toBeGreaterThanOrEqual(4);
    const lengths = [...new Set(m.anatomy.fasteners.map((f) => f.length!))].sort((a, b) => a - b);
    expect(lengths.filter((l, i) => i > 0 && l - lengths[i - 1]! <= 0.1 + 1e-9).length).toBeGreaterThan(8);
    expect(bonds(m, 'stretch-tab')[0]!.tabs).toHaveLength(4);
    expect(m.anatomy.connectors.some((c) => c.kind === 'coax' && c.reachedBy?.swing === 'board')).toBe(true);
  });
  it('the clip-back phone: a notch to begin at, a battery that isolates by its contacts, a lid over three connectors', () => {
    const m = of('tannbrook-field-3');
    expect(m.anatomy.latches.some((l) => l.notch !== null)).toBe(true);
    expect(m.anatomy.connectors.find((c) => c.isolatesPower)!.kind).toBe('contact');
    expect(m.anatomy.connectors.filter((c) => c.beneath.length > 0).length).toBeGreaterThanOrEqual(2);
  });
  it('the glass-backed phone: a tethered cover, three lengths in the mid-plate, a pull pouch, flexes under the battery, two cables', () => {
    const m = of('pellworth-nacre-2');
    expect(m.parts.get('back-cover')).toMatchObject({ glass: true, swing: { tether: ['finger-flex'] } });
    expect(
      new Set(m.anatomy.fasteners.filter((f) => f.holds.includes('mid-plate')).map((f) => f.length)).size,
    ).toBeGreaterThanOrEqual(3);
    expect(bonds(m, 'pull-pouch')).toHaveLength(1);
    expect(m.connectors.get('display-flex')!.under).toEqual(['battery']);
    expect(m.anatomy.connectors.filter((c) => c.kind === 'coax')).toHaveLength(2);
    expect([bonds(m, 'foil').length, bonds(m, 'thermal').length]).toEqual([1, 1]);
    expect(m.parts.get('camera-bezel')!.fate).toBe('renew');
  });
  it('the tablet: locked hinge screws that are renewed, a drive that isolates, 2 mm on three edges and 8 mm on the fourth', () => {
    const m = of('osterleigh-broadleaf-12');
    expect(
      m.anatomy.fasteners.filter((f) => f.holds.includes('kickstand')).every((f) => f.threadlock && f.fate === 'renew'),
    ).toBe(true);
    expect(m.anatomy.connectors.find((c) => c.isolatesPower)!.from).toBe('drive');
    expect(
      m.anatomy.bonds
        .filter((b) => b.joins.includes('display'))
        .map((b) => ('width' in b.at ? b.at.width : 0))
        .sort(),
    ).toEqual([2, 8]);
    expect(m.parts.get('battery')!.fate).toBe('renew');
    expect(m.anatomy.fasteners.filter((f) => f.holds.includes('buttons')).every((f) => f.kind === 'clip')).toBe(true);
    expect(m.anatomy.fasteners.filter((f) => f.holds.includes('thermal')).length).toBeGreaterThanOrEqual(8);
    expect(planDive(m, { replace: ['kickstand'] }, undefined, { budget: 0, heat: 'usual' }).renew).toEqual(
      expect.arrayContaining(['k1', 'k6']),
    );
  });
  it(
    'the rugged phone: a bond that wants heat and solvent, mixed ' +
      'drives, two cells in a carrier, soldered wires, plates on the sides',
    () => {
      const m = of('karnhold-mule-4');
      expect(m.bonds.get('display-glue')!.softensAt).toBeGreaterThan(80);
      expect(new Set(m.anatomy.fasteners.filter((f) => f.holds.includes('mid-plate')).map((f) => f.drive)).size).toBe(
        2,
      );
      expect(m.anatomy.battery.cells).toBe(2);
      expect(
        m.anatomy.connectors
          .filter((c) => c.kind === 'solder')
          .map((c) => c.from)
          .sort(),
      ).toEqual(['motor', 'speaker']);
      expect(m.anatomy.parts.filter((p) => p.face === 'edge' && p.kind === 'bracket')).toHaveLength(2);
      const plan = planDive(m, { replace: ['speaker'] }, undefined, { budget: 0, heat: 'usual' });
      expect(plan.steps.filter((s) => s.do === 'desolder' || s.do === 'solder').every((s) => !s.live)).toBe(true);
      expect(plan.steps.some((s) => s.do === 'cure')).toBe(true);
    },
  );
  it(
    'the keypad handset: covers in their order, numbered screws with ' +
      'torque, a single-use lid, a flex under its own board, a paired label',
    () => {
      const m = of('dunvey-pip-61');
      const { steps } = planDive(m, { replace: ['display'] }, undefined, { budget: 0, heat: 'usual' });
      const n = (item: string) => steps.find((s) => (s.do === 'lift' || s.do === 'swing') && s.items.includes(item))!.n;
      expect(
        [n('battery-cover'), n('aerial-cover'), n('bottom-cap'), n('rear-shell')].every(
          (v, i, all) => i === 0 || v > all[i - 1]!,
        ),
      ).toBe(true);
      expect(steps.find((s) => s.do === 'fasten' && s.items.includes('r1'))!.items).toEqual([
        'r1',
        'r2',
        'r3',
        'r4',
        'r5',
        'r6',
      ]);
      expect(m.fasteners.get('r1')!.torque).toBe(20);
      expect(m.parts.get('shield-lid')!.fate).toBe('renew');
      expect(m.connectors.get('display-flex')!.reachedBy).toEqual({ swing: 'board' });
      expect(
        planDive(m, { replace: ['board'] }, undefined, { budget: 0, heat: 'usual' }).losses.map((l) => l.function),
      ).toContain('identity');
    },
  );
});

describe('the made-up shop', () => {
  it('has jobs at every stage, and on most devices', () => {
    const worked = new Set(JOBS.map((j) => j.anatomy));
    expect([...worked].every((id) => models.has(id))).toBe(true);
    expect(worked.size).toBeGreaterThan(models.size / 2);
    expect(
      JOBS.some((j) => j.progress === 1) &&
        JOBS.some((j) => j.progress > 0 && j.progress < 1) &&
        JOBS.some((j) => j.triage.length > 0),
    ).toBe(true);
    expect(SHOP.technicians.length).toBeGreaterThan(1);
  });
});
