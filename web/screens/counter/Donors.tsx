import { type ReactNode, useMemo, useState } from 'react';
import { modelOf, type Anatomy } from '../../../core/anatomy/index.ts';
import {
  CONTACTS,
  donorChecks,
  GRADES,
  readIdentity,
  readMoney,
  RETURN_DAYS,
  returnBy,
  tellMoney,
  TRIED,
  type Donor,
} from '../../../core/counter/index.ts';
import { Button, buttonClass, Check, ProblemNote } from '../../controls/index.tsx';
import { api, messageOf } from '../../state/api.ts';
import { useShop } from '../../state/shop.ts';
import { useLoad } from '../../state/useLoad.ts';
import { DeviceSelect } from './DeviceSelect.tsx';

const today = (): string => new Date().toISOString().slice(0, 10);

/** Donor parts with what speaks against each, and the last day to return them. */
export function DonorList({ icon }: { icon: ReactNode }) {
  const { data: donors, reload } = useLoad<Donor[]>('/counter/donors');
  const [problem, setProblem] = useState<string | null>(null);
  const act = (work: Promise<unknown>) =>
    work.then(
      () => {
        setProblem(null);
        reload();
      },
      (error) => setProblem(messageOf(error)),
    );
  if (!donors) return null;
  if (donors.length === 0)
    return <p className="text-quiet">None yet: a board, a display, a camera out of another device.</p>;
  return (
    <>
      {problem && <ProblemNote>{problem}</ProblemNote>}
      <ul className="grid gap-3">
        {donors.map((d) => (
          <DonorLine key={d.id} donor={d} icon={icon} act={act} />
        ))}
      </ul>
    </>
  );
}

function DonorLine({
  donor: d,
  icon,
  act,
}: {
  donor: Donor;
  icon: ReactNode;
  act: (work: Promise<unknown>) => unknown;
}) {
  const { data: stored } = useLoad<{ anatomy: Anatomy }>(`/anatomies/${d.anatomy}`);
  const currency = useShop((s) => s.shop?.till.currency) ?? 'EUR';
  const model = useMemo(() => (stored ? modelOf(stored.anatomy) : null), [stored]);
  if (!model) return null;
  const checks = d.job ? [] : donorChecks(model, d, { storage: null, region: '' }, today());
  return (
    <li className="grid gap-1 border-t border-line pt-2 first:border-t-0">
      <p>
        <b>{model.parts.has(d.part) ? model.nameOf(d.part) : d.part}</b> of {model.anatomy.maker} {model.anatomy.name},{' '}
        {d.grade}, {d.tried.replace('-', ' ')}, <span className="num">{tellMoney(d.price, currency)}</span>
      </p>
      {d.job ? (
        <p className="text-moss">✓ It went into a device.</p>
      ) : (
        <>
          {checks.map((c) => (
            <p key={c.because} className={c.weight === 'stop' ? 'font-semibold text-crimson' : 'text-ember'}>
              {c.weight === 'stop' ? '✗' : '!'} {c.because}
            </p>
          ))}
          <div className="flex flex-wrap gap-1">
            <a className={buttonClass('quiet')} href={`/api/counter/donors/${d.id}.ics`}>
              {icon} Return by {returnBy(d)}
            </a>
            {(d.imei !== null || d.serial !== null) && (
              <Button weight="quiet" onClick={() => act(api(`/counter/donors/${d.id}/register`, { json: {} }))}>
                Ask the register
              </Button>
            )}
            <Button weight="quiet" onClick={() => act(api(`/counter/donors/${d.id}`, { method: 'DELETE' }))}>
              Sent back
            </Button>
          </div>
          {d.register?.simulated && <p className="text-sm text-quiet">The register is simulated: it clears nothing.</p>}
        </>
      )}
    </li>
  );
}

/** One more donor part, as it was bought. */
export function DonorForm({ done }: { done: () => void }) {
  const currency = useShop((s) => s.shop?.till.currency) ?? 'EUR';
  const [anatomy, setAnatomy] = useState('');
  const { data: stored } = useLoad<{ anatomy: Anatomy }>(anatomy ? `/anatomies/${anatomy}` : null);
  const [part, setPart] = useState('');
  const [imei, setImei] = useState('');
  const [text, setText] = useState({
    seller: '',
    price: '',
    boughtOn: today(),
    returnDays: String(RETURN_DAYS),
    storage: '',
    region: '',
    charge: '',
  });
  const [grade, setGrade] = useState<Donor['grade']>('clean');
  const [contacts, setContacts] = useState<Donor['contacts']>('whole');
  const [tried, setTried] = useState<Donor['tried']>('not-tried');
  const [reset, setReset] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const board = stored?.anatomy.parts.find((p) => p.id === part)?.kind === 'board';
  const reading = imei.trim() === '' ? null : readIdentity(imei);
  const sum = readMoney(text.price, currency);
  const number = (t: string) =>
    t.trim() === '' || Number.isNaN(Number(t.replace(',', '.'))) ? null : Number(t.replace(',', '.'));
  const missing = [
    !part && 'choose the part',
    reading && !reading.ok && reading.because,
    sum === null && 'say what it cost',
    number(text.returnDays) === null && 'say within how many days it can be returned',
  ].filter(Boolean) as string[];
  const keep = async () => {
    try {
      await api('/counter/donors', {
        json: {
          anatomy,
          part,
          imei: reading?.ok && reading.kind === 'imei' ? reading.number : null,
          serial: reading?.ok && reading.kind === 'serial' ? reading.number : null,
          storage: board ? number(text.storage) : null,
          region: board ? text.region.trim() : '',
          grade,
          contacts,
          tried,
          seller: text.seller.trim(),
          boughtOn: text.boughtOn,
          returnDays: number(text.returnDays),
          price: sum,
          charge: board ? number(text.charge) : null,
          reset,
        },
      });
      done();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  const field = (key: keyof typeof text, label: string, rest: object = {}) => (
    <label>
      <span className="label">{label}</span>
      <input
        className="field"
        value={text[key]}
        maxLength={120}
        onChange={(e) => setText({ ...text, [key]: e.target.value })}
        {...rest}
      />
    </label>
  );
  return (
    <div className="grid gap-3 rounded-lg border border-line p-4 sm:grid-cols-2">
      <DeviceSelect label="Out of a" value={anatomy} set={setAnatomy} />
      <label>
        <span className="label">Part</span>
        <select className="field" value={part} onChange={(e) => setPart(e.target.value)}>
          <option value="">choose</option>
          {(stored?.anatomy.parts ?? [])
            .filter((p) => !p.fixed)
            .map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
        </select>
      </label>
      <label>
        <span className="label">IMEI or serial number of its device</span>
        <input
          className="field num"
          value={imei}
          maxLength={60}
          aria-invalid={reading !== null && !reading.ok}
          onChange={(e) => setImei(e.target.value)}
        />
      </label>
      <Select label="It looks" value={grade} choices={GRADES} set={setGrade} />
      <Select label="Flexes and plugs" value={contacts} choices={CONTACTS} set={setContacts} />
      <Select label="Tried before it goes in" value={tried} choices={TRIED} set={setTried} />
      {board && field('storage', 'Storage, GB', { inputMode: 'decimal' })}
      {board && field('region', 'Region or variant')}
      {board && field('charge', 'Charge for the reset, %', { inputMode: 'numeric' })}
      {board && (
        <Check checked={reset} onChange={(e) => setReset(e.target.checked)}>
          It is reset already
        </Check>
      )}
      {field('seller', 'Seller')}
      {field('price', `It cost, ${currency}`, {
        inputMode: 'decimal',
        'aria-invalid': text.price !== '' && sum === null,
      })}
      {field('boughtOn', 'Bought on', { type: 'date' })}
      {field('returnDays', 'Can be returned within, days', { inputMode: 'numeric' })}
      {problem && (
        <div className="sm:col-span-2">
          <ProblemNote>{problem}</ProblemNote>
        </div>
      )}
      <div className="flex flex-wrap items-center gap-3 sm:col-span-2">
        <Button weight="main" disabled={missing.length > 0} onClick={() => void keep()}>
          Keep it
        </Button>
        {missing.length > 0 && <span className="text-quiet">Still to do: {missing.join(', ')}.</span>}
      </div>
    </div>
  );
}

function Select<T extends string>({
  label,
  value,
  choices,
  set,
}: {
  label: string;
  value: T;
  choices: readonly T[];
  set: (v: T) => void;
}) {
  return (
    <label>
      <span className="label">{label}</span>
      <select className="field" value={value} onChange={(e) => set(e.target.value as T)}>
        {choices.map((c) => (
          <option key={c} value={c}>
            {c.replace('-', ' ')}
          </option>
        ))}
      </select>
    </label>
  );
}
