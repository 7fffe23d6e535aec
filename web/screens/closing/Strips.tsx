import { Printer } from 'lucide-react';
import type { Model } from '../../../core/anatomy/index.ts';
import type { StripPlan } from '../../../core/closing/index.ts';
import { ringHint } from '../../../core/dive/index.ts';
import { tell } from '../../../words/index.ts';
import { buttonClass, Measure } from '../../controls/index.tsx';
import { Panel } from '../counter/Panel.tsx';

/** The pieces of tape, what they are cut from, in which order they are laid, and the sheet to lay under the tape. */
export function Strips({ job, model, plan }: { job: string; model: Model; plan: StripPlan }) {
  const total = plan.strips.reduce((s, p) => s + p.length, 0);
  const address = `/api/closing/strips/${job}/template.pdf?bond=${encodeURIComponent(plan.bond)}`;
  return (
    <Panel id="strips" title="Strips of tape">
      <div className="flex flex-wrap gap-x-8 gap-y-2">
        <Measure value={plan.strips.length} label={plan.strips.length === 1 ? 'strip' : 'strips'} />
        <Measure value={Math.round(total)} unit="mm" label="of tape" />
        <Measure
          value={`${Math.round((100 * plan.coveredArea) / plan.area)}`}
          unit="%"
          label={`of ${Math.round(plan.area)} mm² covered, ${plan.covered.toFixed(0)} of ${plan.length.toFixed(0)} mm of its length`}
        />
      </div>
      {ringHint(model, plan).map((hint) => (
        <p key={hint.code} role="alert" className="border-l-4 border-crimson pl-3 text-lg font-semibold text-crimson">
          {tell(model, hint)}
        </p>
      ))}
      <div className="max-h-72 overflow-auto">
        <table className="w-full text-left">
          <thead className="text-sm text-quiet">
            <tr>
              <th className="pr-4 font-normal">No.</th>
              <th className="pr-4 font-normal whitespace-nowrap">mm wide</th>
              <th className="pr-4 font-normal whitespace-nowrap">mm long</th>
              <th className="font-normal">Cut</th>
            </tr>
          </thead>
          <tbody>
            {plan.strips.map((s) => (
              <tr key={s.n} className="border-t border-line">
                <td className="num py-1.5 pr-4 text-lg font-semibold text-mauve">{s.n}</td>
                <td className="num pr-4">{s.width}</td>
                <td className="num pr-4 text-lg">{s.length.toFixed(1)}</td>
                <td className="text-sm">
                  {s.slit ? 'along a roll' : 'roll' in s.from ? 'from the roll' : 'from a sheet'}
                  {s.notches.length > 0 &&
                    `, ${s.notches.length} ${s.notches.length === 1 ? 'notch' : 'notches'} inside the turn`}
                  {s.angles.some((a) => a !== 0) && `, mitred ${s.angles.map((a) => `${a.toFixed(0)}°`).join(' and ')}`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <ol className="grid list-decimal gap-1 pl-6">
        {plan.laying.map((step) => (
          <li key={step.code}>{tell(model, step)}</li>
        ))}
      </ol>
      {plan.notes.map((note) => (
        <p key={JSON.stringify(note)} className="border-l-4 border-mauve pl-3 text-sm">
          {tell(model, note)}
        </p>
      ))}
      <p className="flex flex-wrap gap-2">
        <a className={buttonClass('main')} href={address} target="_blank" rel="noreferrer">
          <Printer size={18} aria-hidden="true" />
          Template, 1:1
        </a>
        <a className={buttonClass()} href={address.replace('.pdf', '.svg')} target="_blank" rel="noreferrer">
          As a drawing (SVG)
        </a>
      </p>
    </Panel>
  );
}
