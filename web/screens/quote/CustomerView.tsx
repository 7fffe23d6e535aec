import { useState } from 'react';
import { Link } from 'react-router';
import {
  DATA_CHOICES,
  readMoney,
  signatureFault,
  tellMoney,
  UNFINISHED_CHOICES,
  type AgreementTerms,
  type DataChoice,
  type Stroke,
  type UnfinishedChoice,
} from '../../../core/counter/index.ts';
import { lastChange, priceNow } from '../../../core/run/index.ts';
import { Button, buttonClass, ProblemNote } from '../../controls/index.tsx';
import { Signature } from '../../controls/Signature.tsx';
import { api, messageOf } from '../../state/api.ts';
import { useRun, useRunOf } from '../../state/run.ts';
import { technicianNow, useShop } from '../../state/shop.ts';
import type { JobFile } from '../../../core/jobs/index.ts';
import { useGo } from '../../state/here.ts';
import { agreementText, spoken } from '../../../words/index.ts';

/** The screen turned to the customer: what is done, what it costs and what it takes away, large, and the place to sign. */
export default function CustomerView() {
  const { job, context, state, adopt } = useRunOf('job', 'context', 'state', 'adopt');
  const shop = useShop((s) => s.shop);
  const leave = useGo();
  const quote = state?.counter.quote?.version === state?.version ? (state?.counter.quote?.quote ?? null) : null;
  const [limit, setLimit] = useState<string | null>(null);
  const [data, setData] = useState<DataChoice>('saved');
  const [unfinished, setUnfinished] = useState<UnfinishedChoice>('close-as-it-is');
  const [strokes, setStrokes] = useState<Stroke[]>([]);
  const [problem, setProblem] = useState<string | null>(null);
  if (!job?.plan || !context || !state || !shop) return null;
  const { currency } = shop.till;
  const typed = limit ?? quote?.price.most ?? '';
  const sum = typed.trim() === '' ? null : readMoney(typed, currency);
  const wrong = typed.trim() !== '' && sum === null;
  const losses = [...new Set(job.plan.losses.map((l) => l.function))];
  const terms: AgreementTerms = { losses, limit: sum, currency, data, unfinished, language: 'en' };
  const text = agreementText(context.model, job.plan, terms, shop.name);
  const fault = signatureFault(strokes);
  const price = priceNow(state);
  const sign = async () => {
    const go = leave();
    try {
      const file = await api<JobFile>(`/jobs/${job.id}/agreement`, {
        json: { limit: sum, data, unfinished, strokes, by: technicianNow() ?? undefined },
        ifMatch: lastChange(useRun.getState().events),
      });
      adopt(file);
      go(`/jobs/${job.id}/quote`);
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <div className="mx-auto grid max-w-6xl gap-5 px-4 py-5 text-xl leading-relaxed sm:px-8">
      <header className="flex items-start justify-between gap-4">
        <div>
          <p className="text-quiet">{shop.name}</p>
          <h1 className="text-4xl font-bold">
            {context.model.anatomy.maker} {context.model.anatomy.name}
          </h1>
        </div>
        <Link to={`/jobs/${job.id}/quote`} className={buttonClass('quiet')}>
          Back to the shop's side
        </Link>
      </header>
      {price !== null && quote && (
        <p className="text-3xl">
          <b className="num">{tellMoney(price, quote.currency)}</b>{' '}
          <span className="text-xl text-quiet">
            in all; it can come to <span className="num">{tellMoney(quote.price.most, quote.currency)}</span>
          </span>
        </p>
      )}
      <ul aria-label="What is agreed" className="grid gap-2 leading-snug">
        {text.slice(0, -1).map((line) => (
          <li key={line} className="border-l-8 border-sand pl-4">
            {line}
          </li>
        ))}
      </ul>
      <div className="grid gap-4 sm:grid-cols-3">
        <label>
          <span className="label">It costs at most, {currency}; empty is no limit</span>
          <input
            className="field num text-xl"
            inputMode="decimal"
            value={typed}
            aria-invalid={wrong}
            onChange={(e) => setLimit(e.target.value)}
          />
          {wrong && <span className="block text-base text-crimson">A sum such as 120 or 120,50, not below zero.</span>}
        </label>
        <Choice label="Data" value={data} choices={DATA_CHOICES} words={spoken.agreement.data} set={setData} />
        <Choice
          label="If it cannot be finished"
          value={unfinished}
          choices={UNFINISHED_CHOICES}
          words={spoken.agreement.unfinished}
          set={setUnfinished}
        />
      </div>
      {problem && <ProblemNote>{problem}</ProblemNote>}
      <div className="grid items-center gap-x-6 gap-y-3 md:grid-cols-[minmax(0,1fr)_18rem]">
        <Signature onChange={setStrokes} />
        <div className="grid justify-items-start gap-3">
          <Button
            weight="main"
            className="min-h-20 w-full text-2xl"
            disabled={fault !== null || wrong}
            onClick={() => void sign()}
          >
            I agree
          </Button>
          <span className="text-base text-quiet">
            {wrong ? 'The sum has to be corrected first.' : (fault ?? spoken.agreement.law)}
          </span>
        </div>
      </div>
    </div>
  );
}

function Choice<T extends string>({
  label,
  value,
  choices,
  words,
  set,
}: {
  label: string;
  value: T;
  choices: readonly T[];
  words: Record<T, string>;
  set: (value: T) => void;
}) {
  return (
    <label>
      <span className="label">{label}</span>
      <select className="field text-lg" value={value} onChange={(e) => set(e.target.value as T)}>
        {choices.map((c) => (
          <option key={c} value={c}>
            {words[c]}
          </option>
        ))}
      </select>
    </label>
  );
}
