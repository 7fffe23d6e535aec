import { useState } from 'react';
import {
  drawSeconds,
  CHARGE_LIMIT,
  DRAW_WARMEST,
  OWN_DRAWS,
  ownLoad,
  ratingOf,
  transportOf,
  wantedCell,
  wattHoursOf,
} from '../../../core/cells/index.ts';
import type { Model } from '../../../core/anatomy/index.ts';
import { tapeHint, stripsUnder, type HouseRules } from '../../../core/dive/index.ts';
import { BONDS } from '../../../core/kinds/index.ts';
import { cellKey, isOver, type WhichCell } from '../../../core/run/index.ts';
import { minutes, readNumber } from '../../../core/units/index.ts';
import { Button, Measure } from '../../controls/index.tsx';
import { useRunOf } from '../../state/run.ts';
import { Panel } from '../counter/Panel.tsx';
import { beginWait } from '../closing/Waits.tsx';
import { Health } from './Health.tsx';
import { NewCellCheck } from './NewCellCheck.tsx';
import { Refit } from './Refit.tsx';
import { Transplant } from './Transplant.tsx';
import { spoken, tell } from '../../../words/index.ts';

/** The cell of a job: drawn down before, judged, renewed or refitted, and where it goes. */
export default function JobCell() {
  const { job, context, state, record, refusal } = useRunOf('job', 'context', 'state', 'record', 'refusal');
  const [of, setOf] = useState<WhichCell>('old');
  const [which, setWhich] = useState<string | null>(null);
  if (!job || !context || !state) return null;
  const { model, plan } = context;
  const cells = model.anatomy.parts.filter((p) => p.kind === 'battery');
  const cell = cells.find((p) => p.id === which) ?? cells.find((p) => plan.renew.includes(p.id)) ?? cells[0];
  if (!cell) return <p className="panel p-5 text-lg">This device has no cell.</p>;
  const rating = ratingOf(model.anatomy, cell.id);
  return (
    <div className="grid gap-4">
      <div className="flex flex-wrap items-center gap-2" role="group" aria-label="Which cell">
        {cells.length > 1 && (
          <select
            aria-label="Which of its cells"
            className="min-h-12 rounded-lg border-2 border-line bg-panel px-3"
            value={cell.id}
            onChange={(e) => setWhich(e.target.value)}
          >
            {cells.map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
          </select>
        )}
        {(['old', 'new'] as const).map((age) => (
          <button
            key={age}
            type="button"
            aria-pressed={of === age}
            onClick={() => setOf(age)}
            className={`min-h-12 rounded-lg border-2 px-4 ${of === age ? 'border-petrol bg-panel font-semibold' : 'border-line'}`}
          >
            {age === 'old' ? 'The cell it came with' : 'The new cell'}
          </button>
        ))}
        <p className="ml-auto flex flex-wrap gap-x-6">
          <Measure
            value={wattHoursOf(rating).pack.toFixed(1)}
            unit="Wh"
            label={`${rating.volts} V, ${rating.milliampHours} mAh`}
          />
          <Measure value={transportOf(rating).class} label="cell, for a parcel" />
        </p>
      </div>
      {refusal && (
        <p role="alert" className="font-semibold text-crimson">
          {tell(context.model, refusal.said)}
        </p>
      )}
      <div className="grid gap-4 lg:grid-cols-2">
        <div className="grid content-start gap-4">
          {of === 'old' ? (
            <DrawDown key={cell.id} cell={cell.id} />
          ) : (
            <NewCellCheck
              key={cell.id}
              model={model}
              part={cell.id}
              rules={plan.rules}
              wanted={tell(model, wantedCell(model, cell.id))}
              strips={stripsUnderCell(model, cell.id, plan.rules)}
            />
          )}
          <Health key={cell.id} state={state} job={job.id} cell={cell.id} of={of} record={record} />
        </div>
        <div className="grid content-start gap-4">
          <Refit key={`${cell.id} ${of}`} state={state} cell={cell.id} of={of} record={record} />
          <Transplant state={state} cell={cell.id} />
        </div>
      </div>
    </div>
  );
}

/** The tape under a cell, in words, where the shop cuts it itself. */
const stripsUnderCell = (model: Model, cell: string, rules: HouseRules): string[] =>
  model.anatomy.bonds
    .filter((b) => b.joins.includes(cell) && BONDS.of(b.kind).sticks)
    .flatMap((b) => {
      const plan = stripsUnder(model, b, rules);
      return plan ? [`${model.nameOf(b.id)}: ${tell(model, tapeHint(plan))}`] : [];
    });

/** The cell by a thermometer while it is drawn down: above the limit the load comes off at once. */
function CellWarmth() {
  const { state, record } = useRunOf('state', 'record');
  const [text, setText] = useState('');
  const last = state!.readings.findLast((r) => r.sensor === CELL_SENSOR);
  const value = readNumber(text);
  const hot = last !== undefined && last.value > DRAW_WARMEST;
  return (
    <>
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (value !== null && record([{ type: 'reading', sensor: CELL_SENSOR, value, unit: '°C' }])) setText('');
        }}
      >
        <label className="w-32">
          <span className="label">Cell now, °C</span>
          <input className="field num" inputMode="decimal" value={text} onChange={(e) => setText(e.target.value)} />
        </label>
        <Button type="submit" disabled={value === null}>
          Record
        </Button>
        {last && (
          <span className="pb-3">
            last <b className="num">{last.value} °C</b>
          </span>
        )}
      </form>
      {hot && (
        <p role="alert" className="border-l-8 border-crimson pl-4 text-lg font-semibold text-crimson">
          Too warm: take the load off now, and let it cool below {DRAW_WARMEST} °C. If it goes on getting warmer, F8.
        </p>
      )}
    </>
  );
}

/** What the cell's own thermometer is called in the record. */
const CELL_SENSOR = 'cell';

/** How long until the cell is below the limit, by which load, beside other work. */
function DrawDown({ cell }: { cell: string }) {
  const { context, state, record } = useRunOf('context', 'state', 'record');
  const model = context!.model;
  const rules = context!.plan.rules;
  const known = state!.care.cells.get(cellKey(cell, 'old'))?.measured.get('charge')?.value;
  const [charge, setCharge] = useState(String(known ?? context!.plan.condition.charge ?? ''));
  const [load, setLoad] = useState(String(rules.dischargeWatts ?? ownLoad(model.anatomy.kind)));
  const unread = charge.trim() === '';
  const [percent, watts] = [unread ? 100 : readNumber(charge), readNumber(load)];
  const fits = percent !== null && percent >= 0 && percent <= 100 && watts !== null && watts > 0 && watts <= 500;
  const seconds = fits ? drawSeconds(ratingOf(model.anatomy), percent, CHARGE_LIMIT, watts) : null;
  return (
    <Panel id="draw-down" title={`Below ${CHARGE_LIMIT} % before it is heated or pried`}>
      <div className="flex flex-wrap items-end gap-3">
        <label className="w-32">
          <span className="label">Charge, %</span>
          <input className="field num" inputMode="decimal" value={charge} onChange={(e) => setCharge(e.target.value)} />
        </label>
        <label className="w-32">
          <span className="label">Load, W</span>
          <input className="field num" inputMode="decimal" value={load} onChange={(e) => setLoad(e.target.value)} />
        </label>
        {seconds !== null && (
          <Measure
            value={seconds === 0 ? 'now' : Number.isFinite(seconds) ? minutes(seconds) : 'never'}
            label={
              seconds === 0
                ? 'it is below already'
                : Number.isFinite(seconds)
                  ? 'until then'
                  : 'it cannot give that load'
            }
          />
        )}
      </div>
      {unread && <p className="text-quiet">Not read: it counts as full.</p>}
      {!fits && <p className="text-crimson">A charge from 0 to 100 %, and a load above 0 W.</p>}
      <p className="text-sm text-quiet">
        By itself: {OWN_DRAWS[model.anatomy.kind].map((d) => `${spoken.draws[d.way]} ${d.watts} W`).join(', ')}; own
        estimates. Watched: above {DRAW_WARMEST} °C it is stopped. A reading ends it, not the clock.
      </p>
      <CellWarmth />
      {!isOver(state!) && (
        <p className="flex flex-wrap gap-2">
          <Button
            disabled={!fits || unread}
            onClick={() =>
              record([
                {
                  type: 'cell-measured',
                  cell,
                  of: 'old',
                  measure: 'charge',
                  value: percent!,
                  half: null,
                  hours: null,
                },
              ])
            }
          >
            Record {charge || '…'} %
          </Button>
          <Button
            disabled={!fits || !seconds || !Number.isFinite(seconds)}
            onClick={() => record([beginWait({ kind: 'drawing-down', what: 'Cell', item: cell, seconds: seconds! })])}
          >
            Time it, beside other work
          </Button>
        </p>
      )}
    </Panel>
  );
}
