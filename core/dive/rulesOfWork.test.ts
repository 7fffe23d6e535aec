import { existsSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { tinyBond, tinyConnector, tinyDevice, tinyPart } from '../../demo/tiny.ts';
import { modelOf, type Anatomy } from '../anatomy/index.ts';
import { RULE_TABLES, WORK_RULES } from '../kinds/index.ts';
import { CRAFT_RULES } from '../judge/index.ts';
import { checkPlan, DEFAULT_RULES, planDive, type Plan, type Step } from './index.ts';

const dive = (change: (a: Anatomy) => void, ...replace: string[]) => {
  const model = modelOf(tinyDevice(change));
  const plan = planDive(model, { replace }, DEFAULT_RULES, { heat: 'usual' });
  return { model, plan, broken: checkPlan(model, plan) };
};
const isOf = (words: string) => (s: Step) => words === `${s.do} ${s.items.join(' ')}`;
/** The same plan with one step, said as `do items`, moved before another. */
function sooner(plan: Plan, words: string, before: string): Plan {
  const step = plan.steps.find(isOf(words));
  const rest = plan.steps.filter((s) => s !== step);
  const at = rest.findIndex(isOf(before));
  if (!step || at < 0) throw new Error(plan.steps.map((s) => `${s.do} ${s.items.join(' ')}`).join(' | '));
  return { ...plan, steps: rest.toSpliced(at, 0, step).map((s, i) => ({ ...s, n: i + 1 })) };
}

describe('every rule', () => {
  const text = (file: string) => readFileSync(fileURLToPath(new URL(`../../${file}`, import.meta.url)), 'utf8');
  const rules = RULE_TABLES.flatMap((table) => [...table.entries]);

  it.each(rules)('%s is kept where it says, by the judge and by a test of its name', (name, facts) => {
    expect(existsSync(fileURLToPath(new URL(`../../${facts.planned}`, import.meta.url))), facts.planned).toBe(true);
    const named = new RegExp(`\\b${name}\\b`);
    expect(text(facts.judged)).toMatch(named);
    expect(text(facts.tested)).toMatch(named);
  });
  it('of good work is asked of every step, but what is a law as well, and what is asked of a plan as a whole', () => {
    const asked = WORK_RULES.kinds.filter((name) => CRAFT_RULES[name] === undefined);
    expect(asked).toEqual(['R11', 'R15']);
  });
});

// What a technician does with each of these is common practice.
describe('a plan that is spoilt in one place is refused by the rule that it breaks', () => {
  it('R26: what lies on a bonded part is off before its bond is let go', () => {
    const { model, plan, broken } = dive((a) => {
      a.parts[2] = tinyPart('bracket', 1, [2, 60, 10, 8], { kind: 'bracket' });
      a.fasteners = a.fasteners.map((f) => (f.holds[0] === 'bracket' ? { ...f, at: [4, f.id === 'k1' ? 62 : 66] } : f));
      a.bonds = [
        tinyBond('cell-tabs', 'stretch-tab', ['battery', 'frame'], {
          at: { area: { rect: [4, 34, 10, 36] } },
          tabs: [[8, 32]],
        }),
      ];
    }, 'battery');
    expect(broken).toBeNull();
    expect(checkPlan(model, sooner(plan, 'pull cell-tabs', 'lift bracket'))).toMatchObject({ rule: 'R26' });
  });

  it('R27 and R28: a plug between board and cell is mated before the plug of the cell; a cell comes out dead', () => {
    const { model, plan, broken } = dive((a) => {
      a.connectors.push(
        tinyConnector('bridge', 'camera', 'board', [30, 8], { isolatesPower: true, carries: ['power'] }),
      );
    }, 'battery');
    expect(broken).toBeNull();
    expect(checkPlan(model, sooner(plan, 'connect battery-flex', 'connect bridge'))).toMatchObject({ rule: 'R27' });
    expect(checkPlan(model, sooner(plan, 'lift battery', 'disconnect bridge'))).toMatchObject({ rule: 'R28' });
  });

  it('R29: what an order keeps waiting is held by its screws before what waits for it is laid', () => {
    const { model, plan, broken } = dive((a) => {
      a.orders = [{ first: 'camera', then: 'bracket', because: 'it goes in beneath its lip' }];
    }, 'battery');
    expect(broken).toBeNull();
    expect(checkPlan(model, sooner(plan, 'fit camera', 'fasten k1 k2'))).toMatchObject({ rule: 'R29' });
  });
});
