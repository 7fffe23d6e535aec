import { type KeyboardEvent, useState } from 'react';
import { functionIn, type DeviceFunction } from '../../../core/anatomy/index.ts';
import {
  isOver,
  circumstanceNow,
  isProved,
  toProve,
  type Circumstance,
  type EventBody,
  type TestOutcome,
  type TestResult,
} from '../../../core/run/index.ts';
import { CIRCUMSTANCE_WORDS } from '../tellEvent.ts';
import { Button } from '../../controls/index.tsx';
import { useRunOf } from '../../state/run.ts';
import { Suspects } from './Suspects.tsx';
import { TestScript } from './TestScript.tsx';
import { tell } from '../../../words/index.ts';

const OUTCOME: Record<TestOutcome, { word: string; class: string }> = {
  pass: { word: '✓ passed', class: 'text-moss' },
  fail: { word: '✗ failed', class: 'text-crimson' },
  waived: { word: '○ waived', class: 'text-quiet' },
};

/** Every function the dive touched, with its test and what came of it. */
export default function Prove() {
  const { context, state, job, record, refusal } = useRunOf('context', 'state', 'job', 'record', 'refusal');
  const [script, setScript] = useState<DeviceFunction[] | null>(null);
  if (!context || !state || !job?.plan) return null;
  const { anatomy } = context.model;
  const functions = toProve(context, state).map((id) => functionIn(anatomy, id));
  const now = circumstanceNow(state);
  const left = functions.filter((f) => !isProved(context, state, f.id) && (now === 'closed' || !f.afterClosing));
  const canTest = !isOver(state) && state.startedAt !== null && now !== 'tried';
  const passed = functions.filter((f) => isProved(context, state, f.id)).length;
  return (
    <section aria-label="Tests" className="mx-auto grid max-w-5xl gap-3">
      <Suspects />
      <p className="text-lg">
        <span className="num font-semibold">{passed}</span> of{' '}
        <span className="num font-semibold">{functions.length}</span> functions are proved or waived: what the dive
        touched, and what worked before it.
      </p>
      {canTest && left.length > 0 && (
        <p>
          <Button weight="main" onClick={() => setScript(left)}>
            Go through {left.length} {left.length === 1 ? 'test' : 'tests'}
          </Button>
        </p>
      )}
      {script && (
        <TestScript
          model={context.model}
          state={state}
          functions={script}
          record={record}
          close={() => setScript(null)}
        />
      )}
      {refusal && (
        <p role="alert" className="mb-3 font-semibold text-crimson">
          {tell(context.model, refusal.said)}
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
            now={now}
            locked={isOver(state)}
            record={record}
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
