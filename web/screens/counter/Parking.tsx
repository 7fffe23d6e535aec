import { useState } from 'react';
import { isOver, isClosed, PARKED_WHYS, type ParkedWhy, type RunState } from '../../../core/run/index.ts';
import { Button } from '../../controls/index.tsx';
import { useRunOf } from '../../state/run.ts';
import { useShop } from '../../state/shop.ts';
import { Panel } from './Panel.tsx';
import { tell, spoken } from '../../../words/index.ts';

/** A job that waits: where everything lies, and who goes on with it. */
export function Parking({ state }: { state: RunState }) {
  const { record, refusal } = useRunOf('record', 'refusal');
  const technicians = useShop((s) => s.shop?.technicians) ?? [];
  const [why, setWhy] = useState<ParkedWhy>('part-ordered');
  const [where, setWhere] = useState('');
  const [note, setNote] = useState('');
  const [to, setTo] = useState('');
  const { parked, holder } = state.counter;
  if (isOver(state)) return null;
  if (parked)
    return (
      <Panel id="parked" title="Parked">
        <p className="text-lg">
          It lies at <b>{parked.where}</b>: {spoken.parked[parked.why]}. {parked.note}
        </p>
        <p>
          <Button weight="main" onClick={() => record([{ type: 'resumed' }])}>
            Take it up again
          </Button>
        </p>
      </Panel>
    );
  const done = () => {
    setWhere('');
    setNote('');
  };
  return (
    <Panel id="parked" title="Park it, or hand it on">
      {holder && (
        <p>
          {holder.name} has it; it lies at {holder.where}. {holder.note}
        </p>
      )}
      {!isClosed(state) && (
        <p className="text-quiet">
          An open device is isolated, covered and bagged with its tray; what hangs is propped or taped. Then say where.
        </p>
      )}
      <div className="grid gap-3 sm:grid-cols-2">
        <label>
          <span className="label">Where it lies, with its tray and parts</span>
          <input className="field" value={where} maxLength={200} onChange={(e) => setWhere(e.target.value)} />
        </label>
        <label>
          <span className="label">What the next one has to know</span>
          <input className="field" value={note} maxLength={400} onChange={(e) => setNote(e.target.value)} />
        </label>
        <label>
          <span className="label">Why it waits</span>
          <select className="field" value={why} onChange={(e) => setWhy(e.target.value as ParkedWhy)}>
            {PARKED_WHYS.map((w) => (
              <option key={w} value={w}>
                {spoken.parked[w]}
              </option>
            ))}
          </select>
        </label>
        <label>
          <span className="label">Who goes on</span>
          <select className="field" value={to} onChange={(e) => setTo(e.target.value)}>
            <option value="">nobody else</option>
            {technicians.map((t) => (
              <option key={t}>{t}</option>
            ))}
          </select>
        </label>
      </div>
      <div className="flex flex-wrap gap-2">
        <Button
          disabled={where.trim() === ''}
          onClick={() => record([{ type: 'parked', why, where: where.trim(), note }]) && done()}
        >
          Park it
        </Button>
        <Button
          disabled={where.trim() === '' || to === ''}
          onClick={() => record([{ type: 'handed-on', to, where: where.trim(), note }]) && done()}
        >
          Hand it on
        </Button>
      </div>
      {refusal && (
        <p role="alert" className="font-semibold text-crimson">
          {tell(state.context.model, refusal.said)}
        </p>
      )}
    </Panel>
  );
}
