import { useState } from 'react';
import type { Model } from '../../../core/anatomy/index.ts';
import { compareCell, ratingOf, type CellFit, type NewCell } from '../../../core/cells/index.ts';
import type { HouseRules } from '../../../core/dive/index.ts';
import { readNumber } from '../../../core/units/index.ts';
import { Button, Check } from '../../controls/index.tsx';
import { useRunOf } from '../../state/run.ts';
import { Panel } from '../counter/Panel.tsx';
import { spoken, tell } from '../../../words/index.ts';

const GRADE = { fits: ['✓', 'text-moss'], look: ['○', 'text-ember'], no: ['✗', 'text-crimson'] } as const;

/** What was compared, as a note of the record. */
const noteOf = (model: Model, found: readonly CellFit[]): string =>
  `New cell compared: ${found.map((f) => `${GRADE[f.grade][0]} ${spoken.measures[f.of]}, ${tell(model, f.says)}`).join('; ')}`.slice(
    0,
    2000,
  );

/** A new cell against the old one, before it is tried in its bay. */
export function NewCellCheck({
  model,
  part,
  rules,
  wanted,
  strips,
}: {
  model: Model;
  part: string;
  rules: HouseRules;
  wanted: string;
  strips: string[];
}) {
  const { record } = useRunOf('record');
  const old = ratingOf(model.anatomy, part);
  const [texts, setTexts] = useState({
    volts: String(old.volts),
    milliampHours: String(old.milliampHours),
    chargeVolts: '',
    width: '',
    height: '',
    thickness: '',
    made: '',
    restVolts: '',
  });
  const [same, setSame] = useState({ samePlug: true, sameFlex: true });
  const number = (key: keyof typeof texts) => readNumber(texts[key]);
  const sizes = (['width', 'height', 'thickness'] as const).map(number);
  const [volts, milliampHours] = [number('volts'), number('milliampHours')];
  const cell: NewCell | null =
    volts !== null && volts > 0 && milliampHours !== null && milliampHours > 0
      ? {
          volts,
          milliampHours,
          cells: old.cells,
          chargeVolts: number('chargeVolts'),
          size: sizes.every((s) => s !== null && s > 0)
            ? { width: sizes[0]!, height: sizes[1]!, thickness: sizes[2]! }
            : null,
          made: /^\d{4}-\d\d$/.test(texts.made) ? texts.made : null,
          restVolts: number('restVolts'),
          ...same,
        }
      : null;
  const found = cell
    ? compareCell(model, part, cell, rules.cells.chargeVolts[model.anatomy.id] ?? null, new Date())
    : [];
  const field = (key: keyof typeof texts, label: string, type: 'number' | 'month' = 'number') => (
    <label className="w-32" key={key}>
      <span className="label">{label}</span>
      <input
        className="field num"
        type={type === 'month' ? 'month' : 'text'}
        inputMode={type === 'number' ? 'decimal' : undefined}
        value={texts[key]}
        onChange={(e) => setTexts({ ...texts, [key]: e.target.value })}
      />
    </label>
  );
  return (
    <Panel id="new-cell" title="The new one against the old">
      <p className="text-quiet">Its label should say {wanted}. What is left empty is not judged.</p>
      <div className="flex flex-wrap gap-3">
        {field('volts', 'Nominal, V')}
        {field('milliampHours', 'mAh')}
        {field('chargeVolts', 'Charged to, V')}
        {field('width', 'Wide, mm')}
        {field('height', 'High, mm')}
        {field('thickness', 'Thick, mm')}
        {field('made', 'Made', 'month')}
        {field('restVolts', 'As it came, V')}
      </div>
      <div className="flex flex-wrap gap-x-6">
        <Check checked={same.samePlug} onChange={(e) => setSame({ ...same, samePlug: e.target.checked })}>
          its plug is the same
        </Check>
        <Check checked={same.sameFlex} onChange={(e) => setSame({ ...same, sameFlex: e.target.checked })}>
          its flex lies the same way
        </Check>
      </div>
      <ul className="grid gap-1" aria-label="What was compared">
        {found.map((f) => (
          <li key={JSON.stringify(f.says)} className={f.grade === 'no' ? 'border-l-4 border-crimson pl-2' : ''}>
            <b className={GRADE[f.grade][1]}>
              {GRADE[f.grade][0]} {spoken.measures[f.of]}
            </b>
            : {tell(model, f.says)}
          </li>
        ))}
      </ul>
      {found.length > 0 && (
        <p>
          <Button onClick={() => record([{ type: 'note', step: null, text: noteOf(model, found) }])}>
            Record what was compared
          </Button>
        </p>
      )}
      {strips.length > 0 && (
        <p className="text-sm text-quiet">Under it: {strips.join('; ')}. Cut them under Closing.</p>
      )}
      {found.some((f) => f.grade === 'no') && (
        <p role="status" className="text-lg font-semibold text-crimson">
          This cell does not go in.
        </p>
      )}
    </Panel>
  );
}
