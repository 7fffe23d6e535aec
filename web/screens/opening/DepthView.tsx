import { FileDown } from 'lucide-react';
import { useState } from 'react';
import type { Model } from '../../../core/anatomy/index.ts';
import type { HouseRules } from '../../../core/dive/index.ts';
import { entrySaid, type CutRun } from '../../../core/opening/index.ts';
import { minutes } from '../../../core/units/index.ts';
import { buttonClass, Check, Loading, Measure, ProblemNote } from '../../controls/index.tsx';
import { CautionLine } from '../../controls/CautionLine.tsx';
import { ruleLimits } from '../../controls/bounds.ts';
import { NumberField } from '../../controls/NumberField.tsx';
import { SeamDrawing, seamView } from '../../drawing/SeamDrawing.tsx';
import { useCut } from '../../state/useCut.ts';
import { tell } from '../../../words/index.ts';

const GAPS = { 'suction-cup': 'Suction cup', 'cup-clamp': 'Clamp with cups', 'thin-blade': 'Thin blade' } as const;

export function DepthView({
  model,
  bond,
  rules,
  crackedGlass,
}: {
  model: Model;
  bond: string;
  rules: HouseRules;
  crackedGlass: boolean;
}) {
  const [marks, setMarks] = useState(rules.pickMarks);
  const [margin, setMargin] = useState(rules.pickMargin);
  const [cracked, setCracked] = useState(crackedGlass);
  /** A field that holds nothing to compute with. */
  const [odd, setOdd] = useState<string | null>(null);
  const taken = (field: string, set: (v: number) => void) => (v: number) => {
    setOdd(Number.isFinite(v) ? null : field);
    if (Number.isFinite(v)) set(v);
  };
  const [chosen, setChosen] = useState<number | null>(null);
  const { cut, problem } = useCut(model, bond, { marks, margin, firstGap: rules.firstGap, crackedGlass: cracked });
  if (!cut) return problem === null ? <Loading what="the cut" /> : <ProblemNote>{problem}</ProblemNote>;
  const { plan } = cut;
  const { deeper } = seamView(model, plan.part);
  const query = `bond=${bond}&marks=${marks}&margin=${margin}`;
  const what = (r: CutRun) =>
    r.n === null
      ? plan.hooked.includes(r.edge)
        ? 'not cut: slide it out of its hooks'
        : 'leave it: heat and lift straight'
      : `mark ${r.mark}`;
  return (
    <div className="grid gap-4 lg:grid-cols-[minmax(0,27rem)_minmax(0,1fr)]">
      <section
        aria-label="Seam"
        className={`panel grid content-start gap-2 self-start p-4 ${odd === null ? '' : 'invisible'}`}
      >
        <SeamDrawing
          model={model}
          cut={cut}
          chosen={chosen === null ? null : plan.runs[chosen]!}
          onChoose={(run) => setChosen(plan.runs.indexOf(run))}
          label={`${model.anatomy.name}: the cut along ${model.nameOf(bond)}`}
          className="max-h-[34rem] w-full"
        />
        {model.parts.get(plan.part)!.face === 'back' && (
          <p className="font-semibold">Back up, mirrored: the right edge lies on your left.</p>
        )}
        <p className="text-sm text-quiet">
          <b className="text-ember">→</b> enter · <b className="text-brass">▲</b> leave a pick ·{' '}
          {plan.gaps[0]!.way === 'thin-blade' ? (
            <>
              <b className="text-ember">▬</b> blade
            </>
          ) : (
            'dashed ring: cup'
          )}{' '}
          · numbers outside: mm deep{deeper === 1 ? ', to scale' : `. The depth is drawn ${deeper} times`}.
        </p>
        <p className="text-sm text-quiet">
          Computed from the anatomy; a device may differ, and no depth here is a promise. Stop at any resistance.
        </p>
      </section>
      <div className="grid content-start gap-4">
        <section aria-label="Marks" className="panel grid gap-3 p-4">
          <div className="flex flex-wrap items-end gap-x-8 gap-y-3">
            <Measure
              value={plan.marks.length > 0 ? plan.marks.join(' and ') : 'none'}
              unit={plan.marks.length > 0 ? 'mm' : ''}
              label={plan.marks.length === 1 ? 'mark on the pick' : 'marks on the pick'}
            />
            <Measure value={`${Math.round(plan.share * 100)} %`} label="of the bond is cut" />
            <Measure value={minutes(plan.seconds)} label="of cutting" />
          </div>
          <div className="flex flex-wrap items-end gap-3">
            <NumberField
              label="Most marks"
              value={marks}
              bounds={ruleLimits('pickMarks')}
              onChange={taken('marks', setMarks)}
            />
            <NumberField
              label="Kept clear, mm"
              value={margin}
              bounds={ruleLimits('pickMargin')}
              onChange={taken('margin', setMargin)}
            />
            <Check checked={cracked} onChange={(e) => setCracked(e.target.checked)}>
              glass cracked or weak
            </Check>
            <a
              className={buttonClass('plain')}
              href={`/api/opening/template/${model.anatomy.id}.pdf?${query}`}
              target="_blank"
              rel="noreferrer"
            >
              <FileDown aria-hidden="true" />
              Template, PDF 1:1
            </a>
            <a
              className={buttonClass('plain')}
              href={`/api/opening/template/${model.anatomy.id}.svg?${query}`}
              target="_blank"
              rel="noreferrer"
            >
              SVG
            </a>
          </div>
        </section>
        <section aria-label="Order of the cut" className="panel p-4">
          <p className="mb-2 text-lg">
            Enter at the <b>{plan.entry.edge}</b> edge, {tell(model, entrySaid(plan.entry))}.
          </p>
          <ol>
            {plan.runs
              .filter((r) => r.n !== null || r.length >= 3)
              .map((r) => {
                const at = plan.runs.indexOf(r);
                return (
                  <li key={at}>
                    <button
                      type="button"
                      aria-pressed={chosen === at}
                      onClick={() => setChosen(chosen === at ? null : at)}
                      className={
                        `grid min-h-12 w-full grid-cols-[2.2rem_minmax(0,1fr)_auto] items-center ` +
                        `gap-2 rounded-lg px-2 py-1 text-left ${chosen === at ? 'bg-sunk' : ''}`
                      }
                      data-run={r.n ?? 'left'}
                    >
                      <span className="num text-right text-xl font-semibold">{r.n ?? '–'}</span>
                      <span className="min-w-0">
                        <span className="block">
                          <b>{r.edge} edge</b>, <span className="num">{Math.round(r.length)}</span> mm: {what(r)}
                          {r.pick && <b className="text-brass"> ▲ leave the second pick at its end</b>}
                        </span>
                        {r.behind.length > 0 && (
                          <span className="block font-semibold text-crimson">
                            ▨ {r.left.toFixed(1)} mm stays: behind it{' '}
                            {r.behind.map((id) => model.nameOf(id)).join(', ')}
                          </span>
                        )}
                      </span>
                      <span className="num text-right text-2xl font-semibold whitespace-nowrap">
                        {r.n === null ? '' : `${r.depth} mm`}
                      </span>
                    </button>
                  </li>
                );
              })}
          </ol>
        </section>
        <section aria-label="First gap" className="panel p-4">
          <h2 className="mb-2 text-xl font-semibold">Raising the first gap</h2>
          <ul className="grid gap-2">
            {plan.gaps.map((g, i) => (
              <li key={g.way} className={i === 0 ? '' : 'text-quiet'}>
                <b>{GAPS[g.way]}</b>
                {i === 0 ? '' : ', else'}: {tell(model, g.how)}
              </li>
            ))}
          </ul>
          <div className="mt-2">{plan.gaps[0]!.cautions.includes('glass') && <CautionLine caution="glass" />}</div>
        </section>
      </div>
    </div>
  );
}
