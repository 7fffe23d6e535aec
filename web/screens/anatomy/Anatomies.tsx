import { FileUp } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import type { AnatomySummary } from '../../../core/jobs/index.ts';
import { FileButton, Loading, ProblemNote } from '../../controls/index.tsx';
import { api, ApiError, messageOf } from '../../state/api.ts';
import { useLoad } from '../../state/useLoad.ts';
import { useGo } from '../../state/here.ts';

/** The id that a file gives its anatomy, as far as it can be read; what is wrong with it is for the server to say. */
function idIn(text: string): string | null {
  try {
    return (JSON.parse(text) as { id?: string } | null)?.id ?? null;
  } catch {
    return null;
  }
}

export default function Anatomies() {
  const { data, problem, reload } = useLoad<AnatomySummary[]>('/anatomies');
  const [refused, setRefused] = useState<ApiError | null>(null);
  const [busy, setBusy] = useState(false);
  const leave = useGo();
  const bring = async (file: File | undefined) => {
    const go = leave();
    if (!file) return;
    setRefused(null);
    setBusy(true);
    try {
      // One that stands in the list is revised; whoever else revises it meanwhile is not overlooked.
      const brought = await file.text().then(idIn);
      const known = data?.find((a) => a.id === brought);
      const { anatomy } = await api<{ anatomy: { id: string } }>('/anatomies', {
        body: file,
        type: 'application/json',
        ...(known ? { ifMatch: known.revision } : {}),
      });
      go(`/anatomies/${anatomy.id}`);
    } catch (error) {
      if (error instanceof ApiError && error.status === 412) reload();
      setRefused(error instanceof ApiError ? error : new ApiError(0, { error: messageOf(error) }));
    } finally {
      setBusy(false);
    }
  };
  if (!data) return problem ? <ProblemNote>{problem}</ProblemNote> : <Loading what="the anatomies" />;
  return (
    <div className="mx-auto max-w-5xl">
      <div className="mb-5 flex flex-wrap items-end justify-between gap-4">
        <h1 className="text-3xl font-bold">Anatomies</h1>
        <FileButton
          weight="main"
          icon={<FileUp aria-hidden="true" />}
          accept=".json,application/json"
          onFile={(file) => void bring(file)}
        >
          {busy ? 'Reading and checking every part…' : 'Bring in an anatomy'}
        </FileButton>
      </div>
      {refused && (
        <div className="mb-4">
          <ProblemNote faults={refused.problem.faults}>{refused.message}</ProblemNote>
        </div>
      )}
      <ul className="grid gap-2 sm:grid-cols-2">
        {[...data]
          .sort((a, b) => Number(a.archived) - Number(b.archived))
          .map((a) => (
            <li key={a.id} className={a.archived ? 'opacity-60' : ''}>
              <Link
                to={`/anatomies/${a.id}`}
                className="panel block px-5 py-4 text-ink no-underline hover:brightness-[1.02]"
              >
                <span className="block text-xl font-semibold">
                  {a.maker} {a.name}
                </span>
                <span className="num text-quiet">
                  {a.parts} parts, {a.fasteners} screws, {a.connectors} connectors, revision {a.revision}
                  {a.untried && ', untried here'}
                  {a.archived && ', archived'}
                </span>
              </Link>
            </li>
          ))}
      </ul>
    </div>
  );
}
