import { Camera, X } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { modelOf, type Anatomy, type Model } from '../../../core/anatomy/index.ts';
import type { Plan } from '../../../core/dive/index.ts';
import type { RuleSet } from '../../../core/jobs/index.ts';
import { TRIAGE, type AnatomySummary, type JobFile, type TriageFinding } from '../../../core/jobs/index.ts';
import { minutes } from '../../../core/units/index.ts';
import { Button, Loading, Measure, ProblemNote } from '../../controls/index.tsx';
import { chargeOf, ChargeFields } from './ChargeFields.tsx';
import { Devices, deviceOf, UnlistedFields, type Unlisted } from './Devices.tsx';
import { DeviceDrawing } from '../../drawing/DeviceDrawing.tsx';
import { DiveProfile } from '../../drawing/DiveProfile.tsx';
import { api, ApiError, messageOf, storePhoto } from '../../state/api.ts';
import { newId } from '../../state/ids.ts';
import { technicianNow } from '../../state/shop.ts';
import { useLoad } from '../../state/useLoad.ts';
import { planInWorker } from '../../workers/planner.ts';

const FINDINGS = Object.keys(TRIAGE) as TriageFinding[];

export default function Intake() {
  const navigate = useNavigate();
  const { data: list, problem: listProblem } = useLoad<AnatomySummary[]>('/anatomies');
  const [findings, setFindings] = useState<Partial<Record<TriageFinding, boolean>>>({});
  const [anatomyId, setAnatomyId] = useState<string | null>(null);
  /** A device that is in no list. */
  const [unlisted, setUnlisted] = useState<Unlisted | null>(null);
  const { data: stored } = useLoad<{ anatomy: Anatomy }>(anatomyId ? `/anatomies/${anatomyId}` : null);
  const [customer, setCustomer] = useState('');
  const [complaint, setComplaint] = useState('');
  const [outside, setOutside] = useState('');
  const [cracked, setCracked] = useState(false);
  /** Percent, as it stands in the field; empty is not known. */
  const [charge, setCharge] = useState('');
  const [dark, setDark] = useState(false);
  const [photos, setPhotos] = useState<string[]>([]);
  const [replace, setReplace] = useState<string[]>([]);
  const [spares, setSpares] = useState<Record<string, string>>({});
  const [preview, setPreview] = useState<Plan | null>(null);
  const [planning, setPlanning] = useState(false);
  const { data: ruleSets } = useLoad<RuleSet[]>('/rules');
  const rules = ruleSets?.find((set) => set.chosen)?.rules ?? null;
  const [problem, setProblem] = useState<ApiError | null>(null);
  const [photoProblem, setPhotoProblem] = useState<string | null>(null);

  const model = useMemo(
    () => (stored && stored.anatomy.id === anatomyId ? modelOf(stored.anatomy) : null),
    [stored, anatomyId],
  );
  const stop = FINDINGS.filter((f) => findings[f]);
  const asked = FINDINGS.every((f) => findings[f] !== undefined);
  const chosenSpares = replace.flatMap((part) => (spares[part] ? [spares[part]] : []));
  const condition = { crackedGlass: cracked, charge: chargeOf(charge), dark };
  const request = { replace, spares: chosenSpares, ...condition };
  const wanted = JSON.stringify({ anatomy: anatomyId, ...request });

  // biome-ignore lint/correctness/useExhaustiveDependencies: `wanted` stands for the request
  useEffect(() => {
    if (!anatomyId || replace.length === 0) {
      setPreview(null);
      return;
    }
    if (!model || !rules) return;
    setPlanning(true);
    const work = planInWorker(model.anatomy, { replace, spares: chosenSpares, condition }, rules);
    work.result.then(
      (made) => {
        setPlanning(false);
        setPreview('plan' in made ? made.plan : null);
        setProblem('plan' in made ? null : new ApiError(422, { error: made.refused }));
      },
      (error) => {
        setPlanning(false);
        setPreview(null);
        setProblem(new ApiError(0, { error: messageOf(error) }));
      },
    );
    return work.cancel;
  }, [wanted, model, rules]);

  const addPhotos = async (files: FileList | null) => {
    setPhotoProblem(null);
    for (const file of files ?? []) {
      try {
        const hash = await storePhoto(file);
        setPhotos((p) => (p.includes(hash) ? p : [...p, hash]));
      } catch (error) {
        setPhotoProblem(`${file.name}: ${messageOf(error)}`);
      }
    }
  };
  const [key] = useState(newId);
  const [taking, setTaking] = useState(false);
  const take = async () => {
    setTaking(true);
    const what = unlisted
      ? { anatomy: null, device: deviceOf(unlisted), replace: [], crackedGlass: cracked }
      : { anatomy: anatomyId, ...request, ...(stop.length > 0 ? { replace: [] } : {}) };
    const common = { customer: customer.trim(), complaint, outside, triage: stop, photos };
    try {
      const json = { ...common, ...what, by: technicianNow() ?? undefined };
      // A second press of the key asks for the same job.
      const file = await api<JobFile>('/jobs', { json, once: key });
      void navigate(`/jobs/${file.job.id}`);
    } catch (error) {
      setProblem(error instanceof ApiError ? error : new ApiError(0, { error: messageOf(error) }));
      setTaking(false);
    }
  };
  const missing = [
    !asked && 'answer the four questions',
    !anatomyId && !unlisted && 'choose the device',
    unlisted && unlisted.name.trim() === '' && 'say what device it is',
    customer.trim() === '' && 'name the customer',
    stop.length === 0 && !unlisted && anatomyId && replace.length === 0 && 'choose a part to replace',
  ].filter(Boolean) as string[];

  if (!list) return listProblem ? <ProblemNote>{listProblem}</ProblemNote> : <Loading what="the anatomies" />;
  return (
    <div className="mx-auto max-w-7xl">
      <h1 className="mb-4 text-3xl font-bold">Take in a device</h1>
      <div className="grid gap-5 lg:grid-cols-[minmax(0,1fr)_minmax(0,1.15fr)]">
        <div className="grid content-start gap-5">
          <section className="panel p-5" aria-labelledby="may">
            <h2 id="may" className="mb-3 text-xl font-semibold">
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
                          onChange={() => setFindings({ ...findings, [f]: value })}
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
          <section className="panel grid gap-3 p-5" aria-labelledby="who">
            <h2 id="who" className="text-xl font-semibold">
              Customer and condition
            </h2>
            <label>
              <span className="label">Customer</span>
              <input className="field" value={customer} maxLength={120} onChange={(e) => setCustomer(e.target.value)} />
            </label>
            <label>
              <span className="label">Complaint</span>
              <textarea
                className="field"
                rows={2}
                value={complaint}
                maxLength={2000}
                onChange={(e) => setComplaint(e.target.value)}
              />
            </label>
            <label>
              <span className="label">Outside condition</span>
              <textarea
                className="field"
                rows={2}
                value={outside}
                maxLength={2000}
                onChange={(e) => setOutside(e.target.value)}
              />
            </label>
            <label className="flex min-h-12 cursor-pointer items-center gap-3">
              <input
                type="checkbox"
                className="size-6 accent-petrol"
                checked={cracked}
                onChange={(e) => setCracked(e.target.checked)}
              />
              Glass is cracked
            </label>
            <ChargeFields charge={charge} dark={dark} onCharge={setCharge} onDark={setDark} />
            <div className="flex flex-wrap items-center gap-3">
              <label
                className={
                  'inline-flex min-h-12 cursor-pointer items-center gap-2 rounded-lg bg-sunk px-4 ' +
                  'font-semibold has-focus-visible:outline-3 has-focus-visible:outline-petrol dark:bg-line'
                }
              >
                <Camera aria-hidden="true" />
                Add photographs
                <input
                  type="file"
                  accept="image/*"
                  multiple
                  className="sr-only"
                  onChange={(e) => {
                    void addPhotos(e.target.files);
                    e.target.value = '';
                  }}
                />
              </label>
              {photos.map((hash) => (
                <span key={hash} className="relative">
                  <img src={`/api/photos/${hash}/thumb`} alt="At intake" className="h-16 rounded-md" />
                  <button
                    type="button"
                    aria-label="Remove photograph"
                    className="absolute -top-2 -right-2 grid size-7 place-items-center rounded-full bg-ink text-ground"
                    onClick={() => setPhotos(photos.filter((h) => h !== hash))}
                  >
                    <X size={16} />
                  </button>
                </span>
              ))}
            </div>
            {photoProblem && <ProblemNote>{photoProblem}</ProblemNote>}
          </section>
        </div>
        <section className="panel grid content-start gap-4 p-5" aria-labelledby="what">
          <h2 id="what" className="text-xl font-semibold">
            Device and parts
          </h2>
          <Devices
            list={list}
            chosen={anatomyId}
            unlisted={unlisted !== null}
            choose={(id) => {
              setAnatomyId(id);
              setReplace([]);
              setSpares({});
              setUnlisted(id === null ? { name: '', kind: 'phone', width: '', height: '', thickness: '' } : null);
            }}
          />
          {unlisted && <UnlistedFields device={unlisted} change={setUnlisted} />}
          {model && (
            <Parts model={model} replace={replace} setReplace={setReplace} spares={spares} setSpares={setSpares} />
          )}
          {problem && <ProblemNote faults={problem.problem.faults}>{problem.message}</ProblemNote>}
          {planning && !preview && (
            <p role="status" className="text-quiet">
              Planning the dive…
            </p>
          )}
          {preview && model && (
            <div>
              <DiveProfile plan={preview} height={150} className="w-full" />
              <div className="mt-1 flex flex-wrap gap-x-8 gap-y-2">
                <Measure value={minutes(preview.totals.elapsed)} label="in all" />
                <Measure value={minutes(preview.totals.hands)} label="of work" />
                <Measure value={preview.totals.screws} label="screws" />
                <Measure
                  value={preview.losses.length}
                  label={preview.losses.length === 1 ? 'loss to agree' : 'losses to agree'}
                />
              </div>
            </div>
          )}
          <div className="flex flex-wrap items-center gap-4">
            <Button
              weight={stop.length > 0 ? 'danger' : 'main'}
              className="text-lg"
              disabled={missing.length > 0 || taking}
              onClick={() => void take()}
            >
              {stop.length > 0 ? 'Record that it stays closed' : unlisted ? 'Take it in' : 'Take in and plan the dive'}
            </Button>
            {missing.length > 0 && <span className="text-quiet">Still to do: {missing.join(', ')}.</span>}
          </div>
        </section>
      </div>
    </div>
  );
}

function Parts({
  model,
  replace,
  setReplace,
  spares,
  setSpares,
}: {
  model: Model;
  replace: string[];
  setReplace: (ids: string[]) => void;
  spares: Record<string, string>;
  setSpares: (s: Record<string, string>) => void;
}) {
  const parts = model.anatomy.parts.filter((p) => !p.fixed);
  const picked = useMemo(() => new Set(replace), [replace]);
  const toggle = (id: string) => setReplace(picked.has(id) ? replace.filter((r) => r !== id) : [...replace, id]);
  const [face, setFace] = useState<'front' | 'back'>(
    parts.filter((p) => p.face === 'back').length > parts.length / 2 ? 'back' : 'front',
  );
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_9.5rem] gap-4 sm:grid-cols-[minmax(0,1fr)_12rem]">
      <fieldset className="min-w-0">
        <legend className="label">Parts to replace</legend>
        <div className="grid max-h-80 gap-x-3 overflow-auto sm:grid-cols-2">
          {parts.map((p) => (
            <label key={p.id} className="flex min-h-12 cursor-pointer items-center gap-3">
              <input
                type="checkbox"
                className="size-6 shrink-0 accent-petrol"
                checked={picked.has(p.id)}
                onChange={() => toggle(p.id)}
              />
              <span className="leading-tight">{p.name}</span>
            </label>
          ))}
        </div>
        {replace.map((part) => {
          const offered = model.anatomy.spares.filter((s) => s.replaces === part);
          return (
            offered.length > 1 && (
              <label key={part} className="mt-2 block">
                <span className="label">Spare for {model.nameOf(part)}</span>
                <select
                  className="field"
                  value={spares[part] ?? offered[0]!.id}
                  onChange={(e) => setSpares({ ...spares, [part]: e.target.value })}
                >
                  {offered.map((s) => (
                    <option key={s.id} value={s.id}>
                      {s.name}
                    </option>
                  ))}
                </select>
              </label>
            )
          );
        })}
      </fieldset>
      <div>
        <DeviceDrawing
          model={model}
          face={face}
          picked={picked}
          label={`${model.anatomy.name}, ${face}`}
          className="max-h-80 w-full"
        />
        <Button weight="quiet" className="w-full" onClick={() => setFace(face === 'front' ? 'back' : 'front')}>
          Turn over
        </Button>
      </div>
    </div>
  );
}
