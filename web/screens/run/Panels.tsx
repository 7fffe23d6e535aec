import { X } from 'lucide-react';
import { type FormEvent, useLayoutEffect, useRef, useState } from 'react';
import { functionIn, type Anatomy, type Model } from '../../../core/anatomy/index.ts';
import { stepItemName, type Step } from '../../../core/dive/index.ts';
import {
  circumstanceNow,
  DEVIATION_FACTS,
  DEVIATIONS,
  isCooling,
  itemsLeft,
  itemWise,
  timerId,
  timerLeft,
  type DeviationKind,
  type EventBody,
  type RunState,
} from '../../../core/run/index.ts';
import { readNumber } from '../../../core/units/index.ts';
import { Button } from '../../controls/index.tsx';
import { ApiError, messageOf, storePhoto } from '../../state/api.ts';
import { serverNow } from '../../state/clock.ts';
import { NOT_SENT_YET } from '../../state/outbox.ts';
import { smaller } from '../../state/smaller.ts';
import { ACTION_WORDS, ACTIONS, keyWord, usePrefs, type Action } from '../../state/prefs.ts';
import { EditPanel } from './EditPanel.tsx';
import { ReplanPanel } from './ReplanPanel.tsx';
import { TryPanel } from './TryPanel.tsx';
import { spoken } from '../../../words/index.ts';

export type PanelKind =
  | { kind: 'deviation'; item: string | null }
  | { kind: 'edit'; item: string; length: number | null }
  | { kind: 'replan'; anatomy?: Anatomy | null }
  | { kind: 'photo' | 'note' | 'timer' | 'all-passed' | 'try' | 'help' }
  | { kind: 'test'; outcome: 'fail' | 'waived'; function?: string };

interface PanelProps {
  panel: PanelKind;
  step: Step;
  model: Model;
  state: RunState;
  nextItem: string | null;
  send: (bodies: EventBody[], blob?: Blob) => boolean;
  passAll: () => void;
  close: () => void;
  open: (panel: PanelKind) => void;
}

const TITLES: Record<PanelKind['kind'], string> = {
  deviation: 'What is different?',
  edit: 'As it is on this device',
  'all-passed': 'All passed?',
  photo: 'Photograph',
  note: 'Note',
  timer: 'End the wait',
  replan: 'Plan the rest anew',
  try: 'Try it now',
  help: 'Keys',
  test: 'Test',
};

/** Lies beside the step, not over it: nothing here has to be answered before the work goes on. */
export function Panel(props: PanelProps) {
  const { panel, close } = props;
  return (
    <section
      data-panel={panel.kind}
      aria-label={TITLES[panel.kind]}
      className="run-panel overflow-auto rounded-xl bg-panel p-5"
      onKeyDown={(e) => {
        if (e.key === 'Escape') {
          e.stopPropagation();
          close();
        }
      }}
    >
      <div className="mb-3 flex items-center justify-between">
        <h2 className="text-2xl font-bold">
          {panel.kind === 'test'
            ? panel.outcome === 'fail'
              ? 'What failed?'
              : 'Why is it waived?'
            : TITLES[panel.kind]}
        </h2>
        <Button weight="quiet" aria-label="Close" onClick={close}>
          <X />
        </Button>
      </div>
      {panel.kind === 'deviation' && <Deviation {...props} preset={panel.item} />}
      {panel.kind === 'edit' && (
        <EditPanel
          key={panel.item}
          item={panel.item}
          length={panel.length}
          state={props.state}
          done={(next) => (next ? props.open({ kind: 'replan', anatomy: next.anatomy }) : close())}
        />
      )}
      {panel.kind === 'all-passed' && <AllPassed {...props} />}
      {panel.kind === 'photo' && <Photo {...props} />}
      {panel.kind === 'note' && (
        <TextForm
          label={`Note to step ${props.step.n}`}
          button="Keep the note"
          onText={(text) => props.send([{ type: 'note', step: props.step.id, text }])}
        />
      )}
      {panel.kind === 'timer' && <EndWait {...props} />}
      {panel.kind === 'test' && <TestReason {...props} outcome={panel.outcome} of={panel.function ?? props.nextItem} />}
      {panel.kind === 'replan' && <ReplanPanel state={props.state} anatomy={panel.anatomy ?? null} close={close} />}
      {panel.kind === 'try' && <TryPanel state={props.state} send={props.send} />}
      {panel.kind === 'help' && <Keys />}
    </section>
  );
}

function TextForm({
  label,
  button,
  danger,
  blocked,
  onText,
}: {
  label: string;
  button: string;
  danger?: boolean;
  /** Why it cannot be kept yet, in words. */
  blocked?: string | null;
  onText: (text: string) => void;
}) {
  const [text, setText] = useState('');
  const field = useRef<HTMLTextAreaElement>(null);
  // Before the next key is taken: it belongs to the field.
  useLayoutEffect(() => field.current?.focus(), []);
  const submit = (e?: FormEvent) => {
    e?.preventDefault();
    if (!blocked && text.trim()) onText(text.trim());
  };
  return (
    <form onSubmit={submit} className="grid gap-3">
      <label>
        <span className="label">{label}</span>
        <textarea
          ref={field}
          className="field text-lg"
          rows={4}
          value={text}
          maxLength={2000}
          onChange={(e) => setText(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === 'Enter' && !e.shiftKey) {
              e.preventDefault();
              submit();
            }
          }}
        />
      </label>
      <Button
        type="submit"
        weight={danger ? 'danger' : 'main'}
        className="text-lg"
        disabled={Boolean(blocked) || !text.trim()}
      >
        {button}
      </Button>
      {(blocked || !text.trim()) && <p className="text-quiet">{blocked ?? 'A few words first.'}</p>}
    </form>
  );
}

/** Deviations after which the plan no longer fits the device. */
const ASKS_FOR_A_PLAN: ReadonlySet<DeviationKind> = new Set(['torn', 'broken', 'stripped', 'missing', 'snapped']);

const option = (selected: boolean) =>
  `min-h-12 cursor-pointer rounded-lg border-2 px-4 py-2 text-left text-lg has-focus-visible:outline-3 ` +
  `has-focus-visible:outline-petrol ${selected ? 'border-petrol bg-sunk font-semibold' : 'border-line'}`;

/** What can be said of an item, or of the device as a whole; the heat is told by its thermometers. */
function kindsOf(model: Model, item: string | null): DeviationKind[] {
  const type = item === null ? null : model.items.get(item)!.type;
  return DEVIATIONS.filter(
    (kind) =>
      kind !== 'overheated' &&
      (type === null ? DEVIATION_FACTS.of(kind).device : DEVIATION_FACTS.of(kind).of.includes(type)),
  );
}

function Deviation({ model, step, nextItem, send, preset, open }: PanelProps & { preset: string | null }) {
  const items = [...new Set([...(preset ? [preset] : []), ...step.items.filter((id) => model.items.has(id))])];
  const [item, setItem] = useState<string | null>(
    preset ?? (nextItem && model.items.has(nextItem) ? nextItem : (items[0] ?? null)),
  );
  const kinds = kindsOf(model, item);
  const [kind, setKind] = useState<DeviationKind>(preset && model.fasteners.has(preset) ? 'missing' : kinds[0]!);
  const [length, setLength] = useState('');
  const choice = kinds.includes(kind) ? kind : kinds[0]!;
  const found = readNumber(length);
  const lacksLength = choice === 'other-length' && !(found !== null && found > 0 && found <= 60);
  const record = (note: string) => {
    const value = choice === 'other-length' ? found : null;
    if (!send([{ type: 'deviation', item, kind: choice, note, value }]) || item === null) return;
    if (EDITED.has(choice)) open({ kind: 'edit', item, length: value });
    else if (ASKS_FOR_A_PLAN.has(choice)) open({ kind: 'replan' });
  };
  return (
    <div className="grid gap-4">
      <fieldset className="grid gap-2">
        <legend className="label">Of what</legend>
        {items.map((id) => (
          <label key={id} className={option(item === id)}>
            <input type="radio" name="deviant" className="sr-only" checked={item === id} onChange={() => setItem(id)} />
            {stepItemName(model, { do: 'lift', gate: null }, id)}
          </label>
        ))}
        <label className={option(item === null)}>
          <input
            type="radio"
            name="deviant"
            className="sr-only"
            checked={item === null}
            onChange={() => setItem(null)}
          />
          Something else
        </label>
      </fieldset>
      <fieldset className="grid grid-cols-2 gap-2">
        <legend className="label">How</legend>
        {kinds.map((k) => (
          <label key={k} className={option(choice === k)}>
            <input type="radio" name="kind" className="sr-only" checked={choice === k} onChange={() => setKind(k)} />
            {spoken.deviations[k]}
          </label>
        ))}
      </fieldset>
      {choice === 'other-length' && (
        <label>
          <span className="label">Length by caliper, mm</span>
          <input
            className="field text-lg"
            inputMode="decimal"
            value={length}
            aria-invalid={length !== '' && lacksLength}
            onChange={(e) => setLength(e.target.value)}
          />
          {length !== '' && lacksLength && <span className="text-crimson">A number of mm, up to 60: 2.4 or 2,4.</span>}
        </label>
      )}
      <TextForm
        label="What happened, what was done about it"
        button="Record it"
        blocked={lacksLength ? 'The length is asked for first.' : null}
        onText={record}
      />
    </div>
  );
}

/** Kinds that say how the item really is: it is corrected for this device. */
const EDITED: ReadonlySet<DeviationKind> = new Set(['not-as-drawn', 'other-length', 'other-screw']);

/** Longest edge of a picture that waits on this device to be sent, px; the server keeps no more. */
const WAITS_AT_PX = 2400;

function Photo({ step, send }: PanelProps) {
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  useLayoutEffect(() => input.current?.focus(), []);
  const take = async (file: File | undefined) => {
    if (!file) return;
    setBusy(true);
    setProblem(null);
    try {
      send([{ type: 'photo', photo: await storePhoto(file), step: step.id, note: '' }]);
    } catch (error) {
      // Without the server the picture is kept here, and sent before the event that names it.
      if (error instanceof ApiError && (error.status === 0 || error.status === 401 || error.status === 507)) {
        const blob = await smaller(file, WAITS_AT_PX).catch(() => file);
        send([{ type: 'photo', photo: NOT_SENT_YET, step: step.id, note: '' }], blob);
      } else setProblem(messageOf(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <div className="grid gap-3">
      <label
        className={
          'grid min-h-32 cursor-pointer place-items-center rounded-xl border-2 border-dashed border-line ' +
          'text-xl font-semibold has-focus-visible:outline-3 has-focus-visible:outline-petrol'
        }
      >
        {busy ? 'Storing…' : `Take or choose a picture of step ${step.n}`}
        <input
          ref={input}
          type="file"
          accept="image/*"
          capture="environment"
          className="sr-only"
          disabled={busy}
          onChange={(e) => void take(e.target.files?.[0])}
        />
      </label>
      {problem && (
        <p role="alert" className="font-semibold text-crimson">
          {problem}
        </p>
      )}
    </div>
  );
}

function EndWait({ step, state, send }: PanelProps) {
  const running = (id: string | undefined) => {
    const t = id === undefined ? undefined : state.timers.get(id);
    return t && timerLeft(t, serverNow()) > 0 ? t : undefined;
  };
  const { plan, steps } = state.context;
  const timers = [...state.timers.values()];
  const timer =
    timers.find((t) => isCooling(t) && running(t.id)) ??
    step.waitsFor.map((n) => running(plan.steps[n - 1]?.id)).find((t) => t !== undefined) ??
    running(timerId(step)) ??
    timers.findLast((t) => running(t.id));
  if (!timer) return <p className="text-lg">No wait is running.</p>;
  const of = steps.get(timer.step);
  const cooling = isCooling(timer);
  const measured = cooling || of?.do === 'heat';
  const end = (how: 'thermometer' | 'judged', reason: string) =>
    send([{ type: 'timer-ended', timer: timer.id, how, reason }]);
  return (
    <div className="grid gap-4">
      {measured && (
        <Button
          className="min-h-14 text-lg"
          onClick={() => end('thermometer', cooling ? 'below 40 °C by thermometer' : 'soft by thermometer')}
        >
          {cooling ? 'A thermometer says below 40 °C' : 'A thermometer says it is soft'}
        </Button>
      )}
      <TextForm
        label={`Why the ${cooling ? 'cooling' : 'wait'} of step ${of?.n ?? ''} ends now, in words`}
        button="End the wait"
        onText={(reason) => end('judged', reason)}
      />
    </div>
  );
}

/** All functions of a step at once: a deliberate act, with the list read first. */
function AllPassed({ model, step, state, passAll, close }: PanelProps) {
  const left = itemsLeft(state, step);
  return (
    <div className="grid gap-4">
      <p className="text-lg">Each of these was tried, and works:</p>
      <ul className="grid gap-2">
        {left.map((id) => {
          const f = functionIn(model.anatomy, id);
          return (
            <li key={id} className="rounded-lg bg-sunk px-4 py-2">
              <b className="text-lg">{f.name}</b> <span className="text-quiet">{f.test}</span>
            </li>
          );
        })}
      </ul>
      <div className="flex flex-wrap gap-3">
        <Button weight="main" className="min-h-14 text-lg" onClick={passAll}>
          All {left.length} passed
        </Button>
        <Button className="min-h-14 text-lg" onClick={close}>
          One by one
        </Button>
      </div>
    </div>
  );
}

function TestReason({
  model,
  step,
  state,
  send,
  outcome,
  of,
}: PanelProps & { outcome: 'fail' | 'waived'; of: string | null }) {
  const fn = of === null ? null : functionIn(model.anatomy, of);
  if (!fn) return <p className="text-lg">Every function of this step is tested.</p>;
  const record = (reason: string) => {
    const last =
      itemWise(step) === 'test' &&
      itemsLeft(state, step).every((f) => f === fn.id) &&
      step.items.includes(fn.id) &&
      !state.done.has(step.id);
    send([
      { type: 'test', function: fn.id, outcome, reason, circumstance: circumstanceNow(state) },
      ...(last ? [{ type: 'step-done', step: step.id } as const] : []),
    ]);
  };
  return (
    <>
      <p className="mb-3 text-xl font-semibold">{fn.name}</p>
      <TextForm
        label={outcome === 'fail' ? 'What is seen or heard' : 'Reason, as it will stand in the record'}
        button={outcome === 'fail' ? 'Record failure' : 'Record waiver'}
        danger={outcome === 'fail'}
        onText={record}
      />
    </>
  );
}

function Keys() {
  const { keys, setKey, resetKeys } = usePrefs();
  const [asking, setAsking] = useState<Action | null>(null);
  return (
    <div className="grid gap-3">
      <p>Choose an action, then press the key or the pedal it should have.</p>
      <ul className="grid gap-1">
        {ACTIONS.map((a) => (
          <li key={a}>
            <button
              type="button"
              className={
                `flex min-h-12 w-full items-center justify-between rounded-lg px-3 text-left ` +
                `text-lg ${asking === a ? 'bg-brass text-on-job' : 'hover:bg-sunk'}`
              }
              onClick={() => setAsking(a)}
              onKeyDown={(e) => {
                if (asking !== a || e.key === 'Tab' || e.key === 'Escape' || e.key === 'Shift') return;
                e.preventDefault();
                setKey(a, e.key.length === 1 ? e.key.toLowerCase() : e.key);
                setAsking(null);
              }}
            >
              <span>{ACTION_WORDS[a]}</span>
              <kbd className="num rounded border border-current px-2">
                {asking === a ? 'press a key' : keyWord(keys[a])}
              </kbd>
            </button>
          </li>
        ))}
      </ul>
      <p className="text-quiet">
        Left and right arrow look at other steps, Esc comes back. In tests F fails, W waives.
      </p>
      <Button onClick={resetKeys}>Set all back</Button>
    </div>
  );
}
