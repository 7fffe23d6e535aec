import { useState } from 'react';
import { Plus, X } from 'lucide-react';
import { USUAL_TESTER, type ClosingBench } from '../../../core/closing/index.ts';
import {
  FEWEST_COUPONS,
  provedWelds,
  type CellRules,
  type TransplantRules,
  type WeldRecord,
} from '../../../core/cells/index.ts';
import type { HouseRules } from '../../../core/dive/index.ts';
import { isWithin, type Bounds } from '../../../core/format/index.ts';
import { readNumber } from '../../../core/units/index.ts';
import { Button, Check } from '../../controls/index.tsx';
import { boundsSaid, ruleLimits } from '../../controls/bounds.ts';
import { NumberField } from '../../controls/NumberField.tsx';
import { technicianNow, useShop } from '../../state/shop.ts';

interface Fields {
  rules: HouseRules;
  set: (rules: Partial<HouseRules>) => void;
}

/** Numbers in a row, with spaces between; what does not fit is said beside it, and not taken. */
function NumbersField({
  label,
  values,
  bounds,
  onChange,
}: {
  label: string;
  values: readonly number[];
  bounds: Bounds;
  onChange: (values: number[]) => void;
}) {
  const [text, setText] = useState(values.join('  '));
  const read =
    text.trim() === ''
      ? []
      : text
          .trim()
          .split(/[;\s]+/)
          .map(readNumber);
  const wrong = read.some((v) => v === null || !isWithin(bounds, v));
  return (
    <label className="min-w-48 flex-1">
      <span className="label">{label}</span>
      <input
        className="field num"
        value={text}
        aria-invalid={wrong}
        onChange={(e) => {
          setText(e.target.value);
          const typed = e.target.value.trim();
          const next = typed === '' ? [] : typed.split(/[;\s]+/).map(readNumber);
          if (next.every((v) => v !== null && isWithin(bounds, v))) onChange([...next] as number[]);
        }}
      />
      {wrong && <span className="block text-sm text-crimson">each {boundsSaid(bounds)}, with spaces between</span>}
    </label>
  );
}

/** What the shop bonds and presses with. */
export function ClosingFields({ rules, set }: Fields) {
  const bench = rules.closing;
  const put = (part: Partial<ClosingBench>) => set({ closing: { ...bench, ...part } });
  const glue = (part: Partial<ClosingBench['glue']>) => put({ glue: { ...bench.glue, ...part } });
  return (
    <div className="grid gap-4">
      <div className="flex flex-wrap gap-3">
        <NumbersField
          label="Rolls of tape, mm wide"
          values={bench.rolls}
          bounds={ruleLimits('closing', 'rolls')}
          onChange={(rolls) => put({ rolls: [...new Set(rolls)] })}
        />
        <NumbersField
          label="Sheet of tape, mm × mm"
          values={bench.sheets[0] ?? []}
          bounds={ruleLimits('closing', 'sheets', '0')}
          onChange={([w, h]) => put({ sheets: w !== undefined && h !== undefined ? [[w, h]] : [] })}
        />
        <NumbersField
          label="Weights and shot bags, kg"
          values={bench.weights}
          bounds={ruleLimits('closing', 'weights')}
          onChange={(weights) => put({ weights })}
        />
        <NumberField
          label="Kept free, mm"
          value={bench.margin}
          bounds={ruleLimits('closing', 'margin')}
          onChange={(margin) => put({ margin })}
        />
      </div>
      <Check checked={bench.foamFrame} onChange={(e) => put({ foamFrame: e.target.checked })}>
        Foam frames are cut to the bond, so that a weight rests on it alone
      </Check>
      <fieldset className="grid gap-2">
        <legend className="label">Clips and bands</legend>
        {bench.clips.map((clip, i) => {
          const change = (part: Partial<typeof clip>) =>
            put({ clips: bench.clips.map((c, k) => (k === i ? { ...c, ...part } : c)) });
          return (
            <div key={i} className="flex flex-wrap items-end gap-3">
              <NumberField
                label="Clip, N"
                value={clip.newtons}
                bounds={ruleLimits('closing', 'clips', 'newtons')}
                onChange={(newtons) => change({ newtons })}
              />
              <NumberField
                label="Foot, mm"
                value={clip.foot}
                bounds={ruleLimits('closing', 'clips', 'foot')}
                onChange={(foot) => change({ foot })}
              />
              <NumberField
                label="How many"
                value={clip.count}
                bounds={ruleLimits('closing', 'clips', 'count')}
                onChange={(count) => change({ count })}
              />
              <Button
                weight="quiet"
                aria-label={`Without clip ${i + 1}`}
                onClick={() => put({ clips: bench.clips.filter((_, k) => k !== i) })}
              >
                <X aria-hidden="true" />
              </Button>
            </div>
          );
        })}
        <div className="flex flex-wrap items-end gap-3">
          <Button
            disabled={bench.clips.length >= 8}
            onClick={() => put({ clips: [...bench.clips, { newtons: 20, foot: 6, count: 8 }] })}
          >
            <Plus aria-hidden="true" />
            Another kind of clip
          </Button>
          <NumberField
            label="Band, N"
            value={bench.bands.newtons}
            bounds={ruleLimits('closing', 'bands', 'newtons')}
            onChange={(newtons) => put({ bands: { ...bench.bands, newtons } })}
          />
          <NumberField
            label="Bands"
            value={bench.bands.count}
            bounds={ruleLimits('closing', 'bands', 'count')}
            onChange={(count) => put({ bands: { ...bench.bands, count } })}
          />
        </div>
      </fieldset>
      <fieldset className="grid gap-2">
        <legend className="label">Liquid glue, by the sheet of the product at 23 °C and half humidity</legend>
        <div className="flex flex-wrap items-end gap-3">
          <label className="min-w-48 flex-1">
            <span className="label">Product, in the shop's words</span>
            <input
              className="field"
              value={bench.glue.name}
              maxLength={80}
              onChange={(e) => glue({ name: e.target.value })}
            />
          </label>
          <NumberField
            label="Skin, s"
            value={bench.glue.skin}
            bounds={ruleLimits('closing', 'glue', 'skin')}
            onChange={(skin) => glue({ skin })}
          />
          <NumberField
            label="Handled, s"
            value={bench.glue.handle}
            bounds={ruleLimits('closing', 'glue', 'handle')}
            onChange={(handle) => glue({ handle })}
          />
          <NumberField
            label="Cured, s"
            value={bench.glue.cure}
            bounds={ruleLimits('closing', 'glue', 'cure')}
            onChange={(cure) => glue({ cure })}
          />
          <NumberField
            label="Nozzle, mm"
            value={bench.glue.bore}
            bounds={ruleLimits('closing', 'glue', 'bore')}
            onChange={(bore) => glue({ bore })}
          />
          <NumberField
            label="Humidity, %"
            value={bench.humidity}
            bounds={ruleLimits('closing', 'humidity')}
            onChange={(humidity) => put({ humidity })}
          />
          <NumberField
            label="Threadlocker, s"
            value={bench.threadlock}
            bounds={ruleLimits('closing', 'threadlock')}
            onChange={(threadlock) => put({ threadlock })}
          />
        </div>
        <Check checked={bench.glue.byMoisture} onChange={(e) => glue({ byMoisture: e.target.checked })}>
          The water of the air cures it
        </Check>
      </fieldset>
      <label>
        <span className="label">Die-cut parts in stock, as device/bond, with spaces between</span>
        <input
          className="field"
          defaultValue={bench.dieCut.join(' ')}
          onChange={(e) => put({ dieCut: [...new Set(e.target.value.split(/\s+/).filter((w) => w.includes('/')))] })}
        />
      </label>
      <div className="flex flex-wrap items-end gap-3">
        <Check
          checked={bench.tester !== null}
          onChange={(e) => put({ tester: e.target.checked ? { ...USUAL_TESTER } : null })}
        >
          The shop has a pressure-decay tester (a simulated one stands in)
        </Check>
        {bench.tester && (
          <>
            <NumberField
              label="Air within, ml"
              value={bench.tester.millilitres}
              bounds={ruleLimits('closing', 'tester', 'millilitres')}
              onChange={(millilitres) => put({ tester: { ...bench.tester!, millilitres } })}
            />
            <NumberField
              label="give or take, ml"
              value={bench.tester.millilitresHalf ?? bench.tester.millilitres / 10}
              // The interval stays above nothing.
              bounds={{ ...ruleLimits('closing', 'tester', 'millilitresHalf'), most: bench.tester.millilitres * 0.99 }}
              onChange={(millilitresHalf) => put({ tester: { ...bench.tester!, millilitresHalf } })}
            />
            <NumberField
              label="Lets pass, ml/min"
              value={bench.tester.limit}
              bounds={ruleLimits('closing', 'tester', 'limit')}
              onChange={(limit) => put({ tester: { ...bench.tester!, limit } })}
            />
          </>
        )}
      </div>
    </div>
  );
}

const NONE: TransplantRules = { trained: [], pull: 20, welds: [] };

/** What the shop has settled about cells: nothing of it has a default. */
export function CellFields({ rules, set }: Fields) {
  const { cells } = rules;
  const names = useShop((s) => s.shop?.technicians) ?? [];
  const put = (part: Partial<CellRules>) => set({ cells: { ...cells, ...part } });
  const own = cells.transplant;
  const change = (part: Partial<TransplantRules>) => put({ transplant: { ...own!, ...part } });
  return (
    <div className="grid gap-3">
      <Check checked={own !== null} onChange={(e) => put({ transplant: e.target.checked ? NONE : null })}>
        New cells are moved to the old protection board here. Only for trained people; local rules decide whether at
        all.
      </Check>
      {own && (
        <div className="grid gap-3 border-l-8 border-crimson pl-4">
          <fieldset>
            <legend className="label">Trained for it</legend>
            <div className="flex flex-wrap gap-x-6">
              {names.map((name) => (
                <Check
                  key={name}
                  checked={own.trained.includes(name)}
                  onChange={(e) =>
                    change({
                      trained: e.target.checked ? [...own.trained, name] : own.trained.filter((n) => n !== name),
                    })
                  }
                >
                  {name}
                </Check>
              ))}
            </div>
          </fieldset>
          <NumberField
            label="A weld bears, N"
            value={own.pull}
            bounds={ruleLimits('cells', 'transplant', 'pull')}
            onChange={(pull) => change({ pull })}
          />
          <ul className="grid gap-1">
            {own.welds.map((w, i) => (
              <li key={`${w.machine} ${w.setting} ${w.date} ${i}`} className="flex items-center gap-2">
                <span className="flex-1">
                  {provedWelds({ ...own, welds: [w] }).length > 0 ? (
                    <b className="text-moss">✓ proved</b>
                  ) : (
                    <b className="text-crimson">✗ not proved</b>
                  )}{' '}
                  {w.machine}: {w.setting}, {w.strip}; coupons <span className="num">{w.coupons.join(', ')}</span> N,{' '}
                  {w.date}, {w.by}
                </span>
                <Button
                  weight="quiet"
                  aria-label={`Without ${w.machine}, ${w.setting}`}
                  onClick={() => change({ welds: own.welds.filter((_, k) => k !== i) })}
                >
                  <X aria-hidden="true" />
                </Button>
              </li>
            ))}
          </ul>
          <AddWeld add={(weld) => change({ welds: [...own.welds, weld] })} />
        </div>
      )}
    </div>
  );
}

/** A setting of the shop's own machine with the coupons that it was tried on. */
function AddWeld({ add }: { add: (weld: WeldRecord) => void }) {
  const [machine, setMachine] = useState('');
  const [setting, setSetting] = useState('');
  const [strip, setStrip] = useState('');
  const [coupons, setCoupons] = useState<number[]>([]);
  const [typed, setTyped] = useState(0);
  const whole = [machine, setting, strip].every((t) => t.trim() !== '') && coupons.length > 0;
  return (
    <div className="flex flex-wrap items-end gap-3" key={typed}>
      {(
        [
          ['Machine', machine, setMachine, 80],
          ['Setting, in its words', setting, setSetting, 200],
          ['Strip', strip, setStrip, 80],
        ] as const
      ).map(([label, value, change, most]) => (
        <label key={label} className="min-w-40 flex-1">
          <span className="label">{label}</span>
          <input className="field" value={value} maxLength={most} onChange={(e) => change(e.target.value)} />
        </label>
      ))}
      <NumbersField
        label={`Coupons, N (at least ${FEWEST_COUPONS})`}
        values={coupons}
        bounds={ruleLimits('cells', 'transplant', 'welds', 'coupons')}
        onChange={setCoupons}
      />
      <Button
        disabled={!whole}
        onClick={() => {
          const date = new Date().toISOString().slice(0, 10);
          add({
            machine: machine.trim(),
            setting: setting.trim(),
            strip: strip.trim(),
            coupons,
            date,
            by: technicianNow() ?? 'Lead',
          });
          setMachine('');
          setSetting('');
          setStrip('');
          setCoupons([]);
          setTyped(typed + 1);
        }}
      >
        Keep this weld
      </Button>
    </div>
  );
}
