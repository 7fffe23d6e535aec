import { describe, expect, it } from 'vitest';
import { demoModel, DEVICES } from '../demo/models.ts';
import { isTried } from '../demo/thorough.ts';
import { planOf } from '../demo/fieldTrial.ts';
import { Rehearsal } from '../demo/rehearsal.ts';
import { blankAnatomy, modelOf } from '../core/anatomy/index.ts';
import { DEFAULT_RULES } from '../core/dive/index.ts';
import { actsOfPlan, chanceOf, openDevice, specOf, type Act, type ActFile } from '../core/explore/index.ts';
import { runContext, type TurnedRound } from '../core/run/index.ts';
import { work } from './tasks.ts';

/** Records the acts, turns round and follows the way back with one key, to the signature; `false` where there is no way back. */
async function turnedAndSigned(file: ActFile, renew: boolean): Promise<boolean> {
  const r = new Rehearsal('', runContext(modelOf(blankAnatomy(file.device)), null));
  for (const { act, item, note, seen } of file.acts) r.add({ type: 'act', act, item, note, seen });
  const wells = Object.fromEntries(openDevice(file.acts).wells);
  const input = { files: [file], renew, rules: DEFAULT_RULES, wells };
  const { ok } = (await work({ name: 'turnRound', input })) as { ok?: TurnedRound };
  if (!ok) return false;
  r.add(ok);
  for (const step of r.steps.filter((s) => !r.state.done.has(s.id))) r.do(step);
  const { device, out } = r.state;
  expect([out.size, device.open.size, device.removed.size, device.swung.size]).toEqual([0, 0, 0, 0]);
  expect(r.refusal({ type: 'signed-off', name: 'Ysolde' })).toBeNull();
  return true;
}

/** One act told wrongly: not at all, twice, some acts too late, or on the other side. */
const SLIPS: Record<string, (acts: Act[], a: number, far: number) => Act[]> = {
  'left out': (acts, a) => acts.toSpliced(a, 1),
  twice: (acts, a, far) => acts.toSpliced(a + far, 0, { ...acts[a]!, id: 'again' }),
  late: (acts, a, far) => acts.toSpliced(a, 1).toSpliced(a + far, 0, acts[a]!),
  'of the other side': (acts, a) => {
    const act = acts[a]!;
    return acts.with(a, { ...act, seen: { ...act.seen, face: act.seen.face === 'back' ? 'front' : 'back' } });
  },
};

describe('a field dive that is turned round is followed in the run to its signature', () => {
  it.each(DEVICES.filter((_, d) => isTried(d, 6)))(
    '%s, from any depth, the old part back or a new one',
    async (name) => {
      const model = demoModel(name);
      for (const [i, part] of model.anatomy.parts.filter((p) => !p.fixed).entries()) {
        const plan = planOf(model, part.id);
        if (!plan || i % 6 !== 0 || !isTried(i, 18)) continue;
        const file = actsOfPlan(model, plan, { shuffle: i, seed: i });
        const half = Math.ceil(file.acts.length * 0.6);
        expect(await turnedAndSigned(file, true), part.id).toBe(true);
        expect(await turnedAndSigned({ ...file, acts: file.acts.slice(0, half) }, false), part.id).toBe(true);
      }
    },
  );

  it.each(Object.entries(SLIPS))('with an act that was told %s', async (_, slip) => {
    const chance = chanceOf(11);
    let tried = 0;
    let refused = 0;
    for (const name of DEVICES.filter((_, d) => isTried(d, 6))) {
      const model = demoModel(name);
      const plan = ['display', 'board', 'cover-display'].map((part) => planOf(model, part)).find((p) => p !== null)!;
      const file = actsOfPlan(model, plan, { shuffle: 5, seed: 3 });
      const things = [...file.acts.keys()].filter((n) => specOf(file.acts[n]!.act).of !== null);
      for (let k = 0; k < 2; k++) {
        const acts = slip(file.acts, things[Math.floor(chance() * things.length)]!, 1 + Math.floor(chance() * 4));
        tried++;
        if (!(await turnedAndSigned({ ...file, acts }, false))) refused++;
      }
    }
    // Acts that contradict each other altogether are told so; they are taken back or corrected.
    expect(refused / tried).toBeLessThanOrEqual(0.1);
  });
});
