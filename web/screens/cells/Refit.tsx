import { useState } from 'react';
import { CELL_MARKS, REMOVALS, type CellMark, type Removal } from '../../../core/cells/index.ts';
import {
  isOver,
  cellJudgement,
  cellKey,
  type EventBody,
  type RunState,
  type WhichCell,
} from '../../../core/run/index.ts';
import { Button, Check } from '../../controls/index.tsx';
import { useEmergency } from '../../state/emergency.ts';
import { Panel } from '../counter/Panel.tsx';
import { BY_ID, spoken, tell } from '../../../words/index.ts';

const VERDICT = {
  refit: ['✓ It may go back', 'border-moss', 'text-moss'],
  renew: ['It does not go back: a new one goes in', 'border-ember', 'text-ember'],
  unfit: ['✗ It is waste: into the sand box', 'border-crimson', 'text-crimson'],
} as const;

/** How the cell came out and what is seen of it, and what follows. */
export function Refit({
  state,
  cell,
  of,
  record,
}: {
  state: RunState;
  cell: string;
  of: WhichCell;
  record: (bodies: EventBody[]) => boolean;
}) {
  const raise = useEmergency((s) => s.raise);
  const known = state.care.cells.get(cellKey(cell, of));
  const [removal, setRemoval] = useState<Removal | ''>(known?.seen?.removal ?? (of === 'new' ? 'loose' : ''));
  const [marks, setMarks] = useState<CellMark[]>([...(known?.seen?.marks ?? [])]);
  const [box, setBox] = useState('');
  const { refit } = cellJudgement(state, cell, of);
  const open = !isOver(state);
  return (
    <Panel id="refit" title={of === 'old' ? 'May it go back?' : 'May it go in?'}>
      {refit && (
        <div role="status" className={`border-l-8 pl-4 ${VERDICT[refit.verdict][1]}`}>
          <p className={`text-xl font-semibold ${VERDICT[refit.verdict][2]}`}>{VERDICT[refit.verdict][0]}</p>
          <ul>
            {refit.reasons.map((r) => (
              <li key={JSON.stringify(r)}>{tell(BY_ID, r)}</li>
            ))}
          </ul>
        </div>
      )}
      {open && (
        <>
          {of === 'old' && (
            <label>
              <span className="label">How it came out</span>
              <select className="field" value={removal} onChange={(e) => setRemoval(e.target.value as Removal)}>
                <option value="" disabled>
                  Choose
                </option>
                {REMOVALS.map((r) => (
                  <option key={r} value={r}>
                    {spoken.removals[r]}
                  </option>
                ))}
              </select>
            </label>
          )}
          <fieldset>
            <legend className="label">What is seen of it, on both sides and along its rim</legend>
            <div className="grid grid-cols-2 gap-x-4">
              {CELL_MARKS.map((m) => (
                <Check
                  key={m}
                  checked={marks.includes(m)}
                  onChange={(e) => setMarks(e.target.checked ? [...marks, m] : marks.filter((x) => x !== m))}
                >
                  {spoken.marks[m]}
                </Check>
              ))}
            </div>
          </fieldset>
          <p className="flex flex-wrap items-center gap-3">
            <Button
              weight="main"
              disabled={removal === ''}
              onClick={() => removal !== '' && record([{ type: 'cell-seen', cell, of, removal, marks }])}
            >
              {marks.length === 0 ? 'Flawless: record it' : 'Record what is seen'}
            </Button>
            {removal === '' && <span className="text-quiet">say how it came out</span>}
          </p>
        </>
      )}
      {marks.some((m) => m === 'swollen' || m === 'hot' || m === 'punctured' || m === 'leaking') && (
        <p>
          <Button weight="danger" onClick={raise}>
            What to do now
          </Button>
        </p>
      )}
      {known?.boxed ? (
        <p className="font-semibold">
          It lies in {known.boxed.box}. {known.boxed.why}
        </p>
      ) : (
        <form
          className="flex flex-wrap items-end gap-3 border-t border-line pt-3"
          onSubmit={(e) => {
            e.preventDefault();
            if (
              box.trim() &&
              record([
                { type: 'cell-boxed', cell, of, box: box.trim(), why: refit ? tell(BY_ID, refit.reasons[0]!) : '' },
              ])
            )
              setBox('');
          }}
        >
          <label className="min-w-40 flex-1">
            <span className="label">Put into sand box</span>
            <input
              className="field"
              value={box}
              maxLength={80}
              placeholder="Sand box 1"
              onChange={(e) => setBox(e.target.value)}
            />
          </label>
          <Button type="submit" disabled={!box.trim()}>
            Record it
          </Button>
        </form>
      )}
    </Panel>
  );
}
