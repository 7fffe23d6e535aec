import { useEffect, useMemo, useRef, useState } from 'react';
import type { Anatomy } from '../../../core/anatomy/index.ts';
import { stepItemName, type Step } from '../../../core/dive/index.ts';
import { type ReplanReason, lastChange, proposeReplan, type Replan, type RunState } from '../../../core/run/index.ts';
import { equivalentsOf, type StockItem } from '../../../core/screws/index.ts';
import { minutes } from '../../../core/units/index.ts';
import { Button, Check, ProblemNote } from '../../controls/index.tsx';
import { api, ApiError, messageOf } from '../../state/api.ts';
import { technicianNow } from '../../state/shop.ts';
import { useRun } from '../../state/run.ts';
import { useLoad } from '../../state/useLoad.ts';
import { spoken, whyWords } from '../../../words/index.ts';

/** Most steps shown of what comes and what goes. */
const SHOWN = 12;

/** How long the choice has to rest before the plan is asked for, ms. Origin: own choice, longer than between two taps. */
const SETTLED_MS = 250;

/** Plans the rest of the run anew: what it would change is shown before it is taken. */
export function ReplanPanel({
  state,
  anatomy,
  close,
}: {
  state: RunState;
  /** The device as it really is, where that changes with the plan. */
  anatomy: Anatomy | null;
  close: () => void;
}) {
  const job = useRun((s) => s.job)!;
  const by = technicianNow() ?? undefined;
  const { model } = state.context;
  const proposal = useMemo(() => proposeReplan(state), [state]);
  const [replace, setReplace] = useState(proposal.replace);
  const missing = [...state.device.absent].filter((id) => model.fasteners.has(id));
  const [restored, setRestored] = useState<string[]>([]);
  const [found, setFound] = useState<Replan | null>(null);
  /** The change of plan or device that was the last when this was worked out. */
  const seen = useRef(0);
  const [problem, setProblem] = useState<ApiError | null>(null);
  const [busy, setBusy] = useState(false);

  /** The dive ends here: what was exchanged stays new, everything else goes back as it was. */
  const [turned, setTurned] = useState(false);
  const why: ReplanReason[] = turned ? [{ code: 'turned-round' }] : (proposal.why ?? []);
  const request = JSON.stringify({
    replace: turned ? replace.filter((id) => state.device.renewed.has(id)) : replace,
    restored,
    why,
    ...(turned ? { look: [] } : {}),
    ...(anatomy ? { anatomy } : {}),
    by,
  });

  useEffect(() => {
    const stop = new AbortController();
    const ask = () => {
      seen.current = lastChange(useRun.getState().events);
      const json = { ...JSON.parse(request), keep: false };
      api<Replan>(`/jobs/${job.id}/plan-on`, { json, signal: stop.signal }).then(
        (replan) => {
          setFound(replan);
          setProblem(null);
        },
        (error) => {
          if (!stop.signal.aborted) {
            setFound(null);
            setProblem(error instanceof ApiError ? error : new ApiError(0, { error: messageOf(error) }));
          }
        },
      );
    };
    // Parts are ticked one after another: the last tick asks, and takes back what was asked before.
    const timer = setTimeout(ask, SETTLED_MS);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [request, job.id]);
  const take = async () => {
    setBusy(true);
    try {
      await api(`/jobs/${job.id}/plan-on`, { json: { ...JSON.parse(request), keep: true }, ifMatch: seen.current });
      close();
    } catch (error) {
      setProblem(error instanceof ApiError ? error : new ApiError(0, { error: messageOf(error) }));
      setBusy(false);
    }
  };
  const renewed = state.deviations.flatMap((d) =>
    d.item !== null && (d.kind === 'stripped' || d.kind === 'missing') && model.fasteners.has(d.item) ? [d.item] : [],
  );
  const toggle = (list: string[], set: (next: string[]) => void, id: string) =>
    set(list.includes(id) ? list.filter((x) => x !== id) : [...list, id]);
  return (
    <div className="grid gap-4" data-testid="replan">
      <p className="text-lg">
        What was done stays done. The rest is planned from the device as it is now:{' '}
        {whyWords(model, { because: '', why })}.
      </p>
      <Check className="text-lg" checked={turned} onChange={() => setTurned(!turned)}>
        Turn round here: the old part goes back in
      </Check>
      <fieldset>
        <legend className="label">Replaced on this dive</legend>
        {proposal.replace.map((id) => (
          <Check
            key={id}
            className="text-lg"
            checked={replace.includes(id)}
            disabled={turned || state.context.plan.replace.includes(id)}
            onChange={() => toggle(replace, setReplace, id)}
          >
            {model.nameOf(id)}
          </Check>
        ))}
      </fieldset>
      {missing.length > 0 && (
        <fieldset>
          <legend className="label">
            Missing: tick those for which a new one is at hand; the others stay accounted for
          </legend>
          {missing.map((id) => (
            <Check
              key={id}
              className="text-lg"
              checked={restored.includes(id)}
              onChange={() => toggle(restored, setRestored, id)}
            >
              {model.nameOf(id)}
            </Check>
          ))}
        </fieldset>
      )}
      {[...new Set(renewed)].map((id) => (
        <Replacement key={id} fastener={id} state={state} />
      ))}
      {problem && <ProblemNote faults={problem.problem.faults}>{problem.message}</ProblemNote>}
      {found && (
        <>
          <p className="text-lg">
            <b className="num">{found.event.plan.steps.length - found.event.kept.length}</b> steps left,{' '}
            <b>{minutes(found.event.plan.totals.elapsed)}</b> in all instead of{' '}
            {minutes(state.context.plan.totals.elapsed)}.
          </p>
          <Changes title="Comes in" sign="+" steps={found.added} state={state} />
          <Changes title="Falls away" sign="−" steps={found.dropped} state={state} />
          <Button weight="main" className="min-h-16 text-xl" disabled={busy} onClick={() => void take()}>
            Go on with the new plan
          </Button>
        </>
      )}
    </div>
  );
}

function Changes({ title, sign, steps, state }: { title: string; sign: string; steps: Step[]; state: RunState }) {
  if (steps.length === 0) return null;
  const { model } = state.context;
  return (
    <div>
      <h3 className="font-semibold">{title}</h3>
      <ul className="grid">
        {steps.slice(0, SHOWN).map((s) => (
          <li key={s.n}>
            <span className="num" aria-hidden="true">
              {sign}{' '}
            </span>
            <b>{s.gate ? `Gate ${s.gate}` : spoken.verbs[s.do]}</b>{' '}
            {s.gate
              ? ''
              : s.items
                  .slice(0, 5)
                  .map((id) => (model.items.has(id) ? stepItemName(model, s, id) : id))
                  .join(', ')}
          </li>
        ))}
        {steps.length > SHOWN && <li className="text-quiet">and {steps.length - SHOWN} more</li>}
      </ul>
    </div>
  );
}

/** What the shop's stock has for a stripped or missing screw; taking one counts it down and is noted. */
function Replacement({ fastener, state }: { fastener: string; state: RunState }) {
  const { model } = state.context;
  const record = useRun((s) => s.record);
  const { data, reload } = useLoad<StockItem[]>('/screws/stock');
  const [problem, setProblem] = useState<string | null>(null);
  const [taken, setTaken] = useState<string | null>(null);
  const fits = useMemo(() => equivalentsOf(model, fastener, data ?? []), [model, fastener, data]);
  const use = async (item: StockItem) => {
    try {
      await api(`/screws/stock/${item.id}/use`, { method: 'POST' });
      record([
        {
          type: 'note',
          step: null,
          text: '',
          said: {
            code: 'from-stock',
            item: fastener,
            drive: item.drive,
            thread: item.thread,
            length: item.length,
          },
        },
      ]);
      setTaken(item.id);
      reload();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <fieldset data-testid="replacement">
      <legend className="label">A new screw for {model.nameOf(fastener)}</legend>
      {problem && <ProblemNote>{problem}</ProblemNote>}
      {taken ? (
        <p role="status" className="text-lg font-semibold text-moss">
          ✓ Taken from the stock, and noted.
        </p>
      ) : fits.length === 0 ? (
        <p className="text-lg">The stock has none that fits without harm: order one.</p>
      ) : (
        <ul className="grid gap-1">
          {fits.slice(0, 3).map(({ item, note }) => (
            <li key={item.id} className="flex flex-wrap items-center gap-3 text-lg">
              <Button onClick={() => void use(item)}>
                Take {item.drive} M{item.thread}×{item.length}
              </Button>
              <span>
                {note}; <span className="num">{item.count}</span> left
              </span>
            </li>
          ))}
        </ul>
      )}
    </fieldset>
  );
}
