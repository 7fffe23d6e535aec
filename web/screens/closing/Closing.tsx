import { useState } from 'react';
import type { Bond, Model } from '../../../core/anatomy/index.ts';
import type { CornerStyle } from '../../../core/closing/index.ts';
import { newBonds, SECONDS, type Plan } from '../../../core/dive/index.ts';
import { BONDS, laidAs } from '../../../core/kinds/index.ts';
import { isOver, type RunState } from '../../../core/run/index.ts';
import { Loading, ProblemNote } from '../../controls/index.tsx';
import { useRunOf } from '../../state/run.ts';
import { Bead } from './Bead.tsx';
import { BOND_VIEWS, BondDrawing, type BondView } from './BondDrawing.tsx';
import { DayPanel } from './DayPanel.tsx';
import { Fit } from './Fit.tsx';
import { LeakTest } from './LeakTest.tsx';
import { OldPart } from './OldPart.tsx';
import { Press } from './Press.tsx';
import { Strips } from './Strips.tsx';
import type { BondClosing } from '../../workers/closing.worker.ts';
import { useClosing } from './useClosing.ts';
import { beginWait, Waits, type Offered } from './Waits.tsx';
import { tell } from '../../../words/index.ts';

const VIEW_WORDS: Record<BondView, string> = { strips: 'Strips', bead: 'Glue', press: 'Pressing' };

/** Bonds that this dive closes anew; of a dive that closes none, every bond of the device. */
function bondsOf(model: Model, plan: Plan): { bonds: Bond[]; own: boolean } {
  const own = newBonds(model, plan);
  // What seals a panel first, then what is taped, then the rest.
  const panel = (b: Bond) =>
    'perimeterOf' in b.at && ['display', 'cover'].includes(model.parts.get(b.at.perimeterOf)!.kind);
  const seals = (b: Bond) => (panel(b) ? 0 : 'perimeterOf' in b.at ? 1 : BONDS.of(b.kind).byHouse ? 2 : 3);
  const bonds = own.length > 0 ? own : model.anatomy.bonds;
  return { bonds: [...bonds].sort((a, b) => seals(a) - seals(b)), own: own.length > 0 };
}

/** How a device is closed for good: tape or glue, load and time, fit, tightness. */
export default function Closing() {
  const { job, context, state, record, refusal } = useRunOf('job', 'context', 'state', 'record', 'refusal');
  const [bondId, setBond] = useState<string | null>(null);
  const [view, setView] = useState<BondView | null>(null);
  const [corners, setCorners] = useState<CornerStyle>('turned');
  const model = context?.model;
  const plan = context?.plan;
  const { bonds, own } = model && plan ? bondsOf(model, plan) : { bonds: [], own: true };
  const bond = bonds.find((b) => b.id === bondId) ?? bonds[0] ?? null;
  const { of, problem } = useClosing(model!, bond?.id ?? null, plan!.rules, corners);
  if (!job || !model || !plan || !state) return null;
  if (!bond) return <p className="panel p-5 text-lg">This device has no bond: nothing is glued or taped.</p>;
  const { rules } = plan;
  const name = model.nameOf(bond.id);
  const glued = BONDS.of(laidAs(bond.kind, rules.seal)).takes === 'cure';
  const shown = view ?? (glued ? 'bead' : 'strips');
  const start =
    isOver(state) || !of
      ? null
      : () => {
          const kind = glued ? 'curing' : 'pressing';
          record([beginWait({ kind, what: name, item: bond.id, seconds: of.press.seconds })]);
        };
  return (
    <div className="grid gap-4">
      <div className="flex flex-wrap gap-2" role="group" aria-label="Bond">
        {bonds.map((b) => (
          <button
            key={b.id}
            type="button"
            aria-pressed={b === bond}
            onClick={() => setBond(b.id)}
            className={`min-h-12 rounded-lg border-2 px-4 ${b === bond ? 'border-mauve bg-panel font-semibold' : 'border-line'}`}
          >
            {upper(model.nameOf(b.id))}
          </button>
        ))}
        {!own && <span className="self-center text-quiet">This dive lays no new bond; here is how each would be.</span>}
      </div>
      {refusal && (
        <p role="alert" className="font-semibold text-crimson">
          {tell(context.model, refusal.said)}
        </p>
      )}
      {problem && <ProblemNote>{problem}</ProblemNote>}
      {!of && !problem && <Loading what="how it is closed" />}
      {of && (
        <div className="grid gap-4 lg:grid-cols-[minmax(0,26rem)_minmax(0,1fr)]">
          <div className="grid content-start gap-3 lg:sticky lg:top-4 lg:self-start">
            <div className="flex gap-1" role="group" aria-label="What is drawn">
              {BOND_VIEWS.map((v) => (
                <button
                  key={v}
                  type="button"
                  aria-pressed={v === shown}
                  onClick={() => setView(v)}
                  className={`min-h-12 flex-1 rounded-lg px-3 font-semibold ${v === shown ? 'bg-petrol text-on-petrol' : 'bg-panel'}`}
                >
                  {VIEW_WORDS[v]}
                </button>
              ))}
            </div>
            <BondDrawing
              model={model}
              bond={bond}
              closing={of}
              view={shown}
              label={`${name}: ${VIEW_WORDS[shown]}`}
              className="panel max-h-[56vh] w-full p-2"
            />
            {shown === 'strips' && of.strips && (
              <CornerChoice value={of.strips.corners} wanted={corners} choose={setCorners} />
            )}
            <p className="text-sm text-quiet">
              {shown === 'press' ? 'Rings: clips, with newtons. ' : shown === 'strips' ? 'Lines across: joints. ' : ''}
              Hatched: stays free. Dashed: the cell, under which nothing presses.
            </p>
          </div>
          <div className="grid content-start gap-4 xl:grid-cols-2">
            <div className="grid content-start gap-4">
              <Chosen view={shown} of={of} job={job.id} model={model} plan={plan} start={start} />
              {shown === 'strips' && <OldPart job={job.id} bond={bond.id} />}
            </div>
            <div className="grid content-start gap-4">
              <Waits state={state} offered={offers(state, bond, shown, of)} record={record} />
              {shown === 'strips' && <DayPanel />}
              {rules.closing.tester && shown === 'press' && (
                <LeakTest job={job.id} state={state} tester={rules.closing.tester} record={record} />
              )}
            </div>
            <div className="xl:col-span-2">
              <Fit state={state} panels={panelsOf(model, bonds)} record={record} />
            </div>
          </div>
        </div>
      )}
    </div>
  );
}

const CORNER_WORDS: Record<CornerStyle, string> = {
  turned: 'turned in one piece',
  mitred: 'mitred',
  butted: 'butted',
};

/** How strips meet at sharp corners; those of an outer panel are always turned. */
function CornerChoice({
  value,
  wanted,
  choose,
}: {
  value: CornerStyle;
  wanted: CornerStyle;
  choose: (style: CornerStyle) => void;
}) {
  return (
    <label className="flex flex-wrap items-center gap-x-3">
      <span className="text-quiet">Corners</span>
      <select className="field w-52" value={wanted} onChange={(e) => choose(e.target.value as CornerStyle)}>
        {Object.entries(CORNER_WORDS).map(([style, word]) => (
          <option key={style} value={style}>
            {word}
          </option>
        ))}
      </select>
      {value !== wanted && <span className="text-sm">they take the load here: turned</span>}
    </label>
  );
}

const upper = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

/** Panels that a bond runs round. */
const panelsOf = (model: Model, bonds: readonly Bond[]): string[] => [
  ...new Set(
    bonds.flatMap((b) => {
      const id =
        'perimeterOf' in b.at
          ? b.at.perimeterOf
          : b.joins.find((j) => ['display', 'cover'].includes(model.parts.get(j)!.kind));
      return id && !model.parts.get(id)!.fixed ? [id] : [];
    }),
  ),
];

/** What was chosen to be looked at: the strips, the bead, or the load. */
function Chosen({
  view,
  of,
  job,
  model,
  plan,
  start,
}: {
  view: BondView;
  of: BondClosing;
  job: string;
  model: Model;
  plan: Plan;
  start: (() => void) | null;
}) {
  const { room, closing } = plan.rules;
  switch (view) {
    case 'strips':
      return of.strips ? <Strips job={job} model={model} plan={of.strips} /> : <ProblemNote>{of.noStrips}</ProblemNote>;
    case 'bead':
      return (
        <Bead
          model={model}
          bead={of.bead}
          glue={closing.glue.name}
          room={`${room} °C and ${closing.humidity} % humidity`}
        />
      );
    case 'press':
      return <Press model={model} press={of.press} start={start} />;
    default:
      return view satisfies never;
  }
}

/** The waits that belong to what is looked at: each with its own time. */
function offers({ context }: RunState, bond: Bond, view: BondView, of: BondClosing): Offered[] {
  const { rules } = context.plan;
  const item = bond.id;
  const { skin, cure } = of.bead.setting;
  const first: Offered[] = [{ kind: 'drying', what: 'Alcohol dries', item, seconds: SECONDS.cleanDry }];
  const glue: Offered[] = [
    { kind: 'skinning', what: 'Glue skins', item, seconds: skin },
    { kind: 'curing', what: 'Glue cures', item, seconds: cure },
  ];
  return [
    ...first,
    ...(view === 'bead' ? glue : [{ kind: 'pressing' as const, what: 'Mesh strip', item, seconds: SECONDS.pressPad }]),
    { kind: 'threadlocker', what: 'Threadlocker', item: null, seconds: rules.closing.threadlock },
  ];
}
