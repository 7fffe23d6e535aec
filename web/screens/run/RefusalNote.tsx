import { OctagonX } from 'lucide-react';
import type { GateId } from '../../../core/dive/index.ts';
import { circumstanceNow, type Refusal } from '../../../core/run/index.ts';
import { Button } from '../../controls/index.tsx';
import { useRunOf } from '../../state/run.ts';
import type { PanelKind } from './Panels.tsx';
import { Retest } from './Retest.tsx';
import { SuspectsLink } from './SuspectsLink.tsx';
import { BY_ID, gateName, ruleText, spoken, tell } from '../../../words/index.ts';

const SHOWN = 6;

/** Why it may not be done now: the rule, each item that blocks it, where it is made good, and how it may be waived. */
export function RefusalNote({
  refusal,
  choose,
  dismiss,
  open,
}: {
  refusal: Refusal;
  choose: (step: string) => void;
  dismiss: () => void;
  open: (panel: PanelKind) => void;
}) {
  const { context, state } = useRunOf('context', 'state');
  // A function is tried where the device has power, open or closed; not beside an open battery plug.
  const testable = state !== null && ['open', 'closed'].includes(circumstanceNow(state));
  const gate = Object.hasOwn(spoken.gates, refusal.rule) ? (refusal.rule as GateId) : null;
  const names = context?.model ?? BY_ID;
  const law = !gate && Object.hasOwn(spoken.rules, refusal.rule);
  return (
    <section role="alert" data-testid="refusal" className="rounded-xl border-l-[14px] border-crimson bg-panel p-5">
      <p className="flex items-center gap-3 text-2xl font-bold text-crimson">
        <OctagonX aria-hidden="true" className="size-8 shrink-0" />
        {gate ? (
          <>
            Not yet: {gateName(gate).toLowerCase()} <span className="text-base font-normal">Gate {gate}</span>
          </>
        ) : refusal.rule === 'run' || refusal.rule === 'agreed' ? (
          'Not yet'
        ) : (
          `Not now: ${refusal.rule}`
        )}
      </p>
      {gate && <p className="mt-1 text-lg text-quiet">{ruleText(gate)}</p>}
      {refusal.blockers.length === 0 && (
        <p className="mt-1 text-xl">
          {tell(names, refusal.said)}
          {law && <span className="block text-lg text-quiet">{ruleText(refusal.rule)}</span>}
        </p>
      )}
      <ul className="mt-2 grid gap-1 text-xl">
        {refusal.blockers.slice(0, SHOWN).map((b, i) => (
          <li key={i} className="flex flex-wrap items-center gap-x-3" data-blocker={b.item}>
            <span>{tell(names, b.said)}</span>
            {b.step !== null && (
              <Button
                onClick={() => {
                  dismiss();
                  choose(b.step!);
                }}
              >
                Go to step {context?.steps.get(b.step)?.n}
              </Button>
            )}
            {b.waiver === 'deviation' && (
              <Button onClick={() => open({ kind: 'deviation', item: b.item })}>Account for it</Button>
            )}
            {b.waiver === 'test' && testable && <Retest of={b.item} />}
            {b.waiver === 'test' && (
              <Button onClick={() => open({ kind: 'test', outcome: 'waived', function: b.item })}>
                Waive the test
              </Button>
            )}
          </li>
        ))}
        {refusal.blockers.some((b) => b.waiver === 'test' && state?.tests.get(b.item)?.outcome === 'fail') && (
          <li>
            <SuspectsLink />
          </li>
        )}
        {refusal.blockers.length > SHOWN && <li className="text-quiet">and {refusal.blockers.length - SHOWN} more</li>}
      </ul>
      <Button weight="quiet" className="mt-1" onClick={dismiss}>
        Understood
      </Button>
    </section>
  );
}
