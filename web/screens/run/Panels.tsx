import { X } from 'lucide-react';
import { type FormEvent, useLayoutEffect, useRef, useState } from 'react';
import type { Model } from '../../../core/anatomy/index.ts';
import { stepItemName, type Step } from '../../../core/dive/index.ts';
import {
  DEVIATIONS,
  itemWise,
  timerId,
  timerLeft,
  type DeviationKind,
  type EventBody,
  type RunState,
} from '../../../core/run/index.ts';
import { Button } from '../../controls/index.tsx';
import { messageOf, storePhoto } from '../../state/api.ts';
import { ACTION_WORDS, ACTIONS, keyWord, usePrefs, type Action } from '../../state/prefs.ts';
import { DEVIATION_WORDS } from '../../words.ts';
import { ReplanPanel } from './ReplanPanel.tsx';

export type PanelKind =
  | { kind: 'deviation'; item: string | null }
  | { kind: 'photo' | 'note' | 'timer' | 'replan' | 'help' }
  | { kind: 'test'; outcome: 'fail' | 'waived'; function?: string };

interface PanelProps {
  panel: PanelKind;
  step: Step;
  model: Model;
  state: RunState;
  nextItem: string | null;
  send: (bodies: EventBody[]) => boolean;
  close: () => void;
  open: (panel: PanelKind) => void;
}

const TITLES: Record<PanelKind['kind'], string> = {
  deviation: 'What is different?',
  photo: 'Photograph',
  note: 'Note',
  timer: 'End the wait',
  replan: 'Plan the rest anew',
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
      className="absolute inset-0 overflow-auto bg-panel p-5"
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
      {panel.kind === 'photo' && <Photo {...props} />}
      {panel.kind === 'note' && (
        <TextForm
          label={`Note to step ${props.step.n}`}
          button="Keep the note"
          onText={(text) => props.send([{ type: 'note', step: props.step.n, text }])}
        />
      )}
      {panel.kind === 'timer' && <EndWait {...props} />}
      {panel.kind === 'test' && <TestReason {...props} outcome={panel.outcome} of={panel.function ?? props.nextItem} />}
      {panel.kind === 'replan' && <ReplanPanel state={props.state} close={close} />}
      {panel.kind === 'help' && <Keys />}
    </section>
  );
}

function TextForm({
  label,
  button,
  optional,
  danger,
  onText,
}: {
  label: string;
  button: string;
  optional?: boolean;
  danger?: boolean;
  onText: (text: string) => void;
}) {
  const [text, setText] = useState('');
  const field = useRef<HTMLTextAreaElement>(null);
  // Before the next key is taken: it belongs to the field.
  useLayoutEffect(() => field.current?.focus(), []);
  const submit = (e?: FormEvent) => {
    e?.preventDefault();
    if (optional || text.trim()) onText(text.trim());
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
        disabled={!optional && !text.trim()}
      >
        {button}
      </Button>
    </form>
  );
}

/** What each kind of item can turn out to be. */
const KINDS_OF: Record<string, DeviationKind[]> = {
  fastener: ['stripped', 'missing', 'not-as-drawn'],
  connector: ['torn', 'broken', 'not-as-drawn', 'already-replaced'],
  part: ['broken', 'missing', 'not-as-drawn', 'already-replaced'],
  bond: ['missing', 'not-as-drawn', 'already-replaced'],
  latch: ['broken', 'missing', 'not-as-drawn'],
};

/** Deviations after which the plan no longer fits the device. */
const ASKS_FOR_A_PLAN: DeviationKind[] = ['torn', 'broken', 'stripped', 'missing', 'not-as-drawn'];

function Deviation({ model, step, nextItem, send, preset, open }: PanelProps & { preset: string | null }) {
  const items = [...new Set([...(preset ? [preset] : []), ...step.items.filter((id) => model.items.has(id))])];
  const [item, setItem] = useState<string | null>(
    preset ?? (nextItem && model.items.has(nextItem) ? nextItem : (items[0] ?? null)),
  );
  const kinds: DeviationKind[] = item ? KINDS_OF[model.items.get(item)!.type]! : ['extra', 'not-as-drawn'];
  const [kind, setKind] = useState<DeviationKind>(preset && model.fasteners.has(preset) ? 'missing' : kinds[0]!);
  const choice = kinds.includes(kind) ? kind : kinds[0]!;
  const option = (selected: boolean) =>
    `min-h-12 cursor-pointer rounded-lg border-2 px-4 py-2 text-left text-lg has-focus-visible:outline-3 has-focus-visible:outline-petrol ${selected ? 'border-petrol bg-sunk font-semibold' : 'border-line'}`;
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
        {DEVIATIONS.filter((k) => kinds.includes(k)).map((k) => (
          <label key={k} className={option(choice === k)}>
            <input type="radio" name="kind" className="sr-only" checked={choice === k} onChange={() => setKind(k)} />
            {DEVIATION_WORDS[k]}
          </label>
        ))}
      </fieldset>
      <TextForm
        label="What happened, what was done about it"
        button="Record it"
        onText={(note) => {
          if (
            send([{ type: 'deviation', item, kind: choice, note }]) &&
            item !== null &&
            ASKS_FOR_A_PLAN.includes(choice)
          )
            open({ kind: 'replan' });
        }}
      />
    </div>
  );
}

function Photo({ step, send }: PanelProps) {
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  useLayoutEffect(() => input.current?.focus(), []);
  const take = async (file: File | undefined) => {
    if (!file) return;
    setBusy(true);
    try {
      send([{ type: 'photo', photo: await storePhoto(file), step: step.n, note: '' }]);
    } catch (error) {
      setProblem(messageOf(error));
    } finally {
      setBusy(false);
    }
  };
  return (
    <div className="grid gap-3">
      <label className="grid min-h-32 cursor-pointer place-items-center rounded-xl border-2 border-dashed border-line text-xl font-semibold has-focus-visible:outline-3 has-focus-visible:outline-petrol">
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
  const running = (id: string) => {
    const t = state.timers.get(id);
    return t && timerLeft(t, Date.now()) > 0 ? t : undefined;
  };
  const timer =
    step.waitsFor.map((n) => running(`step-${n}`)).find((t) => t !== undefined) ??
    running(timerId(step)) ??
    [...state.timers.values()].findLast((t) => timerLeft(t, Date.now()) > 0);
  if (!timer) return <p className="text-lg">No wait is running.</p>;
  return (
    <TextForm
      label={`Why the wait of step ${timer.step} ends now (soft already, below 25 % already …)`}
      button="End the wait"
      onText={(reason) => send([{ type: 'timer-ended', timer: timer.id, reason }])}
    />
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
  const fn = model.anatomy.functions.find((f) => f.id === of);
  if (!fn) return <p className="text-lg">Every function of this step is tested.</p>;
  const record = (reason: string) => {
    const last =
      itemWise(step) === 'test' &&
      step.items.filter((f) => !state.tests.has(f) && f !== fn.id).length === 0 &&
      step.items.includes(fn.id) &&
      !state.done.has(step.n);
    send([
      { type: 'test', function: fn.id, outcome, reason },
      ...(last ? [{ type: 'step-done', step: step.n } as const] : []),
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
              className={`flex min-h-12 w-full items-center justify-between rounded-lg px-3 text-left text-lg ${asking === a ? 'bg-brass text-on-job' : 'hover:bg-sunk'}`}
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
