import { formatDistanceToNowStrict } from 'date-fns/formatDistanceToNowStrict';
import { useMemo, useState } from 'react';
import { functionsOfKind, modelOf, type Anatomy, type Model } from '../../../core/anatomy/index.ts';
import { identityFaults, readMoney } from '../../../core/counter/index.ts';
import type { AnatomySummary, JobFile, RuleSet } from '../../../core/jobs/index.ts';
import { Button, Check, Loading, ProblemNote } from '../../controls/index.tsx';
import { api, ApiError, messageOf } from '../../state/api.ts';
import { newId } from '../../state/ids.ts';
import { technicianNow, useShop } from '../../state/shop.ts';
import { useLoad } from '../../state/useLoad.ts';
import { chargeOf, ChargeFields } from './ChargeFields.tsx';
import { Devices, deviceOf, NOTHING_TYPED, UnlistedFields } from './Devices.tsx';
import { FINDINGS, Findings } from './Findings.tsx';
import { foundOf, identityOf, isBegun, type IntakeForm } from './form.ts';
import { Identity } from './Identity.tsx';
import { Outside } from './Outside.tsx';
import { Parts } from './Parts.tsx';
import { Photographs } from './Photographs.tsx';
import { Preview, usePreview } from './Preview.tsx';
import { Station, Strip, type StationInfo } from './Station.tsx';
import { useIntake, type Intake as IntakeState } from './useIntake.ts';
import { Whose } from './Whose.tsx';
import { Works } from './Works.tsx';
import { Wrong } from './Wrong.tsx';
import { useGo } from '../../state/here.ts';

/** A device is taken in, in the order in which a person does it: whose, what, safe, works, wrong, what it takes. */
export default function Intake() {
  const leave = useGo();
  const { data: all, problem: listProblem } = useLoad<AnatomySummary[]>('/anatomies');
  // What was archived is taken in no more.
  const list = useMemo(() => all?.filter((a) => !a.archived) ?? null, [all]);
  const intake = useIntake();
  const { form, set } = intake;
  const { data: stored } = useLoad<{ anatomy: Anatomy }>(form.anatomy ? `/anatomies/${form.anatomy}` : null);
  const { data: ruleSets } = useLoad<RuleSet[]>('/rules');
  const rules = ruleSets?.find((s) => s.chosen)?.rules ?? null;
  const currency = useShop((s) => s.shop?.till.currency) ?? 'EUR';
  const [problem, setProblem] = useState<ApiError | null>(null);
  const model = useMemo(
    () => (stored && stored.anatomy.id === form.anatomy ? modelOf(stored.anatomy) : null),
    [stored, form.anatomy],
  );
  const stop = FINDINGS.filter((f) => form.findings[f]);
  const spares = form.replace.flatMap((part) => (form.spares[part] ? [form.spares[part]] : []));
  const condition = { crackedGlass: form.cracked, charge: chargeOf(form.charge), dark: form.dark };
  // The plan that is shown is the one it is taken in with: what works now is proved at its end.
  const worked = Object.keys(form.works).filter((id) => form.works[id] === 'pass');
  const asked = { replace: form.replace, spares, condition: { ...condition, worked } };
  const { preview, planning } = usePreview(model, asked, rules, setProblem);
  const [key] = useState(newId);
  const [taking, setTaking] = useState(false);
  const identity = identityOf(form);
  const worth = form.worth.trim() === '' ? null : readMoney(form.worth, currency);

  const take = async () => {
    const go = leave();
    setTaking(true);
    intake.finishing(true);
    const what = form.unlisted
      ? { anatomy: null, device: deviceOf(form.unlisted), replace: [], crackedGlass: form.cracked }
      : { anatomy: form.anatomy, spares, ...condition, replace: stop.length > 0 ? [] : form.replace };
    const json = {
      customer: form.customer.trim(),
      customerId: form.customerId,
      contact: form.contact.trim(),
      complaint: form.complaint,
      outside: form.outside,
      triage: stop,
      photos: form.photos,
      ...(identity ? { identity } : {}),
      unlock: form.unlock,
      worth,
      found: foundOf(form),
      draft: intake.draft,
      ...what,
      by: technicianNow() ?? undefined,
    };
    try {
      // A second press of the key asks for the same job.
      const file = await api<JobFile>('/jobs', { json, once: key });
      go(`/jobs/${file.job.id}`);
    } catch (error) {
      setProblem(error instanceof ApiError ? error : new ApiError(0, { error: messageOf(error) }));
      intake.finishing(false);
      setTaking(false);
    }
  };
  const missing = missingOf(form, stop.length > 0, worth);
  if (!list) return listProblem ? <ProblemNote>{listProblem}</ProblemNote> : <Loading what="the anatomies" />;
  if (intake.opening === 'reading') return <Loading what="what was begun" />;
  if (intake.opening === 'failed')
    return (
      <div className="mx-auto grid max-w-7xl gap-4">
        <h1 className="text-3xl font-bold">Take in a device</h1>
        <ProblemNote>What was begun cannot be read now; it lies with the server as it was.</ProblemNote>
        <p>
          <Button weight="main" onClick={intake.readAgain}>
            Read it again
          </Button>
        </p>
      </div>
    );
  const device = list.find((a) => a.id === form.anatomy);
  return (
    <div className="mx-auto max-w-7xl">
      <h1 className="text-3xl font-bold">Take in a device</h1>
      <Strip stations={stationsOf(form, stop.length > 0, device ? `${device.maker} ${device.name}` : '')} />
      <Begun intake={intake} />
      <div className="grid gap-4 lg:grid-cols-2">
        <div className="grid content-start gap-4">
          <Station id="whose" title="Whose is it?">
            <Whose form={form} set={set} />
          </Station>
          <Station id="what" title="What is it?">
            <Devices
              list={list}
              chosen={form.anatomy}
              unlisted={form.unlisted !== null}
              choose={(id) =>
                set({ anatomy: id, replace: [], spares: {}, works: {}, unlisted: id === null ? NOTHING_TYPED : null })
              }
            />
            {form.unlisted && (
              <UnlistedFields device={form.unlisted} list={list} change={(unlisted) => set({ unlisted })} />
            )}
            <Identity form={form} set={set} />
          </Station>
          <Findings
            findings={form.findings}
            answer={(f, value) => set({ findings: { ...form.findings, [f]: value } })}
          />
          <Station id="works" title="How does it come in?">
            {model || form.unlisted ? (
              <Works
                functions={model ? model.anatomy.functions : functionsOfKind(form.unlisted!.kind)}
                works={form.works}
                set={(works) => set({ works })}
              />
            ) : (
              <p className="text-quiet">Choose the device to run through what works.</p>
            )}
            <ChargeFields
              charge={form.charge}
              dark={form.dark}
              onCharge={(charge) => set({ charge })}
              onDark={(dark) => set({ dark })}
            />
            <Condition form={form} set={set} model={model} />
          </Station>
        </div>
        <div className="grid content-start gap-4">
          <Station id="wrong" title="What is wrong?">
            <Wrong form={form} set={set} model={model} />
          </Station>
          <Station id="takes" title="What it takes">
            {model && (
              <Parts
                model={model}
                replace={form.replace}
                setReplace={(replace) => set({ replace })}
                spares={form.spares}
                setSpares={(spares) => set({ spares })}
              />
            )}
            <Kept form={form} set={set} currency={currency} />
            {problem && <ProblemNote faults={problem.problem.faults}>{problem.message}</ProblemNote>}
            {planning && !preview && (
              <p role="status" className="text-quiet">
                Planning the dive…
              </p>
            )}
            {preview && model && <Preview plan={preview} />}
            <div className="flex flex-wrap items-center gap-4">
              <Button
                weight={stop.length > 0 ? 'danger' : 'main'}
                className="text-lg"
                disabled={missing.length > 0 || taking}
                onClick={() => void take()}
              >
                {stop.length > 0
                  ? 'Record that it stays closed'
                  : form.unlisted
                    ? 'Take it in'
                    : 'Take in and plan the dive'}
              </Button>
              {missing.length > 0 && <span className="text-quiet">Still to do: {missing.join(', ')}.</span>}
            </div>
          </Station>
        </div>
      </div>
    </div>
  );
}

/** What still stands between a device and its job, in words. */
function missingOf(form: IntakeForm, stopped: boolean, worth: string | null): string[] {
  const identity = identityOf(form);
  const list: [boolean, string][] = [
    [!FINDINGS.every((f) => form.findings[f] !== undefined), 'answer the four questions'],
    [!form.anatomy && !form.unlisted, 'choose the device'],
    [form.unlisted !== null && form.unlisted.name.trim() === '', 'say what device it is'],
    [form.customer.trim() === '', 'name the customer'],
    [identity !== null && identityFaults(identity).length > 0, 'correct its number, or say that none can be read'],
    [form.worth.trim() !== '' && worth === null, 'correct what it is worth'],
    [!stopped && !form.unlisted && form.anatomy !== null && form.replace.length === 0, 'choose a part to replace'],
  ];
  return list.flatMap(([lacks, word]) => (lacks ? [word] : []));
}

function stationsOf(form: IntakeForm, stopped: boolean, device: string): StationInfo[] {
  const tried = Object.values(form.works);
  const failed = tried.filter((o) => o === 'fail').length;
  const safe = FINDINGS.every((f) => form.findings[f] !== undefined);
  const standing = (done: boolean) => (done ? ('done' as const) : ('open' as const));
  return [
    { id: 'whose', title: 'Whose', standing: standing(form.customer.trim() !== ''), said: form.customer.trim() },
    {
      id: 'what',
      title: 'What',
      standing: standing(form.anatomy !== null || form.unlisted !== null),
      said: device || (form.unlisted?.name ?? ''),
    },
    {
      id: 'may',
      title: 'Safe',
      standing: stopped ? 'stop' : standing(safe),
      said: stopped ? 'stays closed' : safe ? 'may be opened' : '',
    },
    {
      id: 'works',
      title: 'Works',
      standing: standing(tried.length > 0),
      said: tried.length > 0 ? `${tried.length} tried, ${failed} fail` : '',
    },
    {
      id: 'wrong',
      title: 'Wrong',
      standing: standing(form.complaint.trim() !== '' || form.symptoms.length > 0),
      said: form.complaint.trim(),
    },
    {
      id: 'takes',
      title: 'Takes',
      standing: standing(form.replace.length > 0),
      said: form.replace.length > 0 ? `${form.replace.length} to replace` : '',
    },
    { id: 'takes', title: 'Agreed', standing: 'open', said: 'on the quote of the job' },
  ];
}

/** Intakes that were begun and left, to go on with. */
function Begun({ intake }: { intake: IntakeState }) {
  const { begun, form, kept, goOn, drop } = intake;
  return (
    <>
      {isBegun(form) && (
        <p className="mb-2 text-sm text-quiet" role="status">
          {kept === 'kept'
            ? 'Kept: it can be left and gone on with.'
            : kept === 'here'
              ? 'The server does not answer; this stands on this page only.'
              : ' '}
        </p>
      )}
      {!isBegun(form) && begun.length > 0 && (
        <ul aria-label="Begun and left" className="mb-3 flex flex-wrap gap-2">
          {begun.map((d) => (
            <li key={d.id} className="flex">
              <Button onClick={() => goOn(d)}>
                Go on with {d.document.customer?.trim() || 'an intake'},{' '}
                {formatDistanceToNowStrict(new Date(d.changedAt), { addSuffix: true })}
              </Button>
              <Button weight="quiet" onClick={() => drop(d.id)}>
                Drop
              </Button>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

/** The outside: marks where they are, words, photographs. */
function Condition({ form, set, model }: { form: IntakeForm; set: IntakeState['set']; model: Model | null }) {
  return (
    <>
      {model && <Outside body={model.anatomy.body} marks={form.marks} set={(marks) => set({ marks })} />}
      <Check checked={form.cracked} onChange={(e) => set({ cracked: e.target.checked })}>
        Glass is cracked
      </Check>
      <label>
        <span className="label">Outside condition, in words</span>
        <textarea
          className="field"
          rows={2}
          value={form.outside}
          maxLength={2000}
          onChange={(e) => set({ outside: e.target.value })}
        />
      </label>
      <Photographs photos={form.photos} setPhotos={(change) => set((was) => ({ photos: change(was.photos) }))} />
    </>
  );
}

/** What is asked only where it is needed: the code that unlocks it, and what the device is worth. */
function Kept({
  form,
  set,
  currency,
}: {
  form: IntakeForm;
  set: (part: Partial<IntakeForm>) => void;
  currency: string;
}) {
  return (
    <div className="grid gap-3 sm:grid-cols-2">
      <label>
        <span className="label">Unlock code, only if a test needs it</span>
        <input
          className="field num"
          value={form.unlock}
          maxLength={64}
          autoComplete="off"
          onChange={(e) => set({ unlock: e.target.value })}
        />
        <span className="block text-sm text-quiet">Kept sealed, never printed, erased at hand-over.</span>
      </label>
      <label>
        <span className="label">Worth repaired, {currency}</span>
        <input
          className="field num"
          inputMode="decimal"
          value={form.worth}
          maxLength={14}
          aria-invalid={form.worth.trim() !== '' && readMoney(form.worth, currency) === null}
          onChange={(e) => set({ worth: e.target.value })}
        />
        <span className="block text-sm text-quiet">A repair that is not worth doing is said to be so.</span>
      </label>
    </div>
  );
}
