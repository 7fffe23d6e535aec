import { format } from 'date-fns/format';
import { PenLine } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { mayTakeBack, type Agreement, type RunState } from '../../../core/run/index.ts';
import { Button, buttonClass } from '../../controls/index.tsx';
import { serverNow } from '../../state/clock.ts';
import { useRunOf } from '../../state/run.ts';

const at = (iso: string): string => format(new Date(iso), 'd MMM yyyy, HH:mm');
const FIELD_TIME = "yyyy-MM-dd'T'HH:mm";

/** What was consented to, in words: who said it or signed it, and when. */
export function consentWords({ signed, spoken, at: recorded, by }: Agreement): string {
  if (signed) return `Signed by the customer, ${at(recorded)}`;
  return spoken
    ? `Said by ${spoken.word}, ${at(spoken.said)}; recorded by ${by}`
    : `Recorded by ${by}, ${at(recorded)}; whose word it was is not known`;
}

/**
 * The one consent of a job: signed on the customer's side, or said, with whose word it was and when. Nothing here is ever
 * focused by itself.
 */
export function Consent({ state, job, large = false }: { state: RunState; job: string; large?: boolean }) {
  const { record } = useRunOf('record');
  const [spoken, setSpoken] = useState(false);
  const size = large ? 'min-h-16 text-xl' : '';
  return (
    <div className="mt-3 grid gap-3">
      <p className="flex flex-wrap gap-2">
        <Link className={buttonClass('main', size)} to={`/jobs/${job}/customer`}>
          <PenLine size={18} aria-hidden="true" />
          Have it signed
        </Link>
        {!spoken && (
          <Button className={size} onClick={() => setSpoken(true)}>
            The customer said so
          </Button>
        )}
      </p>
      {spoken && (
        <Spoken
          size={size}
          keep={(word, said) => {
            const losses = [...new Set(state.context.plan.losses.map((l) => l.function))];
            if (record([{ type: 'losses-agreed', losses, word, said }])) setSpoken(false);
          }}
        />
      )}
    </div>
  );
}

/** Whose word it was, and when: a consent that is only said names both. */
function Spoken({ keep, size }: { keep: (word: string, said: string) => void; size: string }) {
  const [word, setWord] = useState('');
  const [when, setWhen] = useState(() => format(new Date(serverNow()), FIELD_TIME));
  const time = new Date(when);
  const late = time.getTime() > serverNow() + 60_000;
  const fits = word.trim() !== '' && !Number.isNaN(time.getTime()) && !late;
  return (
    <form
      aria-label="Consent by word"
      className="grid gap-2 rounded-lg bg-sunk p-3"
      onSubmit={(e) => {
        e.preventDefault();
        // The field knows minutes; what was said this minute was not said in a minute to come.
        if (fits) keep(word.trim(), new Date(Math.min(time.getTime(), serverNow())).toISOString());
      }}
    >
      <label>
        <span className="label">Whose word was it?</span>
        <input
          className="field"
          value={word}
          maxLength={120}
          autoComplete="off"
          onChange={(e) => setWord(e.target.value)}
        />
      </label>
      <label>
        <span className="label">When was it said?</span>
        <input className="field num" type="datetime-local" value={when} onChange={(e) => setWhen(e.target.value)} />
      </label>
      {late && <p className="text-crimson">That is still to come.</p>}
      <p>
        <Button type="submit" className={size} disabled={!fits}>
          Record what was said
        </Button>
      </p>
    </form>
  );
}

/** The consent that stands, and the way to take it back while work has not begun. */
export function Given({ state }: { state: RunState }) {
  const { record } = useRunOf('record');
  const [why, setWhy] = useState<string | null>(null);
  if (!state.agreed) return null;
  return (
    <div className="mt-3 grid gap-2">
      <p className="font-semibold text-moss">✓ {consentWords(state.agreed)}</p>
      {mayTakeBack(state) &&
        (why === null ? (
          <p>
            <Button weight="quiet" onClick={() => setWhy('')}>
              The customer takes it back
            </Button>
          </p>
        ) : (
          <form
            aria-label="Consent taken back"
            className="flex flex-wrap items-end gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              if (why.trim() !== '' && record([{ type: 'consent-withdrawn', because: why.trim() }])) setWhy(null);
            }}
          >
            <label className="min-w-64 flex-1">
              <span className="label">Who says so, and why</span>
              <input className="field" value={why} maxLength={400} onChange={(e) => setWhy(e.target.value)} />
            </label>
            <Button type="submit" weight="danger" disabled={why.trim() === ''}>
              Take it back
            </Button>
            <Button type="button" weight="quiet" onClick={() => setWhy(null)}>
              Leave it
            </Button>
          </form>
        ))}
    </div>
  );
}
