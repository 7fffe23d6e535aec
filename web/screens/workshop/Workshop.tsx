import { Archive, ArchiveRestore, FileUp, History, PencilRuler, Share2 } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { parseJson, type Anatomy, type Fault } from '../../../core/anatomy/index.ts';
import type { AnatomySummary, DraftSummary } from '../../../core/jobs/index.ts';
import { Button, buttonClass, FileButton, Loading, ProblemNote } from '../../controls/index.tsx';
import { api, ApiError, messageOf } from '../../state/api.ts';
import { technicianNow } from '../../state/shop.ts';
import { useLoad } from '../../state/useLoad.ts';
import { Begin } from './Begin.tsx';
import { Sharing } from './Sharing.tsx';
import { useGo } from '../../state/here.ts';

export interface Refused {
  error: string;
  faults?: Fault[] | undefined;
}

export const refusalOf = (error: unknown): Refused => ({
  error: messageOf(error),
  faults: error instanceof ApiError ? error.problem.faults : undefined,
});

/** Begins a draft and goes to it. */
export function useBegin(): { begin: (asked: object) => Promise<void>; refused: Refused | null; clear: () => void } {
  const leave = useGo();
  const [refused, setRefused] = useState<Refused | null>(null);
  const begin = async (asked: object) => {
    const go = leave();
    setRefused(null);
    try {
      const by = technicianNow();
      const { id } = await api<{ id: string }>('/workshop/drafts', { json: { ...asked, ...(by ? { by } : {}) } });
      go(`/workshop/${id}`);
    } catch (error) {
      setRefused(refusalOf(error));
    }
  };
  return { begin, refused, clear: () => setRefused(null) };
}

/** Where devices are drawn: what is begun, what the shop has, and what other shops share. */
export default function Workshop() {
  const drafts = useLoad<DraftSummary[]>('/workshop/drafts');
  const devices = useLoad<AnatomySummary[]>('/anatomies');
  const { begin, refused } = useBegin();
  const [asked, setAsked] = useState<'new' | 'share' | null>(null);
  const [copyOf, setCopyOf] = useState<AnatomySummary | null>(null);
  const [wrong, setWrong] = useState<Refused | null>(null);
  if (!drafts.data || !devices.data)
    return drafts.problem ? <ProblemNote>{drafts.problem}</ProblemNote> : <Loading what="the workshop" />;
  const bring = async (file: File | undefined) => {
    if (!file) return;
    setWrong(null);
    const parsed = parseJson(await file.text());
    if (!parsed.ok) setWrong({ error: 'this file was not taken', faults: parsed.faults });
    else await begin({ document: parsed.value as Anatomy });
  };
  const discard = async (id: string) => {
    await api(`/workshop/drafts/${id}`, { method: 'DELETE' }).catch((error) => setWrong(refusalOf(error)));
    drafts.reload();
  };
  const archive = async (id: string, archived: boolean) => {
    await api(`/anatomies/${id}/archive`, { json: { archived } }).catch((error) => setWrong(refusalOf(error)));
    devices.reload();
  };
  const said = refused ?? wrong;
  return (
    <div className="mx-auto grid max-w-6xl gap-6">
      <div className="flex flex-wrap items-end justify-between gap-3">
        <h1 className="text-3xl font-bold">Workshop</h1>
        <span className="flex flex-wrap gap-2">
          <Button weight="main" onClick={() => setAsked(asked === 'new' ? null : 'new')}>
            <PencilRuler aria-hidden="true" />
            Draw a new device
          </Button>
          <FileButton
            icon={<FileUp aria-hidden="true" />}
            accept=".json,application/json"
            onFile={(file) => void bring(file)}
          >
            From a file
          </FileButton>
          <Button onClick={() => setAsked(asked === 'share' ? null : 'share')}>
            <Share2 aria-hidden="true" />
            From another shop
          </Button>
        </span>
      </div>
      {said && <ProblemNote faults={said.faults}>{said.error}</ProblemNote>}
      {asked === 'new' && <Begin devices={devices.data} copyOf={copyOf} begin={begin} />}
      {asked === 'share' && <Sharing taken={devices.reload} />}
      <section aria-labelledby="drafts">
        <h2 id="drafts" className="mb-2 text-xl font-semibold">
          On the drawing board
        </h2>
        {drafts.data.length === 0 && (
          <p className="text-quiet">
            Nothing is being drawn. Draw a new device, or go on with one of the shop’s below.
          </p>
        )}
        <ul className="grid gap-2 sm:grid-cols-2">
          {drafts.data.map((d) => (
            <li key={d.id} className="panel flex items-center justify-between gap-2 pr-2">
              <Link to={`/workshop/${d.id}`} className="min-w-0 flex-1 px-5 py-4 text-ink no-underline">
                <span className="block truncate text-lg font-semibold">
                  {d.maker} {d.name}
                </span>
                <span className="num text-sm text-quiet">
                  {d.base ? `from revision ${d.base.revision}` : 'a new device'}, {d.version} edits,{' '}
                  {new Date(d.changedAt).toLocaleDateString()}
                </span>
              </Link>
              <Button weight="quiet" onClick={() => void discard(d.id)} aria-label={`Discard the draft of ${d.name}`}>
                Discard
              </Button>
            </li>
          ))}
        </ul>
      </section>
      <section aria-labelledby="devices">
        <h2 id="devices" className="mb-2 text-xl font-semibold">
          The shop’s devices
        </h2>
        <ul className="grid gap-2">
          {[...devices.data]
            .sort((a, b) => Number(a.archived) - Number(b.archived))
            .map((a) => (
              <Device
                key={a.id}
                device={a}
                begin={begin}
                copy={() => {
                  setCopyOf(a);
                  setAsked('new');
                  window.scrollTo({ top: 0 });
                }}
                archive={(archived) => void archive(a.id, archived)}
              />
            ))}
        </ul>
      </section>
    </div>
  );
}

interface Revision {
  revision: number;
  createdAt: string;
  by: string | null;
  changes: string[] | null;
}

function Device({
  device: a,
  begin,
  copy,
  archive,
}: {
  device: AnatomySummary;
  begin: (asked: object) => Promise<void>;
  copy: () => void;
  archive: (archived: boolean) => void;
}) {
  const [open, setOpen] = useState(false);
  const { data: revisions } = useLoad<Revision[]>(open ? `/anatomies/${a.id}/revisions` : null);
  return (
    <li className={`panel px-4 py-2 ${a.archived ? 'opacity-60' : ''}`}>
      <div className="flex flex-wrap items-center justify-between gap-2">
        <Link to={`/anatomies/${a.id}`} className="min-w-0 flex-1 py-2 text-ink no-underline">
          <span className="block text-lg font-semibold">
            {a.maker} {a.name}
          </span>
          <span className="num text-sm text-quiet">
            revision {a.revision}, {a.parts} parts, {a.fasteners} screws
            {a.origin && `, from ${a.origin}`}
            {a.untried && ', untried here'}
            {a.archived && ', archived'}
          </span>
        </Link>
        <span className="flex flex-wrap gap-1">
          <Button onClick={() => void begin({ revise: a.id })}>Go on drawing</Button>
          <Button weight="quiet" onClick={copy}>
            Copy
          </Button>
          <a className={buttonClass('quiet')} href={`/api/workshop/bundles/${a.id}`} download>
            Bundle
          </a>
          <Button weight="quiet" aria-expanded={open} onClick={() => setOpen(!open)}>
            <History aria-hidden="true" />
            Revisions
          </Button>
          <Button weight="quiet" onClick={() => archive(!a.archived)}>
            {a.archived ? <ArchiveRestore aria-hidden="true" /> : <Archive aria-hidden="true" />}
            {a.archived ? 'Bring back' : 'Archive'}
          </Button>
        </span>
      </div>
      {open && (
        <ol className="grid gap-2 border-t border-line py-2">
          {revisions?.map((r) => (
            <li key={r.revision} className="flex items-start justify-between gap-3 text-sm">
              <span className="min-w-0">
                <b>Revision {r.revision}</b>, {new Date(r.createdAt).toLocaleDateString()}
                {r.by && `, ${r.by}`}
                <span className="block text-quiet">
                  {r.changes && r.changes.length > 0 ? r.changes.slice(0, 8).join('; ') : 'first drawing'}
                </span>
              </span>
              <Button weight="quiet" onClick={() => void begin({ revise: a.id, revision: r.revision })}>
                {r.revision === a.revision ? 'Open' : 'Look at it'}
              </Button>
            </li>
          ))}
        </ol>
      )}
    </li>
  );
}
