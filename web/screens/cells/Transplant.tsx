import { useState } from 'react';
import { provedWelds, TRANSPLANT_FIRST, transplantRefusals, type TransplantStep } from '../../../core/cells/index.ts';
import type { JobFile } from '../../../core/jobs/index.ts';
import { lastChange, transplantNow, type RunState } from '../../../core/run/index.ts';
import { readNumber } from '../../../core/units/index.ts';
import { Button, Check, ProblemNote } from '../../controls/index.tsx';
import { BareCell } from './BareCell.tsx';
import { api, messageOf } from '../../state/api.ts';
import { useRunOf } from '../../state/run.ts';
import { technicianNow } from '../../state/shop.ts';
import { Panel } from '../counter/Panel.tsx';
import { BY_ID, tell } from '../../../words/index.ts';

/** Moving a new cell to the old protection board: only where the house offers it, by named people, step by step. */
export function Transplant({ state, cell }: { state: RunState; cell: string }) {
  const { plan } = state.context;
  const rules = plan.rules.cells.transplant;
  if (rules === null && !plan.transplant?.includes(cell)) return null;
  const at = transplantNow(state);
  return (
    <Panel id="transplant" title="On the old protection board">
      {at === null ? <Offer state={state} cell={cell} /> : <Steps state={state} cell={cell} />}
    </Panel>
  );
}

/** The first page, and the way to plan it. */
function Offer({ state, cell }: { state: RunState; cell: string }) {
  const { job, adopt, events } = useRunOf('job', 'adopt', 'events');
  const [read, setRead] = useState(false);
  const [fits, setFits] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const { plan } = state.context;
  const refusals = transplantRefusals(plan.rules.cells.transplant, technicianNow());
  const choose = async () => {
    try {
      const { replace, spares, condition } = plan;
      adopt(
        await api<JobFile>(`/jobs/${job!.id}/plan`, {
          json: {
            replace,
            spares,
            transplant: [cell],
            crackedGlass: condition.crackedGlass,
            charge: condition.charge,
            dark: condition.dark,
            by: technicianNow() ?? undefined,
          },
          ifMatch: lastChange(events),
        }),
      );
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <>
      <ol className="grid gap-2 border-l-8 border-crimson pl-4 text-lg">
        {TRANSPLANT_FIRST.map((words) => (
          <li key={words}>{words}</li>
        ))}
      </ol>
      <p>The customer is told, and agrees to it: {tell(BY_ID, { code: 'cell-not-makers' })}</p>
      {refusals.map((r) => (
        <p key={r} className="font-semibold text-crimson">
          {r}
        </p>
      ))}
      {state.startedAt !== null && (
        <p className="text-quiet">The dive has begun; this is chosen on the plan before it.</p>
      )}
      {!plan.replace.includes(cell) && <p className="text-quiet">This dive does not replace the cell.</p>}
      <BareCell model={state.context.model} fits={setFits} />
      {problem && <ProblemNote>{problem}</ProblemNote>}
      <Check checked={read} onChange={(e) => setRead(e.target.checked)}>
        I have read this page, and local rules allow it here.
      </Check>
      <p>
        <Button
          weight="danger"
          disabled={!read || !fits || refusals.length > 0 || state.startedAt !== null || !plan.replace.includes(cell)}
          onClick={() => void choose()}
        >
          Plan it this way
        </Button>
      </p>
    </>
  );
}

/** One step at a time, with what must be seen before the next. */
function Steps({ state, cell }: { state: RunState; cell: string }) {
  const { record } = useRunOf('record');
  const rules = state.context.plan.rules.cells.transplant!;
  const at = transplantNow(state)!;
  if (at.state === 'done')
    return (
      <p className="text-lg font-semibold text-moss">✓ Every step is as it must be; the cell is on its old board.</p>
    );
  if (at.state === 'ended') return <Ended because={at.because} />;
  return (
    <OneStep
      key={at.next.id}
      step={at.next}
      done={at.done}
      all={at.all}
      welds={provedWelds(rules).map((w) => `${w.machine}: ${w.setting}`)}
      say={(value, good, note) =>
        void record([{ type: 'transplant-step', cell, stage: at.next.id, value, good, note }])
      }
    />
  );
}

/** Something was off: the cell goes into the sand, and a whole new battery is planned in its place. */
function Ended({ because }: { because: string }) {
  const { job, state, events, adopt } = useRunOf('job', 'state', 'events', 'adopt');
  const [problem, setProblem] = useState<string | null>(null);
  const whole = async () => {
    const by = technicianNow() ?? undefined;
    const { replace, spares, condition } = state!.context.plan;
    const { crackedGlass, charge, dark } = condition;
    const begun = state!.startedAt !== null;
    const json = begun
      ? { transplant: [], why: [{ code: 'cell-not-movable' }], keep: true, by }
      : { replace, spares, transplant: [], crackedGlass, charge, dark, by };
    try {
      await api(`/jobs/${job!.id}/${begun ? 'plan-on' : 'plan'}`, { json, ifMatch: lastChange(events) });
      adopt(await api<JobFile>(`/jobs/${job!.id}`));
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <div className="grid gap-2 border-l-8 border-crimson pl-4">
      <p className="text-xl font-semibold text-crimson">Ended: {because}</p>
      <p>The cell goes into the sand box now. Nothing of this is tried again.</p>
      {problem && <ProblemNote>{problem}</ProblemNote>}
      <p>
        <Button weight="main" onClick={() => void whole()}>
          Plan a whole new battery
        </Button>
      </p>
    </div>
  );
}

function OneStep({
  step,
  done,
  all,
  welds,
  say,
}: {
  step: TransplantStep;
  done: number;
  all: number;
  welds: string[];
  say: (value: number | null, good: boolean, note: string) => void;
}) {
  const { check } = step;
  const [text, setText] = useState('');
  const [weld, setWeld] = useState(welds[0] ?? '');
  const [off, setOff] = useState<string | null>(null);
  const value = check.kind === 'measure' ? readNumber(text) : null;
  const bounds =
    check.kind === 'measure'
      ? [
          check.least !== null && `at least ${round(check.least)}`,
          check.most !== null && `at most ${round(check.most)}`,
        ]
          .filter(Boolean)
          .join(', ')
      : '';
  return (
    <div className="grid gap-3">
      <p className="text-quiet">
        Step <span className="num">{done + 1}</span> of <span className="num">{all}</span>
      </p>
      <p className="text-2xl font-semibold">{step.do}</p>
      {check.kind === 'seen' && <p>Must be seen: {check.ask}.</p>}
      {check.kind === 'measure' && (
        <label className="w-60">
          <span className="label">
            {check.ask}, {check.unit} {bounds && `(${bounds})`}
          </span>
          <input className="field num" inputMode="decimal" value={text} onChange={(e) => setText(e.target.value)} />
        </label>
      )}
      {check.kind === 'weld' && (
        <label>
          <span className="label">{check.ask}</span>
          <select className="field" value={weld} onChange={(e) => setWeld(e.target.value)}>
            {welds.map((w) => (
              <option key={w}>{w}</option>
            ))}
          </select>
        </label>
      )}
      <p className="flex flex-wrap gap-2">
        <Button
          weight="main"
          disabled={check.kind === 'measure' && value === null}
          onClick={() => say(value, true, check.kind === 'weld' ? weld : '')}
        >
          As it must be
        </Button>
        <Button onClick={() => setOff('')}>Something is off</Button>
      </p>
      {off !== null && (
        <form
          className="flex flex-wrap gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            if (off.trim()) say(value, false, off.trim());
          }}
        >
          <input
            // biome-ignore lint/a11y/noAutofocus: the field was just asked for
            autoFocus
            className="field min-w-0 flex-1"
            aria-label="What is off"
            placeholder="What is off?"
            value={off}
            maxLength={300}
            onChange={(e) => setOff(e.target.value)}
          />
          <Button type="submit" weight="danger" disabled={!off.trim()}>
            End it here
          </Button>
        </form>
      )}
    </div>
  );
}

const round = (v: number): number => Math.round(v * 100) / 100;
