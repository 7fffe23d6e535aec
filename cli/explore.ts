import { modelOf, parseJson, type Fault, type Model } from '../core/anatomy/index.ts';
import { planDive, type HouseRules, type Plan } from '../core/dive/index.ts';
import { actsOfPlan, readActs, type ActFile } from '../core/explore/index.ts';
import { learn, meet, questionsOf, wayBackOf, type Learnt } from '../core/learn/index.ts';
import { numberOf, Stop, USAGE, type Values } from './usage.ts';

/** How the command line reads its files. */
export interface Files {
  anatomy: (path: string) => Promise<Model>;
  rules: (path: string | undefined) => Promise<HouseRules>;
  text: (path: string) => Promise<string>;
}

/** `act`: the way in of a plan as a technician's acts. */
export async function act(values: Values, at: Files): Promise<string> {
  const path = values['from-plan'];
  if (!path || !values.replace) throw new Stop(2, `act needs --from-plan and --replace\n${USAGE}`);
  const model = await at.anatomy(path);
  const plan = planDive(model, { replace: values.replace.split(',') }, await at.rules(values.rules));
  const shuffle =
    values.shuffle === undefined ? undefined : Math.trunc(numberOf('shuffle', values.shuffle, 0, 0, 2 ** 31 - 1));
  const file = actsOfPlan(model, plan, { shuffle, seed: shuffle ?? 1 });
  if (values.json) return JSON.stringify(file, null, 2);
  return file.acts.map((a) => [a.act.padEnd(17), a.item ?? '', a.label ?? ''].join('  ').trimEnd()).join('\n');
}

async function actsAt(path: string, at: Files): Promise<ActFile> {
  const tell = (faults: readonly Fault[]) => faults.map((f) => `${path}: ${f.path}: ${f.message}`).join('\n');
  const parsed = parseJson(await at.text(path));
  if (!parsed.ok) throw new Stop(1, tell(parsed.faults));
  const reading = readActs(parsed.value);
  if (!reading.ok) throw new Stop(1, tell(reading.faults));
  return reading.value;
}

/** `learn`: the anatomy that dives tell, or the way back of the newest. */
export async function learnFrom(
  paths: readonly string[],
  values: Values,
  at: Files,
  planText: (model: Model, plan: Plan) => string,
): Promise<string> {
  if (values.ids !== undefined && values.ids !== 'labels' && values.ids !== 'own')
    throw new Stop(2, `--ids is own or labels, not ${values.ids}\n${USAGE}`);
  const files: ActFile[] = [];
  for (const path of paths) files.push(await actsAt(path, at));
  const learnt = learn(files, { ids: values.ids === 'labels' ? 'labels' : 'own' });
  const known = values.anatomy === undefined ? null : meet((await at.anatomy(values.anatomy)).anatomy, learnt);
  if (values['way-back']) {
    const plan = wayBackOf(learnt, { rules: await at.rules(values.rules) });
    return values.json ? JSON.stringify(plan, null, 2) : planText(modelOf(learnt.anatomy), plan);
  }
  const anatomy = known?.anatomy ?? learnt.anatomy;
  const evidence = known?.evidence ?? learnt.evidence;
  const setAside = learnt.told.dives.flatMap((d) => d.setAside.map((s) => ({ dive: d.n + 1, ...s })));
  const contradictions = known?.contradictions ?? [];
  // Questions are asked in the names of the dive.
  const questions = questionsOf(files, learnt);
  if (values.json) return JSON.stringify({ anatomy, evidence, questions, setAside, contradictions }, null, 2);
  return inWords(learnt, evidence.length, questions, setAside, contradictions);
}

function inWords(
  { anatomy, evidence }: Learnt,
  relations: number,
  questions: readonly { text: string; change: number }[],
  setAside: readonly { dive: number; act: string; words: string }[],
  contradictions: readonly { item: string; words: string }[],
): string {
  const graded = (grade: string) => evidence.filter((e) => e.grade === grade).length;
  const { parts, fasteners, connectors, bonds, latches } = anatomy;
  return [
    `${parts.filter((p) => !p.fixed).length} parts, ${fasteners.length} fasteners, ${connectors.length} connectors, ` +
      `${bonds.length} bonds, ${latches.length} latches; ${relations} relations: ${graded('seen')} seen, ` +
      `${graded('inferred')} inferred, ${graded('guessed')} guessed`,
    ...evidence.map((e) => `${e.grade.padEnd(8)}  ${e.of} ${e.relation} ${e.to}: ${e.why}`),
    ...setAside.map((s) => `set aside: dive ${s.dive}, ${s.act}: ${s.words}`),
    ...contradictions.map((c) => `against what was known: ${c.item}: ${c.words}`),
    ...questions.map((q) => `ask: ${q.text} (about ${Math.round(q.change)} s)`),
  ].join('\n');
}
