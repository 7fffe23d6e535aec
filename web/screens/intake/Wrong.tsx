import { useMemo } from 'react';
import type { Model } from '../../../core/anatomy/index.ts';
import {
  CHECKS,
  likelyCauses,
  outcomesOf,
  SYMPTOMS,
  WATER_ADVICE,
  worthChecking,
  type CheckId,
  type Complaint,
  type Likely,
  type Symptom,
} from '../../../core/diagnosis/index.ts';
import { Button } from '../../controls/index.tsx';
import type { IntakeForm } from './form.ts';
import { spoken } from '../../../words/index.ts';

/** Causes and checks that are shown. Origin: own choice; what a person weighs at once. */
const SHOWN = { causes: 5, checks: 3 } as const;

/** What is wrong, in the customer's words and in kinds, and what is likely behind it. */
export function Wrong({
  form,
  set,
  model,
}: {
  form: IntakeForm;
  set: (part: Partial<IntakeForm>) => void;
  model: Model | null;
}) {
  const toggle = (s: Symptom) =>
    set({ symptoms: form.symptoms.includes(s) ? form.symptoms.filter((x) => x !== s) : [...form.symptoms, s] });
  return (
    <div className="grid gap-3">
      <label>
        <span className="label">Complaint</span>
        <textarea
          className="field"
          rows={2}
          value={form.complaint}
          maxLength={2000}
          onChange={(e) => set({ complaint: e.target.value })}
        />
      </label>
      <fieldset className="flex flex-wrap gap-1">
        <legend className="label">In kinds</legend>
        {(Object.keys(SYMPTOMS) as Symptom[]).map((s) => (
          <button
            key={s}
            type="button"
            aria-pressed={form.symptoms.includes(s)}
            className={`min-h-12 rounded-lg border-2 px-3 ${form.symptoms.includes(s) ? 'border-petrol bg-petrol text-on-petrol' : 'border-line'}`}
            onClick={() => toggle(s)}
          >
            {SYMPTOMS[s]}
          </button>
        ))}
      </fieldset>
      {form.symptoms.includes('water') && <p className="border-l-8 border-ember pl-4">{WATER_ADVICE}</p>}
      {model && <Behind model={model} form={form} set={set} />}
    </div>
  );
}

/** The likeliest causes with their odds, the check that tells most, and the parts that they lead to. */
function Behind({ model, form, set }: { model: Model; form: IntakeForm; set: (part: Partial<IntakeForm>) => void }) {
  const { symptoms, checks, works, replace } = form;
  const told = (outcome: 'pass' | 'fail') =>
    Object.entries(works).flatMap(([id, o]) =>
      o === outcome && model.anatomy.functions.some((f) => f.id === id) ? [id] : [],
    );
  const asked: Complaint = { symptoms, failed: told('fail'), passed: told('pass'), checks };
  const key = JSON.stringify(asked);
  const { causes, next } = useMemo(() => {
    const complaint = JSON.parse(key) as Complaint;
    return { causes: likelyCauses(model, complaint), next: worthChecking(model, complaint) };
  }, [model, key]);
  if (symptoms.length === 0 && asked.failed.length === 0)
    return <p className="text-quiet">Choose a kind, or mark what fails, to see what is likely behind it.</p>;
  const check = (id: CheckId, outcome: string | undefined) => {
    const { [id]: _, ...rest } = checks;
    set({ checks: outcome === undefined ? rest : { ...rest, [id]: outcome } });
  };
  return (
    <div className="grid gap-4 sm:grid-cols-2">
      <div>
        <h3 className="mb-1 font-semibold">Likely behind it</h3>
        <ol aria-label="Likely causes" className="grid gap-1">
          {causes.slice(0, SHOWN.causes).map((c) => (
            <Cause
              key={c.id}
              cause={c}
              model={model}
              chosen={c.replace.every((p) => replace.includes(p))}
              add={() => set({ replace: [...new Set([...replace, ...c.replace])] })}
            />
          ))}
        </ol>
      </div>
      <div>
        <h3 className="mb-1 font-semibold">Tells most for its minutes</h3>
        <ul aria-label="Checks" className="grid gap-2">
          {(Object.entries(checks) as [CheckId, string][]).map(([id, outcome]) => (
            <li key={id} className="flex flex-wrap items-center gap-2">
              <span className="flex-1 text-quiet">
                ✓ {CHECKS[id].name}: {(CHECKS[id].outcomes as Record<string, string>)[outcome]}
              </span>
              <Button weight="quiet" onClick={() => check(id, undefined)}>
                Take back
              </Button>
            </li>
          ))}
          {next.slice(0, SHOWN.checks).map((v) => (
            <li key={v.check}>
              <span className="font-semibold">{CHECKS[v.check].name}</span>{' '}
              <span className="text-sm text-quiet">
                <span className="num">{v.minutes}</span> min, <span className="num">{v.bits.toFixed(2)}</span> bit
                {CHECKS[v.check].opens ? ', opens it' : ''}
              </span>
              <span className="mt-1 flex flex-wrap gap-1">
                {outcomesOf(v.check).map((outcome) => (
                  <button
                    key={outcome}
                    type="button"
                    className="min-h-12 rounded-lg border-2 border-line px-3 hover:bg-sunk"
                    onClick={() => check(v.check, outcome)}
                  >
                    {(CHECKS[v.check].outcomes as Record<string, string>)[outcome]}
                  </button>
                ))}
              </span>
            </li>
          ))}
        </ul>
      </div>
    </div>
  );
}

function Cause({ cause, model, chosen, add }: { cause: Likely; model: Model; chosen: boolean; add: () => void }) {
  const percent = Math.round(cause.odds * 100);
  const name = cause.item === null ? spoken.sorts[cause.sort] : model.nameOf(cause.item);
  return (
    <li className="grid min-h-12 grid-cols-[3.2rem_minmax(0,1fr)_auto] items-center gap-2">
      <span className="num text-right font-semibold">{percent} %</span>
      <span className="min-w-0">
        <span className="block truncate">
          {name}
          {cause.item !== null && <span className="text-quiet">, {spoken.sorts[cause.sort].toLowerCase()}</span>}
        </span>
        <span className="block h-1.5 rounded-full bg-sunk">
          <span className="block h-full rounded-full bg-petrol" style={{ width: `${Math.max(2, percent)}%` }} />
        </span>
      </span>
      {cause.replace.length > 0 && (
        <Button weight="quiet" disabled={chosen} onClick={add} aria-label={`Replace ${name}`}>
          {chosen ? '✓' : 'Replace'}
        </Button>
      )}
    </li>
  );
}
