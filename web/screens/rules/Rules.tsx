import { Check, CopyPlus, Trash2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { DEFAULT_RULES, type HouseRules } from '../../../core/dive/index.ts';
import type { RuleSet } from '../../../core/jobs/index.ts';
import { Button, Loading, ProblemNote } from '../../controls/index.tsx';
import { ruleLimits } from '../../controls/bounds.ts';
import { NumberField } from '../../controls/NumberField.tsx';
import { api, ApiError, messageOf } from '../../state/api.ts';
import { useLoad } from '../../state/useLoad.ts';
import { isOdd, ToolFields, TrayFields } from './BenchFields.tsx';
import { CellFields, ClosingFields } from './ClosingFields.tsx';
import { spoken } from '../../../words/index.ts';

/** A set as it is typed, and as it was read. */
interface Draft {
  of: RuleSet;
  name: string;
  rules: HouseRules;
}
const draftOf = (of: RuleSet): Draft => ({ of, name: of.name, rules: of.rules });
const isTyped = ({ of, name, rules }: Draft): boolean =>
  name !== of.name || JSON.stringify(rules) !== JSON.stringify(of.rules);

/** The shop's own choices where practitioners disagree, in named sets; one of them is in use. */
export default function Rules() {
  const { data, problem, reload } = useLoad<RuleSet[]>('/rules');
  const [openId, setOpenId] = useState<string | null>(null);
  const [draft, setDraft] = useState<Draft | null>(null);
  const [error, setError] = useState<ApiError | null>(null);
  const [saved, setSaved] = useState(false);
  const open = data?.find((s) => s.id === openId) ?? data?.find((s) => s.chosen) ?? null;
  useEffect(() => {
    // What was typed while the set was read anew stays; the set it was typed into is the newer one.
    if (open) setDraft((was) => (was?.of.id === open.id && isTyped(was) ? { ...was, of: open } : draftOf(open)));
  }, [open]);
  if (!data || !open || !draft)
    return problem ? <ProblemNote>{problem}</ProblemNote> : <Loading what="the house rules" />;
  const odd = isOdd(draft.rules);
  const changed = isTyped(draft);
  const attempt = async (work: () => Promise<unknown>) => {
    setError(null);
    setSaved(false);
    try {
      await work();
      setSaved(true);
      reload();
    } catch (cause) {
      setError(cause instanceof ApiError ? cause : new ApiError(0, { error: messageOf(cause) }));
    }
  };
  const set = (rules: Partial<HouseRules>) => {
    setSaved(false);
    setDraft({ ...draft, rules: { ...draft.rules, ...rules } });
  };
  const freeName = (base: string) => {
    for (let i = 2; ; i++) if (!data.some((s) => s.name === `${base} ${i}`)) return `${base} ${i}`;
  };
  return (
    <div className="mx-auto max-w-7xl">
      <h1 className="mb-1 text-3xl font-bold">House rules</h1>
      <p className="mb-4 text-quiet">
        Where practitioners disagree, the shop decides. Every plan says which rules it was made under.
      </p>
      <div className="grid gap-5 lg:grid-cols-[17rem_minmax(0,1fr)]">
        <section aria-label="Sets" className="grid content-start gap-2">
          {data.map((s) => (
            <button
              key={s.id}
              type="button"
              aria-pressed={s.id === open.id}
              onClick={() => {
                setOpenId(s.id);
                setError(null);
                setSaved(false);
              }}
              className={
                `flex min-h-14 items-center justify-between gap-2 rounded-xl border-2 bg-panel px-4 ` +
                `text-left text-lg ${s.id === open.id ? 'border-petrol font-semibold' : 'border-transparent'}`
              }
            >
              {s.name}
              {s.chosen && (
                <span className="flex items-center gap-1 text-sm font-semibold text-moss">
                  <Check size={18} aria-hidden="true" />
                  in use
                </span>
              )}
            </button>
          ))}
          <Button
            onClick={() =>
              void attempt(async () =>
                setOpenId(
                  (await api<RuleSet>('/rules', { json: { name: freeName(draft.name), rules: draft.rules } })).id,
                ),
              )
            }
          >
            <CopyPlus aria-hidden="true" />
            Copy as a new set
          </Button>
        </section>
        <section aria-label="The set" className="panel grid content-start gap-5 p-5">
          <div className="flex flex-wrap items-end gap-3">
            <label className="min-w-64 flex-1">
              <span className="label">Name of the set</span>
              <input
                className="field"
                value={draft.name}
                maxLength={60}
                onChange={(e) => {
                  setSaved(false);
                  setDraft({ ...draft, name: e.target.value });
                }}
              />
            </label>
            <Button
              weight="main"
              disabled={!changed || odd || draft.name.trim() === ''}
              onClick={() =>
                void attempt(() =>
                  api(`/rules/${open.id}`, {
                    method: 'PUT',
                    json: { name: draft.name.trim(), rules: draft.rules },
                    ifMatch: open.revision,
                  }),
                )
              }
            >
              Save
            </Button>
            <Button
              disabled={open.chosen || changed}
              onClick={() => void attempt(() => api(`/rules/${open.id}/choose`, { method: 'POST' }))}
            >
              Use this set
            </Button>
            <Button
              weight="quiet"
              aria-label="Delete this set"
              disabled={open.chosen}
              onClick={() =>
                void attempt(async () => {
                  await api(`/rules/${open.id}`, { method: 'DELETE', ifMatch: open.revision });
                  setOpenId(null);
                })
              }
            >
              <Trash2 aria-hidden="true" />
            </Button>
          </div>
          {error && <ProblemNote faults={error.problem.faults}>{error.message}</ProblemNote>}
          {saved && !changed && (
            <p role="status" className="font-semibold text-moss">
              ✓ Saved. New dives are planned by it{open.chosen ? '' : ' once the set is in use'}; begun ones keep
              theirs.
            </p>
          )}
          <div className="grid gap-3">
            {spoken.schools.map(({ key, question, choices }) => (
              <fieldset key={key} className="grid items-center gap-x-4 gap-y-1 md:grid-cols-[11rem_minmax(0,1fr)]">
                <legend className="sr-only">{question}</legend>
                <span aria-hidden="true" className="text-quiet">
                  {question}
                </span>
                <div className="flex flex-wrap gap-1.5">
                  {choices.map(([value, word]) => (
                    <label
                      key={value}
                      className={
                        `grid min-h-12 cursor-pointer place-items-center rounded-lg border-2 px-4 has-focus-visible:outline-3 ` +
                        `has-focus-visible:outline-petrol ` +
                        `${draft.rules[key] === value ? 'border-petrol bg-petrol font-semibold text-on-petrol' : 'border-line'}`
                      }
                    >
                      <input
                        type="radio"
                        className="sr-only"
                        name={key}
                        checked={draft.rules[key] === value}
                        onChange={() => set({ [key]: value })}
                      />
                      {word}
                    </label>
                  ))}
                </div>
              </fieldset>
            ))}
          </div>
          <div>
            <h2 className="mb-2 text-xl font-semibold">What the order is weighed by</h2>
            <div className="grid gap-3 sm:grid-cols-2 xl:grid-cols-4">
              {spoken.weights.map(({ key, label, hint }) => (
                <div key={key} className="grid content-end">
                  <span className="block font-semibold">{label}</span>
                  <NumberField
                    key={open.id}
                    label={`${hint}, s`}
                    value={draft.rules[key]}
                    bounds={ruleLimits(key)}
                    onChange={(v) => set({ [key]: v })}
                  />
                  <span className="text-sm text-quiet">usual {DEFAULT_RULES[key]} s</span>
                </div>
              ))}
            </div>
          </div>
          <div>
            <h2 className="mb-2 text-xl font-semibold">Opening</h2>
            <div className="flex flex-wrap gap-3">
              {(
                [
                  ['room', 'Room, °C'],
                  ['pickMarks', 'Marks on a pick'],
                  ['pickMargin', 'Kept clear, mm'],
                ] as const
              ).map(([key, label]) => (
                <NumberField
                  key={`${open.id} ${key}`}
                  label={label}
                  value={draft.rules[key]}
                  bounds={ruleLimits(key)}
                  onChange={(v) => set({ [key]: v })}
                />
              ))}
              {(['mat', 'pad', 'gun'] as const).map((source) => (
                <NumberField
                  key={`${open.id} hottest ${source}`}
                  label={`Hottest ${source}, °C`}
                  value={draft.rules.hottest[source] ?? DEFAULT_RULES.hottest[source]!}
                  bounds={{ ...ruleLimits('hottest', source), whole: true }}
                  onChange={(v) => set({ hottest: { ...draft.rules.hottest, [source]: v } })}
                />
              ))}
              <NumberField
                key={`${open.id} watts`}
                label="Cell drawn down with, W (0: by itself)"
                value={draft.rules.dischargeWatts ?? 0}
                bounds={{ ...ruleLimits('dischargeWatts'), above: undefined, least: 0 }}
                onChange={(v) => set({ dischargeWatts: v > 0 ? v : null })}
              />
              <NumberField
                key={`${open.id} assumed charge`}
                label="Charge where nobody knows it, %"
                value={draft.rules.assumedCharge}
                bounds={ruleLimits('assumedCharge')}
                onChange={(assumedCharge) => set({ assumedCharge })}
              />
              <p className="self-end pb-3 text-quiet">What your own mat or gun gives is measured under Heat sources.</p>
            </div>
          </div>
          <div>
            <h2 className="mb-2 text-xl font-semibold">Closing</h2>
            <ClosingFields key={open.id} rules={draft.rules} set={set} />
          </div>
          <div>
            <h2 className="mb-2 text-xl font-semibold">Cells</h2>
            <CellFields key={open.id} rules={draft.rules} set={set} />
          </div>
          <div>
            <h2 className="mb-2 text-xl font-semibold">Screw tray</h2>
            <TrayFields key={open.id} rules={draft.rules} set={set} />
          </div>
          <fieldset>
            <legend className="mb-2 text-xl font-semibold">Tools at hand</legend>
            <ToolFields rules={draft.rules} set={set} sources />
          </fieldset>
        </section>
      </div>
    </div>
  );
}
