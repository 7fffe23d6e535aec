import { useState } from 'react';
import { Link } from 'react-router';
import type { Anatomy, Fault } from '../../../core/anatomy/index.ts';
import { placeIn, type Difference } from '../../../core/draft/index.ts';
import { Button, buttonClass, Loading, ProblemNote } from '../../controls/index.tsx';
import { api, ApiError, messageOf } from '../../state/api.ts';
import { useDraft } from '../../state/draft.ts';
import { useLoad } from '../../state/useLoad.ts';
import { useBoard } from './board.ts';
import * as acts from './acts.ts';
import { useGo } from '../../state/here.ts';

interface Outlook {
  changes: Difference[];
  revision: number;
  jobs: { id: string; number: number; customer: string; becomes: 'moves' | 'keeps'; because: string; holds: boolean }[];
}

interface Published extends Outlook {
  /** What of the sound device cannot be planned yet. */
  warnings: Fault[];
}

/** What changed since the last revision, and which jobs go along; then it is published, or its faults are told. */
export function Publish({ anatomy, faults }: { anatomy: Anatomy; faults: number }) {
  const { id, version, waiting } = useDraft();
  const select = useBoard((b) => b.select);
  const { data, problem } = useLoad<Outlook>(
    waiting.length === 0 && faults === 0 ? `/workshop/drafts/${id}/outlook?v=${version}` : null,
  );
  const [busy, setBusy] = useState(false);
  const [refused, setRefused] = useState<{ error: string; faults: Fault[] } | null>(null);
  const [done, setDone] = useState<Published | null>(null);
  const leave = useGo();
  if (faults > 0)
    return (
      <p className="text-crimson">
        {faults === 1 ? 'One fault is' : `${faults} faults are`} left. A draft may have some; what is published may not.
      </p>
    );
  if (done)
    return (
      <div className="grid gap-3">
        <p className="text-xl font-semibold text-moss">✓ Published as revision {done.revision}</p>
        <Jobs jobs={done.jobs} />
        {done.warnings.length > 0 && (
          <div role="note" className="border-l-4 border-ember pl-3 text-sm">
            <p className="font-semibold">The device is sound. What cannot be planned of it yet:</p>
            <ul className="grid gap-1">
              {done.warnings.map((w) => (
                <li key={w.path + w.message}>{w.message}</li>
              ))}
            </ul>
          </div>
        )}
        <Link className={buttonClass('main')} to={`/anatomies/${anatomy.id}`}>
          To the device
        </Link>
        <Button onClick={() => leave()('/workshop')}>To the workshop</Button>
      </div>
    );
  if (problem) return <ProblemNote>{problem}</ProblemNote>;
  if (!data) return <Loading what={waiting.length > 0 ? 'what waits to be sent' : 'what changed'} />;
  const silent = anatomy.connectors.filter((c) => c.carries.length === 0);
  const publish = async () => {
    setBusy(true);
    setRefused(null);
    try {
      const made = await api<Published>(`/workshop/drafts/${id}/publish`, { json: {}, ifMatch: version });
      setDone(made);
      useDraft.setState({ base: { anatomy: anatomy.id, revision: made.revision } });
    } catch (error) {
      setRefused({ error: messageOf(error), faults: error instanceof ApiError ? (error.problem.faults ?? []) : [] });
    } finally {
      setBusy(false);
    }
  };
  return (
    <div className="grid content-start gap-3">
      <h3 className="text-lg font-semibold">Revision {data.revision}</h3>
      {data.revision === 1 && <p className="text-quiet">A new device.</p>}
      <ul aria-label="What changed" className="grid max-h-56 gap-0.5 overflow-auto text-sm">
        {data.changes.map(({ item, text }) => (
          <li key={text}>
            {item !== null && acts.whereIs(anatomy, item) ? (
              <button type="button" className="text-left underline" onClick={() => select([item])}>
                {text}
              </button>
            ) : (
              text
            )}
          </li>
        ))}
        {data.revision > 1 && data.changes.length === 0 && <li className="text-quiet">Nothing changed.</li>}
      </ul>
      {silent.length > 0 && (
        <div className="border-l-4 border-ember pl-3" role="note" aria-label="Plugs that carry nothing">
          <p className="font-semibold text-ember">
            {silent.length === 1 ? 'One plug carries' : `${silent.length} plugs carry`} no function: nothing is tested
            after {silent.length === 1 ? 'it was' : 'they were'} open.
          </p>
          <p className="flex flex-wrap gap-1">
            {silent.map((c) => (
              <Button key={c.id} weight="quiet" onClick={() => select([c.id])}>
                {c.name || c.id}
              </Button>
            ))}
          </p>
        </div>
      )}
      <Jobs jobs={data.jobs} />
      <Button
        weight="main"
        onClick={() => void publish()}
        disabled={busy || (data.revision > 1 && data.changes.length === 0)}
      >
        {busy ? 'Checking every part…' : `Publish revision ${data.revision}`}
      </Button>
      {refused && (
        <div className="grid gap-2">
          <p role="alert" className="font-semibold text-crimson">
            {refused.error}
          </p>
          <ul className="grid gap-1 text-sm">
            {refused.faults.map((f) => {
              const place = placeIn(f.path);
              const named = place && anatomy[place.group][place.index]?.id;
              return (
                <li key={f.path + f.message}>
                  <button type="button" className="text-left" onClick={() => named && select([named])}>
                    <code className="font-mono font-semibold">{f.path}</code> {f.message}
                  </button>
                </li>
              );
            })}
          </ul>
        </div>
      )}
    </div>
  );
}

function Jobs({ jobs }: { jobs: Outlook['jobs'] }) {
  if (jobs.length === 0) return <p className="text-sm text-quiet">No job waits on this device.</p>;
  return (
    <ul aria-label="Jobs on this device" className="grid gap-1 text-sm">
      {jobs.map((j) => (
        <li key={j.id} className="border-l-4 border-line pl-2">
          <b>
            {j.number}, {j.customer}
          </b>{' '}
          {j.becomes === 'moves' ? 'moves to it' : 'keeps its revision'}: {j.because}
          {j.becomes === 'moves' && !j.holds && <span className="text-crimson"> The customer has to agree anew.</span>}
        </li>
      ))}
    </ul>
  );
}
