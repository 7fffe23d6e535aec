import { Eye, Printer, Tag } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import {
  donorBrings,
  donorChecks,
  groupedImei,
  MARKS,
  nameOfLoss,
  signatureFault,
  type Donor,
  type Stroke,
} from '../../../core/counter/index.ts';
import { likelyCauses, SORT_WORDS, startKindOf, CHECKS, type SupplySample } from '../../../core/diagnosis/index.ts';
import type { JobFile } from '../../../core/jobs/index.ts';
import { PARKED_WHYS, isClosed, type ParkedWhy, type RunState } from '../../../core/run/index.ts';
import type { Model } from '../../../core/anatomy/index.ts';
import { readNumber } from '../../../core/units/index.ts';
import { Button, buttonClass, ProblemNote } from '../../controls/index.tsx';
import { Signature } from '../../controls/Signature.tsx';
import { api, messageOf } from '../../state/api.ts';
import { technicianNow, useShop } from '../../state/shop.ts';
import { useRunOf } from '../../state/run.ts';
import { useLoad } from '../../state/useLoad.ts';
import { PARKED_WORDS } from '../../words.ts';
import { Register } from '../intake/Identity.tsx';

/** Everything of a job that happens at the counter: who it is, where it lies, what goes in, who takes it home. */
export default function JobCounter() {
  const { job, context, state } = useRunOf('job', 'context', 'state');
  if (!job || !context || !state) return null;
  return (
    <div className="grid gap-4 lg:grid-cols-2">
      <div className="grid content-start gap-4">
        <Who state={state} model={context.model} />
        <CameIn state={state} model={context.model} />
        <BenchSupply state={state} job={job.id} />
      </div>
      <div className="grid content-start gap-4">
        {state.version > 0 && <Donors state={state} model={context.model} />}
        <Parking state={state} />
        <Labels job={job.id} />
        <Collect state={state} />
      </div>
    </div>
  );
}

function Panel({ id, title, children }: { id: string; title: string; children: React.ReactNode }) {
  return (
    <section aria-labelledby={id} className="panel grid content-start gap-3 p-5">
      <h2 id={id} className="text-xl font-semibold">
        {title}
      </h2>
      {children}
    </section>
  );
}

/** Its numbers, what a register says, the job before it, the code that unlocks it. */
function Who({ state, model }: { state: RunState; model: Model }) {
  const { job } = useRunOf('job');
  const { identity, register } = state.counter;
  const [problem, setProblem] = useState<string | null>(null);
  const [code, setCode] = useState<string | null>(null);
  const ask = async () => {
    try {
      await api(`/jobs/${job!.id}/register`, { json: {} });
      setProblem(null);
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  const show = async () => {
    const { code: kept } = await api<{ code: string | null }>(`/jobs/${job!.id}/unlock`);
    setCode(kept ?? 'none is kept');
  };
  return (
    <Panel id="who" title={`${model.anatomy.maker} ${model.anatomy.name}`.trim()}>
      <dl className="grid grid-cols-[8rem_minmax(0,1fr)] gap-y-1">
        <dt className="text-quiet">Customer</dt>
        <dd>{job!.customer}</dd>
        {identity?.imei.map((number, i) => (
          <div key={number} className="contents">
            <dt className="text-quiet">IMEI{identity.imei.length > 1 ? `, card ${i + 1}` : ''}</dt>
            <dd className="num">{groupedImei(number)}</dd>
          </div>
        ))}
        {identity?.serial && (
          <>
            <dt className="text-quiet">Serial number</dt>
            <dd className="num">{identity.serial}</dd>
          </>
        )}
        {(!identity || identity.how === 'unreadable') && (
          <>
            <dt className="text-quiet">Identity</dt>
            <dd>{identity ? 'none can be read' : 'not taken down'}</dd>
          </>
        )}
      </dl>
      {job!.earlier && (
        <p className="border-l-8 border-sand pl-4">
          It came back: <Link to={`/jobs/${job!.earlier}`}>the job before it</Link>.
        </p>
      )}
      {register && <Register report={register} />}
      <div className="flex flex-wrap gap-2">
        {identity && identity.how !== 'unreadable' && (
          <Button onClick={() => void ask()}>{register ? 'Ask the register again' : 'Ask the register'}</Button>
        )}
        {!state.counter.collected && (
          <Button onClick={() => void show()}>
            <Eye size={18} aria-hidden="true" />
            Unlock code
          </Button>
        )}
        {code !== null && <output className="num self-center text-xl font-semibold">{code}</output>}
      </div>
      {problem && <ProblemNote>{problem}</ProblemNote>}
    </Panel>
  );
}

/** Causes that are told beside how it came in. Origin: own choice. */
const LIKELIEST = 3;

/** How it came in: marks, what worked, what was checked, and what is likely behind it. */
function CameIn({ state, model }: { state: RunState; model: Model }) {
  const { marks, checks, symptoms } = state.counter;
  const tried = [...state.before.values()];
  const name = (id: string) => model.anatomy.functions.find((f) => f.id === id)?.name ?? id;
  const failed = tried.filter((t) => t.outcome === 'fail').map((t) => name(t.function));
  const told = (outcome: 'pass' | 'fail') => tried.filter((t) => t.outcome === outcome).map((t) => t.function);
  const complaint = { symptoms, failed: told('fail'), passed: told('pass'), checks };
  const behind =
    symptoms.length > 0 || complaint.failed.length > 0 ? likelyCauses(model, complaint).slice(0, LIKELIEST) : [];
  if (marks.size === 0 && tried.length === 0 && Object.keys(checks).length === 0 && symptoms.length === 0) return null;
  return (
    <Panel id="came-in" title="How it came in">
      {tried.length > 0 && (
        <p>
          <span className="num">{tried.length}</span> functions tried;{' '}
          {failed.length > 0 ? <b className="text-crimson">failed: {failed.join(', ')}</b> : 'all worked'}.
        </p>
      )}
      {behind.length > 0 && (
        <p>
          Likely behind it:{' '}
          {behind.map((c, i) => (
            <span key={c.id}>
              {i > 0 && ', '}
              {c.item === null ? SORT_WORDS[c.sort].toLowerCase() : model.nameOf(c.item)}{' '}
              <span className="num">{Math.round(c.odds * 100)} %</span>
            </span>
          ))}
          .
        </p>
      )}
      <ul className="grid gap-1">
        {[...marks.values()].map((m) => (
          <li key={m.id} className="flex items-center gap-3">
            {m.photo && <img src={`/api/photos/${m.photo}/thumb`} alt={MARKS[m.kind]} className="h-12 rounded-md" />}
            {MARKS[m.kind]}, {m.face} <span className="num text-quiet">{m.at.join(' × ')} mm</span>
          </li>
        ))}
        {Object.entries(checks).map(([id, outcome]) => (
          <li key={id} className="text-quiet">
            {CHECKS[id as keyof typeof CHECKS].name}:{' '}
            {(CHECKS[id as keyof typeof CHECKS].outcomes as Record<string, string>)[outcome]}
          </li>
        ))}
      </ul>
    </Panel>
  );
}

const START_WORDS = {
  normal: 'A start that goes on: the board works.',
  none: 'It draws nothing: the way to the board is broken, or its key.',
  short: 'A short: it draws all there is from the first moment.',
  loops: 'It begins again and again.',
} as const;

/** The current at the start, as a curve while it comes. */
function BenchSupply({ state, job }: { state: RunState; job: string }) {
  const { record } = useRunOf('record');
  const [samples, setSamples] = useState<SupplySample[]>([]);
  const [running, setRunning] = useState(false);
  if (state.startedAt !== null || state.signedOff) return null;
  const start = () => {
    setSamples([]);
    setRunning(true);
    const got: SupplySample[] = [];
    const source = new EventSource(`/api/jobs/${job}/supply`);
    source.addEventListener('sample', (e) => {
      got.push(JSON.parse((e as MessageEvent<string>).data) as SupplySample);
      setSamples([...got]);
    });
    const end = () => {
      source.close();
      setRunning(false);
      if (got.length > 4) record([{ type: 'checked', check: 'start-current', outcome: startKindOf(got) }]);
    };
    source.addEventListener('end', end);
    source.onerror = end;
  };
  const most = Math.max(0.5, ...samples.map((s) => s.amps));
  const path = samples.map((s) => `${(s.seconds / 8) * 300} ${90 - (s.amps / most) * 80}`).join('L');
  return (
    <Panel id="supply" title="Current at the start">
      <p className="text-quiet">
        From the bench supply, in the place of the cell. This one is simulated. Never feed a swollen, wet or hot cell.
      </p>
      {samples.length > 1 && (
        <figure>
          <svg viewBox="0 0 300 96" className="w-full" role="img" aria-label={`Current, up to ${most.toFixed(2)} A`}>
            <path d="M0 90H300" className="stroke-line" />
            <path d={`M${path}`} fill="none" className="stroke-ember" strokeWidth={2.5} strokeLinejoin="round" />
          </svg>
          <figcaption className="flex justify-between text-sm">
            <span className="num">{samples.at(-1)!.amps.toFixed(2)} A</span>
            <span>{running ? 'it goes on…' : START_WORDS[startKindOf(samples)]}</span>
          </figcaption>
        </figure>
      )}
      <p>
        <Button disabled={running} onClick={start}>
          {samples.length > 0 ? 'Once more' : 'Switch it on'}
        </Button>
      </p>
    </Panel>
  );
}

/** Parts out of other devices that could go in, with what speaks against each. */
function Donors({ state, model }: { state: RunState; model: Model }) {
  const { job, adopt } = useRunOf('job', 'adopt');
  const { data: donors } = useLoad<Donor[]>('/counter/donors');
  const [problem, setProblem] = useState<string | null>(null);
  const { plan } = state.context;
  const [wanted, setWanted] = useState({ storage: '', region: '' });
  const today = new Date().toISOString().slice(0, 10);
  const fit = (donors ?? []).filter(
    (d) => d.anatomy === model.anatomy.id && plan.replace.includes(d.part) && (d.job === null || d.job === job!.id),
  );
  if (fit.length === 0) return null;
  const take = async (donor: Donor) => {
    try {
      adopt(await api<JobFile>(`/jobs/${job!.id}/donor`, { json: { donor: donor.id, part: donor.part } }));
      setProblem(null);
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Panel id="donors" title="Donor parts for this dive">
      {fit.some((d) => model.parts.get(d.part)?.kind === 'board') && (
        <div className="grid gap-3 sm:grid-cols-2">
          <label>
            <span className="label">Storage of the old board, GB</span>
            <input
              className="field num"
              inputMode="decimal"
              value={wanted.storage}
              maxLength={6}
              onChange={(e) => setWanted({ ...wanted, storage: e.target.value })}
            />
          </label>
          <label>
            <span className="label">Its region or variant</span>
            <input
              className="field"
              value={wanted.region}
              maxLength={60}
              onChange={(e) => setWanted({ ...wanted, region: e.target.value })}
            />
          </label>
        </div>
      )}
      <ul className="grid gap-3">
        {fit.map((d) => {
          const checks = donorChecks(
            model,
            d,
            { storage: readNumber(wanted.storage), region: wanted.region.trim() },
            today,
          );
          const stopped = checks.some((c) => c.weight === 'stop');
          const brings = donorBrings(model, plan, d.part);
          const taken = state.counter.donors.get(d.part) === d.id;
          return (
            <li key={d.id} className="grid gap-1 border-t border-line pt-2 first:border-t-0">
              <p className="font-semibold">
                {model.nameOf(d.part)}, {d.grade}, {d.tried.replace('-', ' ')}{' '}
                <span className="font-normal text-quiet">from {d.seller || 'a seller'}</span>
              </p>
              {checks.map((c) => (
                <p key={c.because} className={c.weight === 'stop' ? 'font-semibold text-crimson' : 'text-ember'}>
                  {c.weight === 'stop' ? '✗' : '!'} {c.because}
                </p>
              ))}
              {brings.lost.length > 0 && (
                <p className="text-quiet">Lost with it: {brings.lost.map((f) => nameOfLoss(model, f)).join(', ')}.</p>
              )}
              {brings.moves.length > 0 && (
                <p className="text-quiet">Moves over to it: {brings.moves.map((p) => model.nameOf(p)).join(', ')}.</p>
              )}
              {brings.resets.length > 0 && <p className="text-quiet">Is reset: {brings.resets.join(', ')}.</p>}
              {taken ? (
                <p className="font-semibold text-moss">✓ It goes in</p>
              ) : (
                <p>
                  <Button disabled={stopped || state.signedOff !== null} onClick={() => void take(d)}>
                    Take this one
                  </Button>
                </p>
              )}
            </li>
          );
        })}
      </ul>
      {problem && <ProblemNote>{problem}</ProblemNote>}
    </Panel>
  );
}

/** A job that waits: where everything lies, and who goes on with it. */
function Parking({ state }: { state: RunState }) {
  const { record, refusal } = useRunOf('record', 'refusal');
  const technicians = useShop((s) => s.shop?.technicians) ?? [];
  const [why, setWhy] = useState<ParkedWhy>('part-ordered');
  const [where, setWhere] = useState('');
  const [note, setNote] = useState('');
  const [to, setTo] = useState('');
  const { parked, holder } = state.counter;
  if (state.signedOff) return null;
  if (parked)
    return (
      <Panel id="parked" title="Parked">
        <p className="text-lg">
          It lies at <b>{parked.where}</b>: {PARKED_WORDS[parked.why]}. {parked.note}
        </p>
        <p>
          <Button weight="main" onClick={() => record([{ type: 'resumed' }])}>
            Take it up again
          </Button>
        </p>
      </Panel>
    );
  const done = () => {
    setWhere('');
    setNote('');
  };
  return (
    <Panel id="parked" title="Park it, or hand it on">
      {holder && (
        <p>
          {holder.name} has it; it lies at {holder.where}. {holder.note}
        </p>
      )}
      {!isClosed(state) && (
        <p className="text-quiet">
          An open device is isolated, covered and bagged with its tray; what hangs is propped or taped. Then say where.
        </p>
      )}
      <div className="grid gap-3 sm:grid-cols-2">
        <label>
          <span className="label">Where it lies, with its tray and parts</span>
          <input className="field" value={where} maxLength={200} onChange={(e) => setWhere(e.target.value)} />
        </label>
        <label>
          <span className="label">What the next one has to know</span>
          <input className="field" value={note} maxLength={400} onChange={(e) => setNote(e.target.value)} />
        </label>
        <label>
          <span className="label">Why it waits</span>
          <select className="field" value={why} onChange={(e) => setWhy(e.target.value as ParkedWhy)}>
            {PARKED_WHYS.map((w) => (
              <option key={w} value={w}>
                {PARKED_WORDS[w]}
              </option>
            ))}
          </select>
        </label>
        <label>
          <span className="label">Who goes on</span>
          <select className="field" value={to} onChange={(e) => setTo(e.target.value)}>
            <option value="">nobody else</option>
            {technicians.map((t) => (
              <option key={t}>{t}</option>
            ))}
          </select>
        </label>
      </div>
      <div className="flex flex-wrap gap-2">
        <Button
          disabled={where.trim() === ''}
          onClick={() => record([{ type: 'parked', why, where: where.trim(), note }]) && done()}
        >
          Park it
        </Button>
        <Button
          disabled={where.trim() === '' || to === ''}
          onClick={() => record([{ type: 'handed-on', to, where: where.trim(), note }]) && done()}
        >
          Hand it on
        </Button>
      </div>
      {refusal && (
        <p role="alert" className="font-semibold text-crimson">
          {refusal.message}
        </p>
      )}
    </Panel>
  );
}

function Labels({ job }: { job: string }) {
  return (
    <Panel id="labels" title="Labels">
      <div className="flex flex-wrap gap-2">
        <a className={buttonClass()} href={`/api/jobs/${job}/label.pdf?kind=bag`} target="_blank" rel="noreferrer">
          <Tag size={18} aria-hidden="true" />
          For the bag on the shelf
        </a>
        <a className={buttonClass()} href={`/api/jobs/${job}/label.pdf?kind=parts`} target="_blank" rel="noreferrer">
          <Printer size={18} aria-hidden="true" />
          For the box of old parts
        </a>
      </div>
      <p className="text-sm text-quiet">They name the job, never the customer.</p>
    </Panel>
  );
}

/** Who takes it home. */
function Collect({ state }: { state: RunState }) {
  const { job, adopt } = useRunOf('job', 'adopt');
  const [name, setName] = useState('');
  const [strokes, setStrokes] = useState<Stroke[]>([]);
  const [problem, setProblem] = useState<string | null>(null);
  const { collected } = state.counter;
  if (collected)
    return (
      <Panel id="collected" title="Collected">
        <p className="text-lg font-semibold text-moss">
          ✓ By {collected.name}
          {collected.signature ? ', signed' : ''}
        </p>
        <p className="text-quiet">The code that unlocked it is erased.</p>
      </Panel>
    );
  if (state.startedAt !== null && !state.signedOff) return null;
  const take = async () => {
    try {
      const given = strokes.length > 0 ? strokes : null;
      const by = technicianNow() ?? undefined;
      adopt(await api<JobFile>(`/jobs/${job!.id}/collect`, { json: { name: name.trim(), strokes: given, by } }));
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  const fault = strokes.length > 0 ? signatureFault(strokes) : null;
  return (
    <Panel id="collected" title={state.signedOff ? 'Collected by' : 'It goes back unopened'}>
      <label>
        <span className="label">Name of who collects it</span>
        <input
          className="field"
          value={name}
          maxLength={200}
          autoComplete="off"
          onChange={(e) => setName(e.target.value)}
        />
      </label>
      <Signature onChange={setStrokes} />
      {problem && <ProblemNote>{problem}</ProblemNote>}
      <div className="flex flex-wrap items-center gap-3">
        <Button weight="main" disabled={name.trim() === '' || fault !== null} onClick={() => void take()}>
          Hand it over
        </Button>
        {fault && <span className="text-quiet">{fault}</span>}
      </div>
    </Panel>
  );
}
