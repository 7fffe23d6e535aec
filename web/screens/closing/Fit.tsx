import { useState } from 'react';
import { FIT_LIMITS, FIT_POINTS, type FitPoint, type FitReadings } from '../../../core/closing/index.ts';
import { isOver, fitOf, type EventBody, type RunState } from '../../../core/run/index.ts';
import { readNumber } from '../../../core/units/index.ts';
import { Button } from '../../controls/index.tsx';
import { Panel } from '../counter/Panel.tsx';
import { BY_ID, tell } from '../../../words/index.ts';

/** Where each point stands in a field of three by three, as the panel is looked at. */
const PLACES: Record<FitPoint, string> = {
  'top-left': 'col-start-1 row-start-1',
  top: 'col-start-2 row-start-1',
  'top-right': 'col-start-3 row-start-1',
  right: 'col-start-3 row-start-2',
  'bottom-right': 'col-start-3 row-start-3',
  bottom: 'col-start-2 row-start-3',
  'bottom-left': 'col-start-1 row-start-3',
  left: 'col-start-1 row-start-2',
};

type Texts = Record<FitPoint, { gap: string; step: string }>;
const empty = (): Texts => Object.fromEntries(FIT_POINTS.map((at) => [at, { gap: '', step: '' }])) as Texts;

/** Gap and step at eight points, and what they say. */
export function Fit({
  state,
  panels,
  record,
}: {
  state: RunState;
  panels: string[];
  record: (bodies: EventBody[]) => boolean;
}) {
  const [panel, setPanel] = useState(panels[0] ?? '');
  const [texts, setTexts] = useState(empty);
  const verdict = panel ? fitOf(state, panel) : null;
  const read = FIT_POINTS.map(
    (at) => [at, { gap: readNumber(texts[at].gap), step: readNumber(texts[at].step) }] as const,
  );
  const whole = read.every(([, r]) => r.gap !== null && r.gap >= 0 && r.step !== null);
  const keep = () => {
    if (record([{ type: 'fit-measured', panel, readings: Object.fromEntries(read) as FitReadings }])) setTexts(empty());
  };
  if (panels.length === 0) return null;
  return (
    <Panel id="fit" title="Fit">
      <p className="text-quiet">
        Surfaces clean and dry before, meshes pressed 10 s, the frame straight. Afterwards: gap with a feeler, step with
        a caliper, up is more than 0. Flush is within <span className="num">{FIT_LIMITS.step}</span> mm.
      </p>
      {panels.length > 1 && (
        <label>
          <span className="label">Panel</span>
          <select className="field" value={panel} onChange={(e) => setPanel(e.target.value)}>
            {panels.map((id) => (
              <option key={id} value={id}>
                {state.context.model.nameOf(id)}
              </option>
            ))}
          </select>
        </label>
      )}
      <div className="grid grid-cols-3 gap-2">
        <span className="col-start-2 row-start-2 grid place-items-center rounded-lg bg-sunk p-2 text-center text-sm text-quiet">
          {state.context.model.nameOf(panel)}
        </span>
        {FIT_POINTS.map((at) => (
          <fieldset key={at} className={`grid gap-1 rounded-lg bg-sunk p-2 ${PLACES[at]}`}>
            <legend className="sr-only">{at}</legend>
            {(['gap', 'step'] as const).map((kind) => (
              <label key={kind} className="grid grid-cols-[2.6rem_minmax(0,1fr)] items-center gap-1 text-sm">
                {kind}
                <input
                  className="field num min-h-12 px-2"
                  inputMode="decimal"
                  aria-label={`${at}, ${kind}, mm`}
                  value={texts[at][kind]}
                  aria-invalid={texts[at][kind] !== '' && readNumber(texts[at][kind]) === null}
                  onChange={(e) => setTexts({ ...texts, [at]: { ...texts[at], [kind]: e.target.value } })}
                />
              </label>
            ))}
          </fieldset>
        ))}
      </div>
      <p className="flex flex-wrap items-center gap-3">
        <Button weight="main" disabled={!whole || isOver(state)} onClick={keep}>
          Record the fit
        </Button>
        {!whole && <span className="text-quiet">all eight points, in mm</span>}
      </p>
      {verdict && (
        <div role="status" className={`border-l-8 pl-4 ${verdict.flush ? 'border-moss' : 'border-crimson'}`}>
          <p className={`text-lg font-semibold ${verdict.flush ? 'text-moss' : 'text-crimson'}`}>
            {verdict.flush ? '✓ Flush all round' : '✗ Not flush'}
          </p>
          <p>
            Worst step <b className="num">{verdict.worst.step.toFixed(2)} mm</b> at {verdict.worst.at}; it leans{' '}
            <span className="num">{verdict.plane.degrees.toFixed(2)}°</span>; gaps differ by{' '}
            <span className="num">{verdict.gapSpread.toFixed(2)}</span> mm.
          </p>
          {verdict.says.map((s) => (
            <p key={s.cause}>
              <b>{CAUSE_WORDS[s.cause]}:</b> {tell(BY_ID, s.because)}.
            </p>
          ))}
        </div>
      )}
    </Panel>
  );
}

const CAUSE_WORDS = {
  'bent-frame': 'Frame bent or twisted',
  'swollen-cell': 'Cell swollen',
  'liner-left': 'Liner left on',
  'flex-pinched': 'Flex pinched',
  'pressed-unevenly': 'Pressed unevenly',
} as const;
