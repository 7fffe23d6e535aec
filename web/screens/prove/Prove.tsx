import { type KeyboardEvent, useState } from 'react';
import type { DeviceFunction } from '../../../core/anatomy/index.ts';
import {
  circumstanceNow,
  isProved,
  type Circumstance,
  type EventBody,
  type TestOutcome,
  type TestResult,
} from '../../../core/run/index.ts';
import { CIRCUMSTANCE_WORDS } from '../tellEvent.ts';
import { Button } from '../../controls/index.tsx';
import { useRunOf } from '../../state/run.ts';

const OUTCOME: Record<TestOutcome, { word: string; class: string }> = {
  pass: { word: '✓ passed', class: 'text-moss' },
  fail: { word: '✗ failed', class: 'text-crimson' },
  waived: { word: '○ waived', class: 'text-quiet' },
};

/** Every function the dive touched, with its test and what came of it. */
export default function Prove() {
  const { context, state, job, record, refusal } = useRunOf('context', 'state', 'job', 'record', 'refusal');
  if (!context || !state || !job?.plan) return null;
  const { anatomy } = context.model;
  const functions = job.plan.touched.map((id) => anatomy.functions.find((f) => f.id === id)!);
  const passed = functions.filter((f) => isProved(context, state, f.id)).length;
  const suspects = (id: string) =>
    anatomy.connectors
      .filter((c) => c.carries.includes(id) && job.plan!.steps.some((s) => s.items.includes(c.id)))
      .map((c) => c.name);
  return (
    <section aria-label="Tests" className="mx-auto max-w-5xl">
      <p className="mb-3 text-lg">
        <span className="num font-semibold">{passed}</span> of{' '}
        <span className="num font-semibold">{functions.length}</span> touched functions are proved or waived.
      </p>
      {refusal && (
        <p role="alert" className="mb-3 font-semibold text-crimson">
          {refusal.message}
        </p>
      )}
      <ul className="grid gap-2">
        {functions.map((f) => (
          <TestLine
            key={f.id}
            of={f}
            result={state.tests.get(f.id) ?? null}
            before={state.before.get(f.id) ?? null}
            stale={
              state.tests.has(f.id) && state.tests.get(f.id)!.outcome !== 'fail' && !isProved(context, state, f.id)
            }
            now={circumstanceNow(state)}
            locked={state.signedOff !== null}
            record={record}
            suspects={suspects(f.id)}
          />
        ))}
      </ul>
    </section>
  );
}

function TestLine({
  of,
  result,
  before,
  stale,
  now,
  locked,
  record,
  suspects,
}: {
  of: DeviceFunction;
  result: TestResult | null;
  /** What it did at intake. */
  before: TestResult | null;
  /** Tried, but not as the device is now. */
  stale: boolean;
  now: Circumstance;
  locked: boolean;
  record: (bodies: EventBody[]) => boolean;
  suspects: string[];
}) {
  const [asking, setAsking] = useState<'fail' | 'waived' | null>(null);
  const [reason, setReason] = useState('');
  const say = (outcome: TestOutcome) => {
    if (
      record([
        { type: 'test', function: of.id, outcome, reason: outcome === 'pass' ? '' : reason.trim(), circumstance: now },
      ])
    ) {
      setAsking(null);
      setReason('');
    }
  };
  const keys = (e: KeyboardEvent) => {
    if (e.key === 'Enter' && asking && reason.trim()) say(asking);
    if (e.key === 'Escape') setAsking(null);
  };
  return (
    <li
      className={
        `${result?.outcome === 'fail' ? 'border-l-8 border-crimson' : ''} panel grid ` +
        `grid-cols-1 items-center gap-x-4 gap-y-2 px-5 py-3 sm:grid-cols-[minmax(0,1fr)_auto]`
      }
      data-function={of.id}
    >
      <div>
        <span className="text-lg font-semibold">{of.name}</span>
        {of.afterClosing && <span className="ml-2 text-sm text-quiet">once closed</span>}
        {result && (
          <span className={`ml-3 font-semibold ${stale ? 'text-ember' : OUTCOME[result.outcome].class}`}>
            {OUTCOME[result.outcome].word}, {CIRCUMSTANCE_WORDS[result.circumstance]}
            {stale && ' only: test it again as it is now'}
          </span>
        )}
        {before && <span className="ml-3 text-quiet">{OUTCOME[before.outcome].word} at intake</span>}
        <p className="text-quiet">{of.test}</p>
        {result?.reason && <p>{result.reason}</p>}
        {result?.outcome === 'fail' && suspects.length > 0 && (
          <p className="text-crimson">Look first at: {suspects.join(', ')} — opened on this dive.</p>
        )}
      </div>
      {!locked && (
        <div className="flex gap-1">
          <Button weight={result?.outcome === 'pass' ? 'quiet' : 'main'} onClick={() => say('pass')}>
            Pass
          </Button>
          <Button onClick={() => setAsking('fail')}>Fail</Button>
          <Button onClick={() => setAsking('waived')}>Waive</Button>
        </div>
      )}
      {asking && (
        <div className="flex flex-wrap gap-2 sm:col-span-2">
          <input
            // biome-ignore lint/a11y/noAutofocus: the field was just asked for
            autoFocus
            className="field flex-1"
            aria-label={asking === 'fail' ? 'What failed' : 'Reason for waiving'}
            placeholder={asking === 'fail' ? 'What failed?' : 'Why is it waived?'}
            value={reason}
            maxLength={500}
            onChange={(e) => setReason(e.target.value)}
            onKeyDown={keys}
          />
          <Button weight={asking === 'fail' ? 'danger' : 'main'} disabled={!reason.trim()} onClick={() => say(asking)}>
            {asking === 'fail' ? 'Record failure' : 'Record waiver'}
          </Button>
        </div>
      )}
    </li>
  );
}
