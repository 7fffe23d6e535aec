import { formatDistanceToNowStrict } from 'date-fns/formatDistanceToNowStrict';
import { CalendarPlus, Download, Plus, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { readMoney, tellMoney, type OwnSpare } from '../../../core/counter/index.ts';
import type { AnatomySummary, Customer, IntakeDraft } from '../../../core/jobs/index.ts';
import type { Anatomy } from '../../../core/anatomy/index.ts';
import { Button, buttonClass, ProblemNote } from '../../controls/index.tsx';
import { api, messageOf } from '../../state/api.ts';
import { useShop } from '../../state/shop.ts';
import { useLoad } from '../../state/useLoad.ts';
import type { IntakeForm } from '../intake/form.ts';
import { DeviceSelect } from './DeviceSelect.tsx';
import { DonorForm, DonorList } from './Donors.tsx';
import { Find } from './Find.tsx';

/** The counter: finding and beginning, donor parts and their terms, the shelf, and whom the shop keeps. */
export default function Counter() {
  const { data: comebacks } = useLoad<{ comebacks: number }>('/counter/comebacks');
  return (
    <div className="mx-auto grid max-w-7xl gap-5">
      <div className="flex flex-wrap items-end justify-between gap-4">
        <h1 className="text-3xl font-bold">Counter</h1>
        <Link to="/intake" className={buttonClass('main', 'text-lg')}>
          <Plus aria-hidden="true" />
          Take in a device
        </Link>
      </div>
      <Find />
      <Drafts />
      <div className="grid gap-4 lg:grid-cols-2">
        <Donors />
        <div className="grid content-start gap-4">
          <Shelf />
          <Customers />
          {comebacks && (
            <p className="text-quiet">
              <span className="num">{comebacks.comebacks}</span> {comebacks.comebacks === 1 ? 'job' : 'jobs'} came back
              on a device that was here before.
            </p>
          )}
        </div>
      </div>
    </div>
  );
}

function Drafts() {
  const { data, reload } = useLoad<IntakeDraft<Partial<IntakeForm>>[]>('/counter/drafts');
  if (!data || data.length === 0) return null;
  return (
    <section aria-labelledby="drafts">
      <h2 id="drafts" className="mb-2 text-lg font-semibold text-quiet">
        Begun and not taken in
      </h2>
      <ul className="flex flex-wrap gap-2">
        {data.map((d) => (
          <li key={d.id} className="panel flex items-center gap-2 pl-4">
            <Link to={`/intake?draft=${d.id}`}>{d.document.customer?.trim() || 'An intake'}</Link>
            <span className="text-sm text-quiet">
              {formatDistanceToNowStrict(new Date(d.changedAt), { addSuffix: true })}
            </span>
            <Button
              weight="quiet"
              aria-label={`Drop the intake of ${d.document.customer ?? 'nobody'}`}
              onClick={() => void api(`/counter/drafts/${d.id}`, { method: 'DELETE' }).then(reload)}
            >
              <Trash2 size={18} aria-hidden="true" />
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Donors() {
  const [adding, setAdding] = useState(false);
  const [asked, setAsked] = useState(0);
  return (
    <section aria-labelledby="donors" className="panel grid content-start gap-3 p-5">
      <div className="flex items-center justify-between gap-3">
        <h2 id="donors" className="text-xl font-semibold">
          Donor parts
        </h2>
        <Button aria-expanded={adding} onClick={() => setAdding(!adding)}>
          <Plus size={18} aria-hidden="true" />
          Bought one
        </Button>
      </div>
      {adding && (
        <DonorForm
          done={() => {
            setAdding(false);
            setAsked(asked + 1);
          }}
        />
      )}
      <DonorList key={asked} icon={<CalendarPlus size={18} aria-hidden="true" />} />
    </section>
  );
}

/** The shop's own spares, counted, with what jobs have spoken for. */
function Shelf() {
  const { data: list } = useLoad<AnatomySummary[]>('/anatomies');
  const { data, reload } = useLoad<OwnSpare[]>('/counter/shelf');
  const currency = useShop((s) => s.shop?.till.currency) ?? 'EUR';
  const [anatomy, setAnatomy] = useState('');
  const { data: stored } = useLoad<{ anatomy: Anatomy }>(anatomy ? `/anatomies/${anatomy}` : null);
  const [spare, setSpare] = useState('');
  const [price, setPrice] = useState('');
  const [count, setCount] = useState('1');
  const [problem, setProblem] = useState<string | null>(null);
  const sum = readMoney(price, currency);
  const whole = /^\d{1,4}$/.test(count.trim());
  const put = async () => {
    try {
      await api('/counter/shelf', { method: 'PUT', json: { anatomy, spare, price: sum, count: Number(count) } });
      reload();
      setSpare('');
      setProblem(null);
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  const spares = stored?.anatomy.spares ?? [];
  const device = (id: string) => list?.find((a) => a.id === id)?.name ?? id;
  return (
    <section aria-labelledby="shelf" className="panel grid gap-3 p-5">
      <h2 id="shelf" className="text-xl font-semibold">
        Spares on the shelf
      </h2>
      <ul className="grid gap-1">
        {(data ?? []).map((s) => (
          <li key={s.id} className="grid grid-cols-[minmax(0,1fr)_auto_auto] gap-4">
            <span className="truncate">
              {device(s.anatomy)}, {s.spare}
            </span>
            <span className="num">{tellMoney(s.price, currency)}</span>
            <span>
              <span className="num">{s.count}</span>
              {s.reserved > 0 && <span className="text-quiet">, {s.reserved} spoken for</span>}
            </span>
          </li>
        ))}
        {data?.length === 0 && <li className="text-quiet">The shelf is empty: quotes go by the supplier.</li>}
      </ul>
      <details>
        <summary className="min-h-12 cursor-pointer content-center">Lay one on the shelf, or count anew</summary>
        <div className="grid gap-3 sm:grid-cols-2">
          <DeviceSelect label="Device" value={anatomy} set={setAnatomy} />
          <label>
            <span className="label">Spare</span>
            <select className="field" value={spare} onChange={(e) => setSpare(e.target.value)}>
              <option value="">choose</option>
              {spares.map((s) => (
                <option key={s.id} value={s.id}>
                  {s.name}
                </option>
              ))}
            </select>
          </label>
          <label>
            <span className="label">It cost, {currency}</span>
            <input
              className="field num"
              inputMode="decimal"
              value={price}
              aria-invalid={price !== '' && sum === null}
              onChange={(e) => setPrice(e.target.value)}
            />
            {price !== '' && sum === null && <span className="text-sm text-crimson">A sum, not below zero.</span>}
          </label>
          <label>
            <span className="label">How many there are</span>
            <input
              className="field num"
              inputMode="numeric"
              value={count}
              aria-invalid={!whole}
              onChange={(e) => setCount(e.target.value)}
            />
          </label>
        </div>
        {problem && <ProblemNote>{problem}</ProblemNote>}
        <Button className="mt-3" disabled={!anatomy || !spare || sum === null || !whole} onClick={() => void put()}>
          Keep
        </Button>
      </details>
    </section>
  );
}

/** Whom the shop keeps: all of it in one piece, or erased in one act. */
function Customers() {
  const lead = useShop((s) => s.shop?.lead) ?? false;
  const kept = useShop((s) => s.shop?.keptDays) ?? 0;
  const { data, reload } = useLoad<Customer[]>('/counter/customers');
  const [asking, setAsking] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const erase = async (id: string) => {
    try {
      await api(`/counter/customers/${id}`, { method: 'DELETE' });
      setAsking(null);
      reload();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  if (!lead) return null;
  return (
    <section aria-labelledby="customers" className="panel grid gap-3 p-5">
      <h2 id="customers" className="text-xl font-semibold">
        Customers
      </h2>
      <p className="text-quiet">
        Names are kept <span className="num">{kept}</span> days after the last job; then they are erased, and the record
        is kept without a name.
      </p>
      {problem && <ProblemNote>{problem}</ProblemNote>}
      <ul className="grid max-h-80 gap-1 overflow-auto">
        {(data ?? []).map((c) => (
          <li key={c.id} className="flex flex-wrap items-center gap-2">
            <span className="min-w-0 flex-1 truncate">
              <b>{c.name}</b>{' '}
              <span className="text-quiet">
                {c.contact ? `${c.contact}, ` : ''}
                {c.jobs} {c.jobs === 1 ? 'job' : 'jobs'}
              </span>
            </span>
            {asking === c.id ? (
              <>
                <span>Erase name, contact, photographs, signatures?</span>
                <Button weight="danger" onClick={() => void erase(c.id)}>
                  Erase {c.name}
                </Button>
                <Button weight="quiet" onClick={() => setAsking(null)}>
                  Keep
                </Button>
              </>
            ) : (
              <>
                <a className={buttonClass('quiet')} href={`/api/counter/customers/${c.id}/export`} download>
                  <Download size={18} aria-hidden="true" />
                  <span className="sr-only">All that is kept of {c.name}</span>
                </a>
                <Button weight="quiet" aria-label={`Erase ${c.name}`} onClick={() => setAsking(c.id)}>
                  <Trash2 size={18} aria-hidden="true" />
                </Button>
              </>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
