import { format } from 'date-fns/format';
import { formatDistanceToNowStrict } from 'date-fns/formatDistanceToNowStrict';
import { FileDown, UserPlus } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import type { HouseRules } from '../../../core/dive/index.ts';
import type { RuleSet, Shop as ShopNow, ShopSettings, Technician } from '../../../core/jobs/index.ts';
import { Button, buttonClass, Loading, ProblemNote } from '../../controls/index.tsx';
import { api, ApiError, messageOf } from '../../state/api.ts';
import { useShop } from '../../state/shop.ts';
import { useLoad } from '../../state/useLoad.ts';
import { BenchFields, isOdd } from '../rules/BenchFields.tsx';
import { ShopForm } from './ShopForm.tsx';

/** Everything of the shop that a lead keeps. */
export default function Shop() {
  const { shop } = useShop();
  if (!shop) return <Loading what="the shop" />;
  return (
    <div className="mx-auto max-w-6xl">
      <h1 className="mb-1 text-3xl font-bold">{shop.name}</h1>
      <p className="mb-5 text-quiet">
        {shop.lead ? 'What the shop is, who works here, and where its data are kept.' : 'Kept by the leads.'}
      </p>
      {shop.lead ? (
        <div className="grid gap-5 lg:grid-cols-2">
          <Settings key={shop.revision} shop={shop} />
          <div className="grid content-start gap-5">
            <Technicians />
            <Data />
            <Sessions />
          </div>
          <Bench />
        </div>
      ) : (
        <OwnPin />
      )}
    </div>
  );
}

/** What a change came to: refused with a reason, or done. */
function useAttempt(): { error: ApiError | null; attempt: (work: () => Promise<unknown>) => Promise<boolean> } {
  const [error, setError] = useState<ApiError | null>(null);
  const attempt = async (work: () => Promise<unknown>) => {
    setError(null);
    try {
      await work();
      return true;
    } catch (cause) {
      setError(cause instanceof ApiError ? cause : new ApiError(0, { error: messageOf(cause) }));
      return false;
    }
  };
  return { error, attempt };
}

function Settings({ shop }: { shop: ShopNow }) {
  const [draft, setDraft] = useState<ShopSettings>(() => settingsOf(shop));
  const [saved, setSaved] = useState(false);
  const { error, attempt } = useAttempt();
  const load = useShop((s) => s.load);
  const changed = JSON.stringify(draft) !== JSON.stringify(settingsOf(shop));
  const save = () =>
    attempt(async () => {
      await api('/shop', { method: 'PUT', json: draft, ifMatch: shop.revision });
      setSaved(true);
      await load();
    });
  return (
    <section className="panel grid content-start gap-4 p-5" aria-labelledby="settings">
      <h2 id="settings" className="text-xl font-semibold">
        The shop
      </h2>
      <ShopForm
        shop={draft}
        change={(next) => {
          setDraft(next);
          setSaved(false);
        }}
      />
      {error && <ProblemNote faults={error.problem.faults}>{error.message}</ProblemNote>}
      <div className="flex flex-wrap items-center gap-3">
        <Button weight="main" disabled={!changed || draft.name.trim() === ''} onClick={() => void save()}>
          Save
        </Button>
        {saved && <span className="font-semibold text-moss">✓ Saved</span>}
        {!changed && !saved && <span className="text-quiet">Nothing is changed.</span>}
      </div>
    </section>
  );
}

/** What lies on the benches: a part of the house rules in use, which plans are made by. */
function Bench() {
  const { data, reload } = useLoad<RuleSet[]>('/rules');
  const chosen = data?.find((set) => set.chosen);
  const [draft, setDraft] = useState<HouseRules | null>(null);
  const [saved, setSaved] = useState(false);
  const { error, attempt } = useAttempt();
  if (!chosen) return null;
  const rules = draft ?? chosen.rules;
  const changed = draft !== null && JSON.stringify(draft) !== JSON.stringify(chosen.rules);
  const save = () =>
    attempt(async () => {
      await api(`/rules/${chosen.id}`, {
        method: 'PUT',
        json: { name: chosen.name, rules },
        ifMatch: chosen.revision,
      });
      setSaved(true);
      reload();
    });
  return (
    <section className="panel grid content-start gap-4 p-5 lg:col-span-2" aria-labelledby="bench">
      <h2 id="bench" className="text-xl font-semibold">
        What lies on the bench
      </h2>
      <BenchFields
        key={chosen.id}
        rules={rules}
        set={(part) => {
          setSaved(false);
          setDraft({ ...rules, ...part });
        }}
      />
      {error && <ProblemNote faults={error.problem.faults}>{error.message}</ProblemNote>}
      <div className="flex flex-wrap items-center gap-3">
        <Button weight="main" disabled={!changed || isOdd(rules)} onClick={() => void save()}>
          Save the bench
        </Button>
        {saved && !changed && <span className="font-semibold text-moss">✓ Saved. New dives are planned by it.</span>}
      </div>
      <p className="text-quiet">
        These belong to the <Link to="/rules">house rules</Link> in use, “{chosen.name}”; what the heat sources really
        give is measured under <Link to="/sources">heat sources</Link>.
      </p>
    </section>
  );
}

const settingsOf = (shop: ShopNow): ShopSettings => ({
  name: shop.name,
  address: shop.address,
  hours: shop.hours,
  paper: shop.paper,
  backupFolder: shop.backupFolder,
  backupsKept: shop.backupsKept,
  till: shop.till,
  warrantyMonths: shop.warrantyMonths,
  keptDays: shop.keptDays,
  disposal: shop.disposal,
});

function Technicians() {
  const { data, reload } = useLoad<Technician[]>('/shop/technicians');
  const [name, setName] = useState('');
  const { error, attempt } = useAttempt();
  const load = useShop((s) => s.load);
  const change = (work: () => Promise<unknown>) =>
    attempt(async () => {
      await work();
      reload();
      await load();
    });
  if (!data) return null;
  return (
    <section className="panel grid gap-3 p-5" aria-labelledby="technicians">
      <h2 id="technicians" className="text-xl font-semibold">
        Who works here
      </h2>
      <p className="text-quiet">
        While nobody has a PIN, everybody may do everything. From the first PIN on, everybody signs in with their own,
        and only leads change the shop.
      </p>
      {error && <ProblemNote>{error.message}</ProblemNote>}
      <ul className="grid gap-2">
        {data.map((t) => (
          <TechnicianLine key={t.id} technician={t} change={change} />
        ))}
      </ul>
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          void change(() => api('/shop/technicians', { json: { name: name.trim() } })).then((ok) => ok && setName(''));
        }}
      >
        <label className="min-w-48 flex-1">
          <span className="label">Name</span>
          <input className="field" value={name} maxLength={80} onChange={(e) => setName(e.target.value)} />
        </label>
        <Button type="submit" disabled={name.trim() === ''}>
          <UserPlus aria-hidden="true" />
          Add
        </Button>
      </form>
    </section>
  );
}

function TechnicianLine({
  technician: t,
  change,
}: {
  technician: Technician;
  change: (work: () => Promise<unknown>) => Promise<boolean>;
}) {
  const [pin, setPin] = useState<string | null>(null);
  const put = (json: object) => change(() => api(`/shop/technicians/${t.id}`, { method: 'PUT', json }));
  const fits = pin !== null && /^\d{4,12}$/.test(pin);
  return (
    <li className="grid gap-2 border-t border-line pt-2" data-technician={t.name}>
      <div className="flex flex-wrap items-center gap-2">
        <span className={`min-w-0 flex-1 truncate text-lg ${t.active ? 'font-semibold' : 'text-quiet line-through'}`}>
          {t.name}
        </span>
        <select
          className="field !w-auto"
          aria-label={`Role of ${t.name}`}
          value={t.role}
          onChange={(e) => void put({ role: e.target.value })}
        >
          <option value="lead">lead</option>
          <option value="technician">technician</option>
        </select>
        <Button onClick={() => setPin(pin === null ? '' : null)}>{t.pin ? 'New PIN' : 'Set a PIN'}</Button>
        <Button weight="quiet" onClick={() => void put({ active: !t.active })}>
          {t.active ? 'Has left' : 'Is back'}
        </Button>
      </div>
      {pin !== null && (
        <div className="flex flex-wrap items-center gap-2">
          <input
            className="field !w-40 tracking-widest"
            type="password"
            inputMode="numeric"
            autoComplete="off"
            aria-label={`PIN of ${t.name}`}
            value={pin}
            maxLength={12}
            onChange={(e) => setPin(e.target.value)}
          />
          <Button weight="main" disabled={!fits} onClick={() => void put({ pin }).then((ok) => ok && setPin(null))}>
            Keep it
          </Button>
          {t.pin && (
            <Button weight="quiet" onClick={() => void put({ pin: null }).then((ok) => ok && setPin(null))}>
              No PIN
            </Button>
          )}
          {!fits && <span className="text-quiet">4 to 12 digits</span>}
        </div>
      )}
    </li>
  );
}

function Data() {
  const { data, reload } = useLoad<{
    last: { at: string; file: string; bytes: number } | null;
    warnings: string[];
    clock: { doubt: { from: number; to: number } | null; setBy: number };
  }>('/shop/backup');
  const { error, attempt } = useAttempt();
  const load = useShop((s) => s.load);
  const confirm = async () => {
    if (!(await attempt(() => api('/shop/clock', { method: 'POST' })))) return;
    reload();
    await load();
  };
  return (
    <section className="panel grid gap-3 p-5" aria-labelledby="data">
      <h2 id="data" className="text-xl font-semibold">
        Backups
      </h2>
      {data?.last ? (
        <p>
          The last one was made {formatDistanceToNowStrict(new Date(data.last.at), { addSuffix: true })}:{' '}
          <code className="break-all">{data.last.file}</code>
        </p>
      ) : (
        <p>There is no daily backup yet. Name a folder under The shop, best on another disk.</p>
      )}
      {data?.warnings.map((text) => (
        <p key={text} className="border-l-4 border-ember pl-3">
          {text}
        </p>
      ))}
      {data && (data.clock.doubt || data.clock.setBy !== 0) && (
        <div className="grid gap-2 border-l-4 border-ember pl-3">
          {data.clock.doubt && (
            <p>
              The server's clock says <strong>{format(new Date(data.clock.doubt.to), 'd MMMM yyyy')}</strong>; the last
              that was known is of {format(new Date(data.clock.doubt.from), 'd MMMM yyyy')}. Until somebody has looked,
              nothing is erased or thrown away by its age.
            </p>
          )}
          {data.clock.setBy !== 0 && (
            <p>The server's clock was set while Nibrel ran. Once it is followed, running waits leap with it.</p>
          )}
          <div>
            <Button onClick={() => void confirm()}>The clock is right</Button>
          </div>
          {error && <ProblemNote>{error.message}</ProblemNote>}
        </div>
      )}
      <div>
        <a className={buttonClass('plain')} href="/api/shop/backup.zip" download>
          <FileDown aria-hidden="true" />
          Take all data as one file
        </a>
      </div>
      <p className="text-quiet">
        A backup is put back on the server with <code>npm run nibrel -- restore file.zip</code>; what was there before
        is kept beside it.
      </p>
    </section>
  );
}

interface SessionLine {
  id: string;
  technician: string | null;
  seenAt: number;
  agent: string;
  mine: boolean;
}

function Sessions() {
  const { data, reload } = useLoad<SessionLine[]>('/shop/sessions');
  const { error, attempt } = useAttempt();
  if (!data || data.length === 0) return null;
  return (
    <section className="panel grid gap-3 p-5" aria-labelledby="sessions">
      <h2 id="sessions" className="text-xl font-semibold">
        Signed in
      </h2>
      {error && <ProblemNote>{error.message}</ProblemNote>}
      <ul className="grid gap-2">
        {data.map((s) => (
          <li key={s.id} className="flex flex-wrap items-center gap-3">
            <span className="min-w-0 flex-1">
              <b>{s.technician ?? 'with the passcode'}</b>{' '}
              <span className="text-quiet">
                {formatDistanceToNowStrict(new Date(s.seenAt), { addSuffix: true })}
                {s.mine && ', this browser'}
              </span>
              <span className="block truncate text-sm text-quiet">{s.agent}</span>
            </span>
            {!s.mine && (
              <Button
                onClick={() => void attempt(() => api(`/shop/sessions/${s.id}`, { method: 'DELETE' })).then(reload)}
              >
                Sign it out
              </Button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

function OwnPin() {
  const [old, setOld] = useState('');
  const [pin, setPin] = useState('');
  const [done, setDone] = useState(false);
  const { error, attempt } = useAttempt();
  const field = (label: string, value: string, set: (value: string) => void) => (
    <label>
      <span className="label">{label}</span>
      <input
        className="field tracking-widest"
        type="password"
        inputMode="numeric"
        autoComplete="off"
        value={value}
        maxLength={12}
        onChange={(e) => set(e.target.value)}
      />
    </label>
  );
  return (
    <form
      className="panel grid max-w-sm gap-3 p-5"
      onSubmit={(e) => {
        e.preventDefault();
        void attempt(() => api('/shop/pin', { method: 'PUT', json: { old, pin } })).then(setDone);
      }}
    >
      <h2 className="text-xl font-semibold">My PIN</h2>
      {field('PIN as it is', old, setOld)}
      {field('New PIN, 4 to 12 digits', pin, setPin)}
      {error && <ProblemNote>{error.message}</ProblemNote>}
      {done && <p className="font-semibold text-moss">✓ Changed</p>}
      <Button type="submit" weight="main" disabled={old === '' || !/^\d{4,12}$/.test(pin)}>
        Change it
      </Button>
    </form>
  );
}
