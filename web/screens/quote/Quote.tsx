import { UserRound } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Model } from '../../../core/anatomy/index.ts';
import type { JobFile } from '../../../core/jobs/index.ts';
import { isOver, beyondAgreed, priceDue, type RunState } from '../../../core/run/index.ts';
import { minutes } from '../../../core/units/index.ts';
import { Button, buttonClass, Check, Measure, ProblemNote } from '../../controls/index.tsx';
import { Signed } from '../../controls/Signature.tsx';
import { api, messageOf } from '../../state/api.ts';
import { useRunOf } from '../../state/run.ts';
import type { Plan } from '../../../core/dive/index.ts';
import { consentWords } from '../plan/Consent.tsx';
import { Times } from '../plan/Times.tsx';
import { useLoad } from '../../state/useLoad.ts';
import { type Quote as QuoteNow, type QuoteRisk, type Stroke, tellMoney } from '../../../core/counter/index.ts';
import { spoken } from '../../../words/index.ts';

/** What a dive comes to in money and time, what it may come to, and what was agreed. */
export default function Quote() {
  const { job, context, state, adopt } = useRunOf('job', 'context', 'state', 'adopt');
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  if (!job?.plan || !context || !state) return null;
  const { quote: told } = state.counter;
  const stale = told !== null && told.version !== state.version;
  const ask = async () => {
    setBusy(true);
    setProblem(null);
    try {
      await api(`/jobs/${job.id}/quote`, { json: {} });
      // What other screens hear by the stream is read here at once.
      adopt(await api<JobFile>(`/jobs/${job.id}`));
    } catch (error) {
      setProblem(messageOf(error));
    }
    setBusy(false);
  };
  return (
    <div className="grid gap-4">
      {problem && <ProblemNote>{problem}</ProblemNote>}
      {!told || stale ? (
        <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,1.2fr)_minmax(0,1fr)]">
          <div className="panel grid justify-items-start gap-3 p-6">
            <p className="text-lg">
              {stale
                ? 'The plan has changed since it was quoted.'
                : 'Nobody has quoted this dive yet: parts, what is renewed, work, risks and tax.'}
            </p>
            <Button weight="main" className="text-lg" disabled={busy || isOver(state)} onClick={() => void ask()}>
              {stale ? 'Quote it anew' : 'Quote it'}
            </Button>
          </div>
          <AgreedPanel state={state} job={job.id} />
        </div>
      ) : (
        <>
          <Sum plan={context.plan} quote={told.quote} supplier={told.supplier} simulated={told.simulated} />
          <div className="grid gap-4 lg:grid-cols-[minmax(0,1.2fr)_minmax(0,1fr)]">
            <div className="grid content-start gap-4">
              <Lines quote={told.quote} />
              <Risks quote={told.quote} model={context.model} />
            </div>
            <div className="grid content-start gap-4">
              <AgreedPanel state={state} job={job.id} />
              <SideWays job={job.id} model={context.model} quote={told.quote} replace={job.plan.replace} />
              <Button weight="quiet" disabled={busy || isOver(state)} onClick={() => void ask()}>
                Quote it anew
              </Button>
            </div>
          </div>
        </>
      )}
    </div>
  );
}

/** The few numbers that a customer asks for, with the spread of the work to scale. */
function Sum({
  plan,
  quote,
  supplier,
  simulated,
}: {
  plan: Plan;
  quote: QuoteNow;
  supplier: string;
  simulated: boolean;
}) {
  const money = (sum: string) => tellMoney(sum, quote.currency);
  return (
    <section aria-label="In all" className="panel grid gap-3 p-5">
      <div className="flex flex-wrap gap-x-10 gap-y-3">
        <Measure value={money(quote.price.total)} label="in all, tax included" />
        <Measure value={money(quote.price.most)} label="it can come to" />
        <Times plan={plan} />
        <Measure
          value={`${minutes(quote.p50)} to ${minutes(quote.p90)}`}
          label="of work with what may go wrong: as often as not, nine times in ten"
        />
        <Measure
          value={quote.days === 0 ? 'all' : quote.days}
          {...(quote.days > 0 ? { unit: 'days' } : {})}
          label={quote.days === 0 ? 'the parts are here' : 'until the parts are here'}
        />
      </div>
      <Spread quote={quote} />
      <p className="text-sm text-quiet">
        {quote.learntFrom === 0
          ? 'The spread is the usual one; it learns from every job that is signed off.'
          : `The spread has learnt from ${quote.learntFrom} of the shop's own jobs.`}{' '}
        Prices of parts: the shop's shelf{simulated ? `, and ${supplier}, a simulated supplier` : `, and ${supplier}`}.
      </p>
      {quote.against.map((words) => (
        <p key={words} className="border-l-8 border-ember pl-4 font-semibold">
          {words}
        </p>
      ))}
    </section>
  );
}

function Spread({ quote }: { quote: QuoteNow }) {
  const end = quote.p90 * 1.15;
  const at = (seconds: number) => `${(100 * seconds) / end}%`;
  return (
    <div aria-hidden="true" className="relative h-3 rounded-full bg-sunk">
      <div className="absolute inset-y-0 left-0 rounded-full bg-petrol" style={{ width: at(quote.p50) }} />
      <div
        className="absolute inset-y-0 rounded-r-full border-y-2 border-r-2 border-petrol"
        style={{ left: at(quote.p50), width: `calc(${at(quote.p90)} - ${at(quote.p50)})` }}
      />
    </div>
  );
}

const FROM_WORDS = {
  shelf: 'on the shelf, spoken for',
  supplier: 'from the supplier',
  table: '',
  estimate: 'estimated: nobody offers it',
} as const;

function Lines({ quote }: { quote: QuoteNow }) {
  const money = (sum: string) => tellMoney(sum, quote.currency);
  const rows: [name: string, note: string, sum: string][] = [
    ...[...quote.parts, ...quote.renewables].map((l): [string, string, string] => [
      l.name,
      [FROM_WORDS[l.from], l.days > 0 ? `${l.days} days` : ''].filter(Boolean).join(', '),
      l.price,
    ]),
    ['Work', minutes(quote.p50), quote.price.labour],
    ['Tax', '', quote.price.tax],
  ];
  return (
    <section aria-labelledby="lines" className="panel p-5">
      <h2 id="lines" className="mb-2 text-xl font-semibold">
        What it is made of
      </h2>
      <table className="w-full">
        <tbody>
          {rows.map(([name, note, sum], i) => (
            <tr key={i} className="border-t border-line first:border-t-0">
              <td className="py-1.5 pr-3">
                {name} <span className="text-sm text-quiet">{note}</span>
              </td>
              <td className="num text-right">{money(sum)}</td>
            </tr>
          ))}
          <tr className="border-t-2 border-ink text-lg font-bold">
            <td className="py-2">In all</td>
            <td className="num text-right">{money(quote.price.total)}</td>
          </tr>
        </tbody>
      </table>
    </section>
  );
}

function Risks({ quote, model }: { quote: QuoteNow; model: Model }) {
  const money = (sum: string) => tellMoney(sum, quote.currency);
  const name = (r: QuoteRisk) => (model.items.has(r.item) ? model.nameOf(r.item) : r.item);
  const shown = quote.risks.filter((r) => r.chance >= 0.01).sort((a, b) => b.chance - a.chance);
  return (
    <section aria-labelledby="risks" className="panel p-5">
      <h2 id="risks" className="mb-2 text-xl font-semibold">
        What may go wrong
      </h2>
      {shown.length === 0 && <p className="text-quiet">Nothing of which it is known that it often does.</p>}
      <ul className="grid gap-2">
        {shown.map((r, i) => (
          <li key={i} className="grid grid-cols-[3.6rem_minmax(0,1fr)_auto] items-baseline gap-3" title={r.origin}>
            <span className="num text-right font-semibold">{Math.round(r.chance * 100)} %</span>
            <span>
              {spoken.mishaps[r.kind]}: {name(r)}
              {r.have && <span className="block text-sm text-quiet">have at hand: {r.have}</span>}
            </span>
            <span className="num">{money(r.cost)}</span>
          </li>
        ))}
      </ul>
      <p className="mt-2 text-sm text-quiet">
        On average <span className="num">{money(quote.price.risk)}</span> of it happens, before tax; point at a line for
        where its chance is from.
      </p>
    </section>
  );
}

/** What the customer signed, whether it still holds, and the way to have it signed. */
function AgreedPanel({ state, job }: { state: RunState; job: string }) {
  const { agreed } = state;
  const beyond = beyondAgreed(state);
  const due = priceDue(state);
  const currency = state.counter.quote?.quote.currency ?? agreed?.signed?.terms.currency ?? 'EUR';
  const holds = agreed?.signed && beyond.losses.length === 0 && !beyond.price;
  const { data } = useLoad<{ strokes: Stroke[] }>(
    agreed?.signed?.signature ? `/counter/signatures/${agreed.signed.signature}` : null,
  );
  return (
    <section
      aria-labelledby="agreed"
      className={`panel p-5 ${agreed?.signed && !holds ? 'border-l-8 border-crimson' : ''}`}
    >
      <h2 id="agreed" className="mb-2 text-xl font-semibold">
        Agreement
      </h2>
      {due?.agreed && (
        <p className="text-lg">
          <b className="num">{tellMoney(due.sum, currency)}</b> as agreed: this is what is paid, however often it is
          quoted.
        </p>
      )}
      {agreed && !agreed.signed && <p className="font-semibold text-moss">✓ {consentWords(agreed)}</p>}
      {agreed?.signed ? (
        <>
          <p className={`font-semibold ${holds ? 'text-moss' : 'text-crimson'}`}>
            {holds ? '✓ Signed for this plan' : '✗ It does not hold any more'}
          </p>
          {!holds && (
            <p>
              {beyond.price
                ? 'It would cost more than was agreed.'
                : `It would lose more than was agreed: ${beyond.losses.length}.`}{' '}
              Making safe and closing go on; everything else waits for a new signature.
            </p>
          )}
          <ul className="my-2 grid gap-1 text-sm">
            {agreed.signed.text.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
          {data && <Signed strokes={data.strokes} className="h-16" />}
        </>
      ) : (
        <p className="text-quiet">Nobody has signed for this plan yet.</p>
      )}
      {!isOver(state) && (
        <Link to={`/jobs/${job}/customer`} className={buttonClass(holds ? 'plain' : 'main', 'mt-3 text-lg')}>
          <UserRound aria-hidden="true" />
          Turn to the customer
        </Link>
      )}
    </section>
  );
}

/** Other parts on the same device, side by side with what is planned. */
function SideWays({
  job,
  model,
  quote,
  replace,
}: {
  job: string;
  model: Model;
  quote: QuoteNow;
  replace: readonly string[];
}) {
  const [parts, setParts] = useState<string[]>([...replace]);
  const [other, setOther] = useState<{ parts: string[]; quote: QuoteNow }[]>([]);
  const [problem, setProblem] = useState<string | null>(null);
  const ask = async () => {
    try {
      const { quote: found } = await api<{ quote: QuoteNow }>(`/jobs/${job}/quote-for`, { json: { replace: parts } });
      setOther((list) => [...list.filter((o) => o.parts.join() !== parts.join()), { parts, quote: found }].slice(-2));
      setProblem(null);
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  const ways = [{ parts: [...replace], quote }, ...other];
  const money = (sum: string) => tellMoney(sum, quote.currency);
  return (
    <section aria-labelledby="ways" className="panel p-5">
      <h2 id="ways" className="mb-2 text-xl font-semibold">
        Or another way
      </h2>
      {ways.length > 1 && (
        <div className="mb-3 grid grid-flow-col auto-cols-fr gap-2">
          {ways.map((way) => (
            <dl key={way.parts.join()} className="grid gap-1 rounded-lg border border-line p-3">
              <dt className="font-semibold">{way.parts.map((p) => model.nameOf(p)).join(', ')}</dt>
              <dd className="num text-lg">{money(way.quote.price.total)}</dd>
              <dd className="text-sm text-quiet">
                at most <span className="num">{money(way.quote.price.most)}</span>
              </dd>
              <dd className="text-sm text-quiet">{minutes(way.quote.p50)} of work</dd>
              <dd className="text-sm text-quiet">
                {way.quote.days === 0 ? 'parts are here' : `parts in ${way.quote.days} days`}
              </dd>
            </dl>
          ))}
        </div>
      )}
      <details>
        <summary className="min-h-12 cursor-pointer content-center">Quote other parts beside it</summary>
        <div className="grid max-h-56 gap-x-3 overflow-auto sm:grid-cols-2">
          {model.anatomy.parts
            .filter((p) => !p.fixed)
            .map((p) => (
              <Check
                key={p.id}
                checked={parts.includes(p.id)}
                onChange={() => setParts(parts.includes(p.id) ? parts.filter((x) => x !== p.id) : [...parts, p.id])}
              >
                {p.name}
              </Check>
            ))}
        </div>
        <Button className="mt-2" disabled={parts.length === 0} onClick={() => void ask()}>
          Quote these
        </Button>
      </details>
      {problem && <ProblemNote>{problem}</ProblemNote>}
    </section>
  );
}
