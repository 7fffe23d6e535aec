import { actionOf, type PlanOptions } from '../dive/index.ts';
import type { ActFile } from '../explore/index.ts';
import { askedOf, FREE, holdsQuestion, NEEDED, orderQuestion } from './answers.ts';
import { learn, type Learnt } from './learn.ts';
import { keyOfDone } from './order.ts';
import { leftOf, wayBackOf } from './wayBack.ts';

/** One thing to ask the technician, with what it would change. */
export interface Question {
  id: string;
  text: string;
  /** Things of the dive that it is about, for the drawing. */
  about: string[];
  options: { value: string; text: string; chance: number }[];
  /** Expected change of the way back, s. */
  change: number;
}

/** Chance that a screw held the part that is guessed. Origin: measured on simulated dives (docs/decisions/0017). */
const AS_GUESSED = 0.8;
/** Chance that an order that nothing speaks for need not be kept. Origin: own choice. */
const UNNEEDED = 0.7;
/** Questions that are weighed exactly; more are first told apart by how much of the order hangs on them. */
const WEIGHED = 12;

/** Planned without looking long for the best order: what is compared is what the answers allow. */
const QUICK: PlanOptions = { budget: 0, heat: 'usual' };

/** A screw that nobody saw let go of anything is asked about before all else: it is never driven into what it may not hold. */
const isOfHolder = ({ id }: Question): boolean => askedOf(id).kind === 'holds';

/**
 * The questions of the newest dive that are worth asking, what a screw held first and then the greatest expected change: for
 * every answer the way back is planned as if it had been given.
 */
export function questionsOf(files: readonly ActFile[], learnt: Learnt = learn(files), most = WEIGHED): Question[] {
  const open = candidates(files, learnt).slice(0, most);
  const now = seconds(learnt);
  if (now === null) return [];
  const weighed = open.map((question) => {
    const change = question.options.reduce((sum, { value, chance }) => {
      const then = seconds(learn(answered(files, question.id, value)));
      return sum + chance * (then === null ? 0 : Math.abs(now - then));
    }, 0);
    return { ...question, change };
  });
  return weighed
    .filter((q) => q.change >= 1)
    .sort((a, b) => Number(isOfHolder(b)) - Number(isOfHolder(a)) || b.change - a.change || (a.id < b.id ? -1 : 1));
}

/** The newest dive with one more answer. */
export function answered(files: readonly ActFile[], id: string, value: string): ActFile[] {
  const last = files.at(-1)!;
  return [...files.slice(0, -1), { ...last, answers: { ...last.answers, [id]: value } }];
}

/** How long the way back takes from where the dive stands; `null` where none can be planned. */
function seconds(learnt: Learnt): number | null {
  try {
    return leftOf(wayBackOf(learnt, {}, QUICK)).seconds;
  } catch {
    return null;
  }
}

/** Everything that could be asked, what most of the order hangs on first. */
function candidates(files: readonly ActFile[], learnt: Learnt): Question[] {
  const n = files.length - 1;
  const dive = learnt.told.dives[n]!;
  const handles = new Map([...dive.names].map(([handle, name]) => [name, handle]));
  const asked = new Set(Object.keys(files[n]!.answers));
  const said = (name: string) => handles.get(name) ?? name;
  const called = (name: string): string => {
    const part = learnt.anatomy.parts.find((p) => p.id === name);
    return (
      part?.name ?? learnt.anatomy.connectors.find((c) => c.id === name)?.name ?? `screw ${name.replace(/\D+/g, '')}`
    );
  };

  const groups = new Map<string, string[]>();
  for (const [screw, others] of learnt.relations.mayHold) {
    const held = learnt.relations.fasteners.get(screw)!.holds[0]!;
    const sure = learnt.evidence.some((e) => e.relation === 'holds' && e.of === screw && e.grade !== 'guessed');
    if (sure || others.length === 0 || !handles.has(screw) || !handles.has(held)) continue;
    const key = [held, ...others.filter((o) => handles.has(o))].join(' ');
    groups.set(key, [...(groups.get(key) ?? []), screw]);
  }
  const holds = [...groups].flatMap(([key, screws]): (Question & { weight: number })[] => {
    const parts = key.split(' ');
    const id = holdsQuestion(screws.map(said));
    if (asked.has(id) || parts.length < 2) return [];
    const names = parts.map(called);
    const count = screws.length === 1 ? `the screw ${screws[0]!.replace(/\D+/g, '')}` : `the ${screws.length} screws`;
    return [
      {
        id,
        text: `Did ${count} hold ${names.slice(0, -1).join(', ')} or ${names.at(-1)}?`,
        about: screws.map(said),
        options: parts.map((part, i) => ({
          value: said(part),
          text: called(part),
          chance: i === 0 ? AS_GUESSED : (1 - AS_GUESSED) / (parts.length - 1),
        })),
        change: 0,
        weight: screws.length * parts.length,
      },
    ];
  });

  const sequence = learnt.orders.sequence(n);
  const orders = dive.done.flatMap((then) => {
    const key = keyOfDone(then);
    return (sequence.needs.get(key) ?? []).flatMap((first): (Question & { weight: number })[] => {
      const before = actionOf(first);
      const kinds = `${before.kind} ${then.kind}`;
      if (!ASKED_OF.has(kinds)) return [];
      const sayKey = (k: string) => `${actionOf(k).kind}:${said(actionOf(k).item)}`;
      const id = orderQuestion(sayKey(first), sayKey(key));
      if (asked.has(id)) return [];
      const weight = dive.done.filter((d) => sequence.keeps(first, keyOfDone(d))).length;
      return [
        {
          id,
          text: `Could ${called(then.thing)} have been ${DONE[then.kind]} with ${called(before.item)} still ${STILL[before.kind]}?`,
          about: [said(before.item), said(then.thing)],
          options: [
            { value: FREE, text: 'Yes', chance: UNNEEDED },
            { value: NEEDED, text: 'No', chance: 1 - UNNEEDED },
          ],
          change: 0,
          weight,
        },
      ];
    });
  });
  return [...holds, ...orders]
    .sort((a, b) => b.weight - a.weight || (a.id < b.id ? -1 : 1))
    .map(({ weight: _, ...question }) => question);
}

/** Orders that a technician can judge from having had the thing in hand. */
const ASKED_OF: ReadonlySet<string> = new Set([
  'lift loosen',
  'lift open',
  'open loosen',
  'open open',
  'loosen lift',
  'open lift',
]);
const DONE = {
  loosen: 'taken out',
  open: 'opened',
  release: 'released',
  ease: 'eased open',
  swing: 'swung',
  lift: 'lifted off',
};
const STILL = { loosen: 'in', open: 'mated', release: 'holding', ease: 'shut', swing: 'shut', lift: 'in its place' };
