import { useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { modelOf, type Anatomy } from '../../../core/anatomy/index.ts';
import type { AnatomySummary, JobFile, RuleSet } from '../../../core/jobs/index.ts';
import { Button, Check, Loading, ProblemNote } from '../../controls/index.tsx';
import { api, ApiError, messageOf } from '../../state/api.ts';
import { newId } from '../../state/ids.ts';
import { technicianNow } from '../../state/shop.ts';
import { useLoad } from '../../state/useLoad.ts';
import { chargeOf, ChargeFields } from './ChargeFields.tsx';
import { Devices, deviceOf, NOTHING_TYPED, UnlistedFields, type Unlisted } from './Devices.tsx';
import { FINDINGS, Findings, type Answers } from './Findings.tsx';
import { Parts } from './Parts.tsx';
import { Photographs } from './Photographs.tsx';
import { Preview, usePreview } from './Preview.tsx';

export default function Intake() {
  const navigate = useNavigate();
  const { data: all, problem: listProblem } = useLoad<AnatomySummary[]>('/anatomies');
  // What was archived is taken in no more.
  const list = useMemo(() => all?.filter((a) => !a.archived) ?? null, [all]);
  const [findings, setFindings] = useState<Answers>({});
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
  const { data: ruleSets } = useLoad<RuleSet[]>('/rules');
  const rules = ruleSets?.find((set) => set.chosen)?.rules ?? null;
  const [problem, setProblem] = useState<ApiError | null>(null);

  const model = useMemo(
    () => (stored && stored.anatomy.id === anatomyId ? modelOf(stored.anatomy) : null),
    [stored, anatomyId],
  );
  const stop = FINDINGS.filter((f) => findings[f]);
  const asked = FINDINGS.every((f) => findings[f] !== undefined);
  const chosenSpares = replace.flatMap((part) => (spares[part] ? [spares[part]] : []));
  const condition = { crackedGlass: cracked, charge: chargeOf(charge), dark };
  const request = { replace, spares: chosenSpares, ...condition };
  const { preview, planning } = usePreview(model, { replace, spares: chosenSpares, condition }, rules, setProblem);
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
          <Findings findings={findings} answer={(f, value) => setFindings({ ...findings, [f]: value })} />
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
            <Check checked={cracked} onChange={(e) => setCracked(e.target.checked)}>
              Glass is cracked
            </Check>
            <ChargeFields charge={charge} dark={dark} onCharge={setCharge} onDark={setDark} />
            <Photographs photos={photos} setPhotos={setPhotos} />
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
              setUnlisted(id === null ? NOTHING_TYPED : null);
            }}
          />
          {unlisted && <UnlistedFields device={unlisted} list={list} change={setUnlisted} />}
          {model && (
            <Parts model={model} replace={replace} setReplace={setReplace} spares={spares} setSpares={setSpares} />
          )}
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
              {stop.length > 0 ? 'Record that it stays closed' : unlisted ? 'Take it in' : 'Take in and plan the dive'}
            </Button>
            {missing.length > 0 && <span className="text-quiet">Still to do: {missing.join(', ')}.</span>}
          </div>
        </section>
      </div>
    </div>
  );
}
