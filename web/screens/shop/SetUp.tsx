import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import { Navigate } from 'react-router';
import { DEFAULT_RULES, type HouseRules } from '../../../core/dive/index.ts';
import { DEFAULT_SHOP, type Role, type ShopSettings } from '../../../core/jobs/index.ts';
import { Button, Loading, ProblemNote } from '../../controls/index.tsx';
import { api, ApiError, messageOf } from '../../state/api.ts';
import { useShop } from '../../state/shop.ts';
import { BenchFields, isOdd } from '../rules/BenchFields.tsx';
import { ShopForm } from './ShopForm.tsx';
import { useGo } from '../../state/here.ts';

interface Person {
  name: string;
  role: Role;
}

/** The first start of a shop: what it is called, who works there, what lies on the bench, and the devices to begin with. */
export default function SetUp() {
  const { shop, load } = useShop();
  const [draft, setDraft] = useState<ShopSettings>({ ...DEFAULT_SHOP, name: '' });
  const [people, setPeople] = useState<Person[]>([{ name: '', role: 'lead' }]);
  const [rules, setRules] = useState<HouseRules>(DEFAULT_RULES);
  const [examples, setExamples] = useState<boolean | null>(null);
  const [problem, setProblem] = useState<ApiError | null>(null);
  const [busy, setBusy] = useState(false);
  const leave = useGo();
  if (!shop) return <Loading what="the shop" />;
  if (shop.setUp && !busy) return <Navigate to="/" replace />;
  const named = people.map((p) => ({ ...p, name: p.name.trim() })).filter((p) => p.name !== '');
  const missing = [
    draft.name.trim() === '' && 'name the shop',
    named.length === 0 && 'name who works here',
    named.length > 0 && !named.some((p) => p.role === 'lead') && 'make one of them a lead',
    isOdd(rules) && 'mend the number of the bench that does not fit',
    examples === null && 'choose the devices to begin with',
  ].filter(Boolean) as string[];
  const begin = async () => {
    const go = leave();
    setBusy(true);
    try {
      await api('/shop/set-up', {
        json: { shop: { ...draft, name: draft.name.trim() }, technicians: named, rules, examples },
      });
      await load();
      go('/');
    } catch (error) {
      setProblem(error instanceof ApiError ? error : new ApiError(0, { error: messageOf(error) }));
      setBusy(false);
    }
  };
  const change = (i: number, to: Partial<Person>) => setPeople(people.map((p, k) => (k === i ? { ...p, ...to } : p)));
  return (
    <div className="mx-auto grid max-w-3xl gap-5">
      <div>
        <h1 className="text-3xl font-bold">A new shop</h1>
        <p className="text-quiet">Everything here can be changed later on the Shop screen.</p>
      </div>
      <section className="panel p-5" aria-label="The shop">
        <ShopForm shop={draft} change={setDraft} />
      </section>
      <section className="panel grid gap-3 p-5" aria-labelledby="people">
        <h2 id="people" className="text-xl font-semibold">
          Who works here
        </h2>
        <ul className="grid gap-2">
          {people.map((p, i) => (
            <li key={i} className="flex flex-wrap items-center gap-2">
              <input
                className="field min-w-40 flex-1"
                aria-label={`Name ${i + 1}`}
                value={p.name}
                maxLength={80}
                onChange={(e) => change(i, { name: e.target.value })}
              />
              <select
                className="field !w-auto"
                aria-label={`Role ${i + 1}`}
                value={p.role}
                onChange={(e) => change(i, { role: e.target.value as Role })}
              >
                <option value="lead">lead</option>
                <option value="technician">technician</option>
              </select>
              {people.length > 1 && (
                <Button
                  weight="quiet"
                  aria-label={`Remove ${i + 1}`}
                  onClick={() => setPeople(people.filter((_, k) => k !== i))}
                >
                  <X aria-hidden="true" />
                </Button>
              )}
            </li>
          ))}
        </ul>
        <div>
          <Button onClick={() => setPeople([...people, { name: '', role: 'technician' }])}>
            <Plus aria-hidden="true" />
            One more
          </Button>
        </div>
      </section>
      <section className="panel grid gap-3 p-5" aria-labelledby="bench">
        <h2 id="bench" className="text-xl font-semibold">
          What lies on the bench
        </h2>
        <p className="text-quiet">Plans use what is at hand, and say what takes the place of what is not.</p>
        <BenchFields rules={rules} set={(part) => setRules((now) => ({ ...now, ...part }))} />
      </section>
      <section className="panel grid gap-3 p-5" aria-labelledby="devices">
        <h2 id="devices" className="text-xl font-semibold">
          Devices to begin with
        </h2>
        {(
          [
            [false, 'None', 'Bring in the anatomies of your own devices.'],
            [true, 'The made-up ones, as examples', 'Six invented devices to try everything on.'],
          ] as const
        ).map(([value, word, more]) => (
          <label key={word} className="flex min-h-12 cursor-pointer items-center gap-3">
            <input
              type="radio"
              name="examples"
              className="size-6 accent-petrol"
              checked={examples === value}
              onChange={() => setExamples(value)}
            />
            <span>
              <b>{word}</b> <span className="text-quiet">{more}</span>
            </span>
          </label>
        ))}
      </section>
      {problem && <ProblemNote faults={problem.problem.faults}>{problem.message}</ProblemNote>}
      <div className="flex flex-wrap items-center gap-4">
        <Button weight="main" className="text-lg" disabled={missing.length > 0 || busy} onClick={() => void begin()}>
          Begin
        </Button>
        {missing.length > 0 && <span className="text-quiet">Still to do: {missing.join(', ')}.</span>}
      </div>
      <p className="text-quiet">
        How the shop works where practitioners disagree stands under House rules: the usual ways, until a lead decides
        otherwise.
      </p>
    </div>
  );
}
