import { useState, type FormEvent } from 'react';
import { FLOWN_CHARGE, STORAGE_CHARGE, transportOf, wattHoursOf } from '../../../core/cells/index.ts';
import type { CellStateKind, ShopCell } from '../../../core/jobs/index.ts';
import { readNumber } from '../../../core/units/index.ts';
import { Button, Check, Loading, ProblemNote } from '../../controls/index.tsx';
import { api, messageOf } from '../../state/api.ts';
import { technicianNow } from '../../state/shop.ts';
import { useLoad } from '../../state/useLoad.ts';
import { Panel } from '../counter/Panel.tsx';

const STATE_WORDS: Record<CellStateKind, string> = {
  stored: 'stored',
  boxed: 'in the sand box',
  collected: 'with the licensed collection',
  sent: 'sent',
};

/** Every cell in the shop: how it is stored, what a parcel may carry of it, and where it went. */
export default function Cells() {
  const { data, problem, reload } = useLoad<ShopCell[]>('/closing/cells');
  const [open, setOpen] = useState<string | null>(null);
  if (!data) return problem ? <ProblemNote>{problem}</ProblemNote> : <Loading what="the cells" />;
  const here = data.filter((c) => c.state === 'stored' || c.state === 'boxed');
  const gone = data.filter((c) => !here.includes(c));
  const chosen = data.find((c) => c.id === open) ?? null;
  return (
    <div className="mx-auto grid max-w-7xl gap-4">
      <div>
        <h1 className="text-3xl font-bold">Cells</h1>
        <p className="text-quiet">
          Stored at {STORAGE_CHARGE[0]} to {STORAGE_CHARGE[1]} %, contacts covered. What is hurt lies in sand, and
          leaves only with the licensed collection. Local rules decide.
        </p>
      </div>
      <div className="grid gap-4 lg:grid-cols-[minmax(0,1fr)_24rem]">
        <section aria-label="In the shop" className="grid content-start gap-2">
          {here.length === 0 && (
            <p className="panel p-5">
              No cell lies here. One comes in with every job that takes a cell out, or by hand.
            </p>
          )}
          <ul className="grid gap-2">
            {here.map((c) => (
              <Line key={c.id} cell={c} open={c.id === open} toggle={() => setOpen(c.id === open ? null : c.id)} />
            ))}
          </ul>
          {gone.length > 0 && (
            <details className="panel p-4">
              <summary className="min-h-12 cursor-pointer content-center font-semibold">
                Gone, <span className="num">{gone.length}</span>
              </summary>
              <ul className="grid gap-1">
                {gone.map((c) => (
                  <li key={c.id}>
                    {c.label}: {STATE_WORDS[c.state]}, {c.gone}, {c.changedAt.slice(0, 10)}
                  </li>
                ))}
              </ul>
            </details>
          )}
        </section>
        <div className="grid content-start gap-4">
          {chosen && <Change key={`${chosen.id} ${chosen.revision}`} cell={chosen} done={reload} />}
          <Add done={reload} />
        </div>
      </div>
    </div>
  );
}

function Line({ cell, open, toggle }: { cell: ShopCell; open: boolean; toggle: () => void }) {
  const transport = transportOf(cell, cell.damaged);
  const high = cell.charge !== null && cell.charge > STORAGE_CHARGE[1];
  return (
    <li>
      <button
        type="button"
        aria-pressed={open}
        onClick={toggle}
        data-cell={cell.state}
        className={`panel grid w-full grid-cols-[minmax(0,1fr)_auto_auto] items-center gap-x-5 border-l-8 px-5 py-3 text-left ${cell.damaged ? 'border-crimson' : 'border-teal'} ${open ? 'outline-3 outline-petrol' : ''}`}
      >
        <span>
          <b>{cell.label}</b>
          <span className="block text-sm text-quiet">
            {STATE_WORDS[cell.state]}
            {cell.box && `, ${cell.box}`}; {cell.createdAt.slice(0, 10)}, {cell.by}
          </span>
        </span>
        <span className="num text-xl font-semibold">
          {wattHoursOf(cell).pack.toFixed(1)} <span className="text-base font-normal text-quiet">Wh</span>
        </span>
        <span className={`text-right ${cell.damaged || high ? 'font-semibold text-crimson' : ''}`}>
          {cell.damaged ? 'hurt' : transport.class}
          <span className="num block text-sm">
            {cell.charge === null ? 'charge not read' : `${cell.charge} %${high ? ', too high' : ''}`}
          </span>
        </span>
      </button>
    </li>
  );
}

function Change({ cell, done }: { cell: ShopCell; done: () => void }) {
  const [state, setState] = useState(cell.state);
  const [charge, setCharge] = useState(cell.charge === null ? '' : String(cell.charge));
  const [box, setBox] = useState(cell.box);
  const [goneTo, setGone] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const transport = transportOf(cell, cell.damaged);
  const states: CellStateKind[] =
    cell.state === 'boxed' ? ['boxed', 'collected'] : ['stored', 'boxed', 'collected', 'sent'];
  const percent = charge.trim() === '' ? null : readNumber(charge);
  const wrong = charge.trim() !== '' && (percent === null || percent < 0 || percent > 100);
  const leaves = state === 'collected' || state === 'sent';
  const keep = async (e: FormEvent) => {
    e.preventDefault();
    try {
      await api(`/closing/cells/${cell.id}`, {
        method: 'PUT',
        json: { state, charge: percent, box: box.trim(), gone: goneTo.trim(), by: technicianNow() ?? undefined },
        ifMatch: cell.revision,
      });
      done();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Panel id="change" title={cell.label}>
      <ul className="grid gap-1 text-sm">
        {transport.mayGo.map((w) => (
          <li key={w}>○ {w}</li>
        ))}
        {transport.never.map((w) => (
          <li key={w} className="font-semibold text-crimson">
            ✗ {w}
          </li>
        ))}
        <li className="text-quiet">
          Alone {transport.numbers.alone}, with or in a device {transport.numbers.within}. {transport.source}.
        </li>
      </ul>
      <form className="grid gap-3" onSubmit={(e) => void keep(e)}>
        <label>
          <span className="label">It is now</span>
          <select className="field" value={state} onChange={(e) => setState(e.target.value as CellStateKind)}>
            {states.map((s) => (
              <option key={s} value={s}>
                {STATE_WORDS[s]}
              </option>
            ))}
          </select>
        </label>
        <div className="grid grid-cols-2 gap-3">
          <label>
            <span className="label">Charge, %</span>
            <input
              className="field num"
              inputMode="decimal"
              value={charge}
              aria-invalid={wrong}
              onChange={(e) => setCharge(e.target.value)}
            />
          </label>
          <label>
            <span className="label">Box</span>
            <input className="field" value={box} maxLength={80} onChange={(e) => setBox(e.target.value)} />
          </label>
        </div>
        {leaves && (
          <label>
            <span className="label">
              {state === 'sent' ? 'How it was sent, and to whom' : 'Who took it, and its paper'}
            </span>
            <input className="field" value={goneTo} maxLength={160} onChange={(e) => setGone(e.target.value)} />
          </label>
        )}
        {state === 'sent' && percent !== null && percent > FLOWN_CHARGE && (
          <p className="text-ember">Alone and by air at most {FLOWN_CHARGE} % (from memory); draw it down first.</p>
        )}
        {problem && <ProblemNote>{problem}</ProblemNote>}
        <Button type="submit" weight="main" disabled={wrong || (leaves && goneTo.trim() === '')}>
          Record
        </Button>
      </form>
    </Panel>
  );
}

function Add({ done }: { done: () => void }) {
  const [label, setLabel] = useState('');
  const [volts, setVolts] = useState('3.85');
  const [mah, setMah] = useState('');
  const [cells, setCells] = useState('1');
  const [damaged, setDamaged] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const [v, a, n] = [readNumber(volts), readNumber(mah), readNumber(cells)];
  const fits =
    label.trim() !== '' && v !== null && v >= 1 && a !== null && a > 0 && n !== null && Number.isInteger(n) && n >= 1;
  const keep = async (e: FormEvent) => {
    e.preventDefault();
    try {
      await api('/closing/cells', {
        json: { label: label.trim(), volts: v, milliampHours: a, cells: n, damaged, by: technicianNow() ?? undefined },
      });
      setLabel('');
      setProblem(null);
      done();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Panel id="add-cell" title="A cell by hand">
      <form className="grid gap-3" onSubmit={(e) => void keep(e)}>
        <label>
          <span className="label">What it is</span>
          <input className="field" value={label} maxLength={160} onChange={(e) => setLabel(e.target.value)} />
        </label>
        <div className="grid grid-cols-3 gap-3">
          <label>
            <span className="label">V</span>
            <input className="field num" inputMode="decimal" value={volts} onChange={(e) => setVolts(e.target.value)} />
          </label>
          <label>
            <span className="label">mAh</span>
            <input className="field num" inputMode="decimal" value={mah} onChange={(e) => setMah(e.target.value)} />
          </label>
          <label>
            <span className="label">Cells</span>
            <input className="field num" inputMode="numeric" value={cells} onChange={(e) => setCells(e.target.value)} />
          </label>
        </div>
        <Check checked={damaged} onChange={(e) => setDamaged(e.target.checked)}>
          it is hurt, swollen or was hot
        </Check>
        {problem && <ProblemNote>{problem}</ProblemNote>}
        <Button type="submit" disabled={!fits}>
          Into the log
        </Button>
      </form>
    </Panel>
  );
}
