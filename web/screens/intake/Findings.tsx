import { TRIAGE, type TriageQuestion } from '../../../core/jobs/index.ts';

export const FINDINGS = Object.keys(TRIAGE) as TriageQuestion[];
export type Answers = Partial<Record<TriageQuestion, boolean>>;

/** The questions that decide whether a device may be opened at all, and what to do when it may not. */
export function Findings({
  findings,
  answer,
}: {
  findings: Answers;
  answer: (finding: TriageQuestion, value: boolean) => void;
}) {
  const stop = FINDINGS.filter((f) => findings[f]);
  return (
    <section id="may" className="panel scroll-mt-24 p-5" aria-labelledby="may-title">
      <h2 id="may-title" className="mb-3 text-xl font-semibold">
        May it be opened?
      </h2>
      <div className="grid gap-2">
        {FINDINGS.map((f) => (
          <fieldset key={f} className="flex flex-wrap items-center justify-between gap-2">
            <legend className="sr-only">{TRIAGE[f].question}</legend>
            <span aria-hidden="true">{TRIAGE[f].question}</span>
            <span className="flex gap-1">
              {(
                [
                  ['No', false],
                  ['Yes', true],
                ] as const
              ).map(([word, value]) => (
                <label
                  key={word}
                  className={
                    `grid min-h-12 min-w-16 cursor-pointer place-items-center rounded-lg border-2 px-3 font-semibold ` +
                    `has-focus-visible:outline-3 has-focus-visible:outline-petrol ` +
                    (findings[f] !== value
                      ? 'border-line'
                      : value
                        ? 'border-crimson bg-crimson text-on-job'
                        : 'border-moss bg-moss text-on-job')
                  }
                >
                  <input
                    type="radio"
                    className="sr-only"
                    name={f}
                    checked={findings[f] === value}
                    onChange={() => answer(f, value)}
                  />
                  {word}
                </label>
              ))}
            </span>
          </fieldset>
        ))}
      </div>
      {stop.length > 0 && (
        <div role="alert" className="mt-4 border-l-8 border-crimson pl-4">
          <p className="text-lg font-bold text-crimson">Do not open it.</p>
          {stop.map((f) => (
            <p key={f} className="mt-1">
              {TRIAGE[f].advice}
            </p>
          ))}
        </div>
      )}
    </section>
  );
}
