import type { Model } from '../anatomy/index.ts';
import { newPartsOf, type Plan } from '../dive/index.ts';
import { BONDS, CONNECTORS } from '../kinds/index.ts';

export const MISHAPS = [
  'glass-breaks',
  'panel-cracks',
  'tab-snaps',
  'screw-strips',
  'flex-tears',
  'spare-bad',
] as const;
export type MishapKind = (typeof MISHAPS)[number];

/** Something that is known to go wrong on a dive, and what it then costs. */
export interface Mishap {
  kind: MishapKind;
  /** What it happens to; a group of screws is told by its first. */
  item: string;
  chance: number;
  /** s of work that it adds. */
  seconds: number;
  /** The part that has to be bought when it happens; `null` for none. */
  part: string | null;
  /** Where chance and time come from. */
  origin: string;
}

/** Chances for one item, and s of work. Origin as it stands with each; the shop's own cases count beside them. */
export const MISHAP_CHANCES = {
  glassCracked: {
    chance: 0.5,
    seconds: 900,
    origin: 'common practice: a back that was cracked breaks in every other attempt',
  },
  glass: { chance: 0.08, seconds: 900, origin: 'own estimate' },
  panelCracked: { chance: 0.2, seconds: 600, origin: 'own estimate' },
  panel: { chance: 0.03, seconds: 600, origin: 'own estimate' },
  tab: { chance: 0.3, seconds: 420, origin: 'common practice: tabs snap often; solvent 3 to 5 min, then slow lifting' },
  screw: { chance: 0.004, seconds: 300, origin: 'own estimate' },
  flex: { chance: 0.004, seconds: 300, origin: 'own estimate' },
  spare: { chance: 0.05, seconds: 900, origin: 'own estimate; spares of mixed sources' },
} as const;

/** What may go wrong on a dive, one entry for each thing. */
export function mishapsOf(model: Model, plan: Plan): Mishap[] {
  const mishaps: Mishap[] = [];
  const replaced = newPartsOf(model, plan);
  const down = plan.steps.filter((s) => s.phase === 'descent' || s.phase === 'prepare');
  const { crackedGlass } = plan.condition;

  const cut = new Set(down.filter((s) => s.do === 'cut' || s.do === 'gap').flatMap((s) => s.items));
  const pried = new Set(
    [...cut].flatMap((id) => model.bonds.get(id)?.joins ?? []).filter((id) => !model.parts.get(id)?.fixed),
  );
  for (const id of pried) {
    const part = model.parts.get(id)!;
    if (replaced.has(id)) continue;
    // A glued cover of the outside is of glass as often as not; what is told as plastic breaks all the same, rarely.
    if (part.kind === 'cover' && part.within === null)
      mishaps.push({
        kind: 'glass-breaks',
        item: id,
        part: id,
        ...MISHAP_CHANCES[crackedGlass ? 'glassCracked' : 'glass'],
      });
    if (part.kind === 'display')
      mishaps.push({
        kind: 'panel-cracks',
        item: id,
        part: id,
        ...MISHAP_CHANCES[crackedGlass ? 'panelCracked' : 'panel'],
      });
  }
  for (const step of down)
    for (const id of step.items) {
      const bond = model.bonds.get(id);
      if (step.do === 'pull' && bond && BONDS.of(bond.kind).tabs === 'strips')
        mishaps.push({ kind: 'tab-snaps', item: id, part: null, ...MISHAP_CHANCES.tab });
      const connector = model.connectors.get(id);
      if (
        step.do === 'disconnect' &&
        connector &&
        !CONNECTORS.of(connector.kind).byItself &&
        !replaced.has(connector.from)
      )
        mishaps.push({
          kind: 'flex-tears',
          item: id,
          part: model.parts.get(connector.from)?.fixed ? null : connector.from,
          ...MISHAP_CHANCES.flex,
        });
    }
  const screws = down.filter((s) => s.do === 'unscrew').flatMap((s) => s.items);
  if (screws.length > 0) {
    const { chance, ...rest } = MISHAP_CHANCES.screw;
    mishaps.push({
      kind: 'screw-strips',
      item: screws[0]!,
      part: null,
      chance: 1 - (1 - chance) ** screws.length,
      ...rest,
    });
  }
  for (const id of plan.replace) mishaps.push({ kind: 'spare-bad', item: id, part: null, ...MISHAP_CHANCES.spare });
  return mishaps;
}
