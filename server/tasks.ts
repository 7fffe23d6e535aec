import { modelOf, readAnatomy, readAnatomyText, type Anatomy, type Fault, type Point } from '../core/anatomy/index.ts';
import {
  cutDay,
  cutSheet,
  lineWithin,
  NoStock,
  NoStrips,
  runFrom,
  stripsOf,
  type ClosingBench,
} from '../core/closing/index.ts';
import {
  depthTable,
  newBonds,
  NoDive,
  stripNotes,
  planDive,
  reachOf,
  stripsUnder,
  type DiveRequest,
  type HouseRules,
  type Plan,
} from '../core/dive/index.ts';
import type { ActFile } from '../core/explore/index.ts';
import type { Job, ShopSettings } from '../core/jobs/index.ts';
import { BONDS } from '../core/kinds/index.ts';
import { learn, meet, targetsOf, turnedBack } from '../core/learn/index.ts';
import { NoCut, cutPlan, pickTemplate } from '../core/opening/index.ts';
import { pageSvg, sheetSvg, type Paper } from '../core/paper/index.ts';
import {
  foldRun,
  proposeReplan,
  replanFrom,
  runContext,
  withWells,
  type Replan,
  type ReplanRequest,
  type RunEvent,
  type TurnedRound,
} from '../core/run/index.ts';
import { screwMap } from '../core/screws/index.ts';
import type { ProblemBody } from './problem.ts';
import { recordPdf } from './record/pdf.ts';
import { labelPdf, type Label } from './record/label.ts';
import { sheetPdf } from './sheetPdf.ts';
import { BY_ID, tell as words, tellUnreached, type Names, whyNoCut } from '../words/index.ts';

/** A run as it goes over to a thread: what it is folded from. */
export interface Run {
  anatomy: Anatomy;
  plan: Plan | null;
  events: readonly RunEvent[];
}

/** A way back that is asked for: with a new part in the place of the old one, or with the old one. */
export interface TurnAsked {
  files: ActFile[];
  renew: boolean;
  rules: HouseRules;
  /** Well of every screw, by the name it has in the newest dive. */
  wells: Record<string, string>;
}

const stateOf = ({ anatomy, plan, events }: Run) => foldRun(runContext(modelOf(anatomy), plan), events);

/** A refusal on its way out of a thread. */
class Refused extends Error {
  constructor(
    readonly status: 404 | 422,
    readonly body: ProblemBody,
  ) {
    super(body.error);
  }
}

/** What threads of the pool can do. Everything that goes in and comes out is plain data. */
const TASKS = {
  plan: ({ anatomy, request, rules }: { anatomy: Anatomy; request: DiveRequest; rules: HouseRules }): Plan => {
    const model = modelOf(anatomy);
    return withWells(model, planDive(model, request, rules));
  },

  planOn: ({ run, request }: { run: Run; request: Partial<ReplanRequest> }): Replan => {
    const state = stateOf(run);
    const replan = replanFrom(state, { ...proposeReplan(state), ...request });
    const model = request.anatomy ? modelOf(request.anatomy) : state.context.model;
    return { ...replan, event: { ...replan.event, plan: withWells(model, replan.event.plan) } };
  },

  /** What dives into one model tell of it, and how that stands to what was known. */
  learn: ({ files, known }: { files: ActFile[]; known: Anatomy | null }) => {
    const learnt = learn(files);
    const met = known ? meet(known, learnt) : null;
    const setAside = learnt.told.dives.flatMap(({ n, setAside }) => setAside.map((s) => ({ dive: n + 1, ...s })));
    return {
      anatomy: met?.anatomy ?? learnt.anatomy,
      evidence: met?.evidence ?? learnt.evidence,
      contradictions: met?.contradictions ?? [],
      confirmed: met?.confirmed ?? [],
      setAside,
      dives: files.length,
    };
  },

  /** The way back of the newest dive. */
  turnRound: ({ files, renew, rules, wells }: TurnAsked): TurnedRound => {
    const learnt = learn(files);
    const dive = learnt.told.dives.at(-1)!;
    const { plan, anatomy } = turnedBack(learnt, { replace: renew ? targetsOf(dive) : [], rules });
    const told = Object.fromEntries(
      Object.entries(wells).map(([handle, well]) => [dive.names.get(handle) ?? handle, well]),
    );
    const kept = plan.steps.filter((s) => s.phase === 'prepare' || s.phase === 'descent').map((s) => s.id);
    const names = Object.fromEntries(dive.names);
    return { type: 'turned-round', plan: { ...plan, wells: told }, anatomy, kept, wells: told, names, because: '' };
  },

  depth: ({ anatomy }: { anatomy: Anatomy }) => depthTable(modelOf(anatomy)),

  /** An anatomy as it is sent, read and checked whole, with what cannot be planned of it yet. */
  checkAnatomy: ({ text }: { text: string }): { anatomy: Anatomy; warnings: Fault[] } => {
    const reading = readAnatomyText(text);
    if (!reading.ok) throw faulty('the anatomy', reading.faults);
    const { faults, warnings } = reachOf(modelOf(reading.value));
    if (faults.length > 0) {
      throw new Refused(422, {
        error: 'not every part can be reached and refitted; nothing was stored',
        faults: faults.map((u) => tellUnreached(u, false)),
      });
    }
    return { anatomy: reading.value, warnings: warnings.map((u) => tellUnreached(u, true)) };
  },

  /** An anatomy corrected for one device: it need not be possible to reach every part of a damaged one. */
  readEdited: ({ document }: { document: unknown }): Anatomy => {
    const reading = readAnatomy(document);
    if (!reading.ok) throw faulty('the edited anatomy', reading.faults);
    return reading.value;
  },

  recordPdf: async ({
    job,
    run,
    shop,
    photos,
  }: {
    job: Job;
    run: Run;
    shop: Pick<ShopSettings, 'name' | 'address' | 'paper' | 'warrantyMonths' | 'disposal'> & { demo: boolean };
    photos: [string, Uint8Array][];
  }) => {
    const state = stateOf(run);
    return recordPdf({ job, context: state.context, state, shop, photos: new Map(photos) });
  },

  screwMap: async ({
    anatomy,
    run,
    paper,
    as,
    page,
  }: {
    anatomy: Anatomy;
    run: Run | null;
    paper: Paper;
    as: 'pdf' | 'svg';
    page: number;
  }) => {
    const context = run ? stateOf(run).context : null;
    const sheet = screwMap(context?.model ?? modelOf(anatomy), paper, context?.wells);
    if (as === 'pdf') return sheetPdf(sheet);
    const wanted = sheet.pages[page - 1];
    if (!wanted) throw new Refused(404, { error: `the map has ${sheet.pages.length} pages` });
    return pageSvg(sheet, wanted);
  },

  /** The template of a bond's strips, or of what an outline taken from the old part says. */
  stripSheet: async ({
    run,
    bond,
    paper,
    as,
    outline,
  }: {
    run: Run;
    bond: string;
    paper: Paper;
    as: 'pdf' | 'svg';
    outline: Point[] | null;
  }) => {
    const { model, plan } = stateOf(run).context;
    const found = model.bonds.get(bond);
    if (!found) throw new Refused(404, { error: `this device has no bond "${bond}"` });
    const bench = plan.rules.closing;
    const inset = 'width' in found.at ? found.at.width / 2 : 1;
    const strips = stripsOf(model, found, {
      bench,
      ...(outline ? { run: runFrom(lineWithin({ polygon: outline }, inset), true, 2 * inset) } : {}),
    });
    const [first] = stripNotes(model, strips);
    const note = first && words(model, first);
    const sheet = cutSheet(model, strips, paper, outline ? { polygon: outline } : undefined, note);
    return as === 'pdf' ? sheetPdf(sheet) : sheetSvg(sheet);
  },

  /** What is cut for several jobs together: the new bonds of each that are laid with strips. */
  cutDay: ({ runs, bench }: { runs: { id: string; number: number; run: Run }[]; bench: ClosingBench }) => {
    const jobs = runs.flatMap(({ number, run }) => {
      const { context, device } = stateOf(run);
      const { model, plan } = context;
      return newBonds(model, plan)
        .filter((b) => BONDS.of(b.kind).byHouse && !bench.dieCut.includes(`${model.anatomy.id}/${b.id}`))
        .filter((b) => !plan.steps.some((s) => s.do === 'bond' && s.items.includes(b.id) && device.renewed.has(b.id)))
        .flatMap((b) => {
          const strips = stripsUnder(model, b, { ...plan.rules, closing: bench });
          return strips ? [{ job: number, plan: strips }] : [];
        });
    });
    return cutDay(jobs, bench);
  },

  label: (label: Label) => labelPdf(label),

  template: async ({
    anatomy,
    bond,
    marks,
    margin,
    paper,
    as,
  }: {
    anatomy: Anatomy;
    bond: string;
    marks: number;
    margin: number;
    paper: Paper;
    as: 'pdf' | 'svg';
  }) => {
    const model = modelOf(anatomy);
    const sheet = pickTemplate(model, cutPlan(model, bond, { marks, margin }), paper);
    return as === 'pdf' ? sheetPdf(sheet) : sheetSvg(sheet);
  },
};

const faulty = (what: string, faults: Fault[]): Refused =>
  new Refused(422, {
    error: `${what} has ${faults.length} ${faults.length === 1 ? 'fault' : 'faults'}; nothing was stored`,
    faults,
  });

export type Tasks = typeof TASKS;
export type TaskName = keyof Tasks;
export interface Task {
  name: TaskName;
  input: unknown;
}

/** Runs one task; what it refuses goes out as data, since an error loses its kind between threads. */
export async function work({ name, input }: Task): Promise<unknown> {
  try {
    const task = TASKS[name] as (given: unknown) => unknown;
    return { ok: await task(input) };
  } catch (error) {
    if (error instanceof Refused) return { problem: { status: error.status, body: error.body } };
    if (error instanceof NoDive) {
      const { path } = error;
      const message = words(namesIn(input), error.said);
      return { problem: { status: 422, body: { error: message, faults: [{ path, message }] } } };
    }
    if (error instanceof NoStrips || error instanceof NoStock)
      return { problem: { status: 422, body: { error: error.message } } };
    if (error instanceof NoCut)
      return { problem: { status: 422, body: { error: `${error.path}: ${whyNoCut(error)}` } } };
    throw error;
  }
}

/** What the items of a task are called, where it is about a device. */
function namesIn(input: unknown): Names {
  const { anatomy } = (typeof input === 'object' && input !== null ? input : {}) as { anatomy?: Anatomy };
  return anatomy?.parts ? modelOf(anatomy) : BY_ID;
}

export { keepRecipes } from './recipes.ts';
