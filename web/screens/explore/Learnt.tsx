import { useMemo, useState } from 'react';
import { useParams } from 'react-router';
import { modelOf, type Anatomy, type Model } from '../../../core/anatomy/index.ts';
import { isUnseen, type Contradiction, type Evidence, type Grade } from '../../../core/learn/index.ts';
import { Button, Loading, Measure, ProblemNote } from '../../controls/index.tsx';
import { DeviceDrawing } from '../../drawing/DeviceDrawing.tsx';
import { api, messageOf } from '../../state/api.ts';
import { technicianNow } from '../../state/shop.ts';
import { useLoad } from '../../state/useLoad.ts';
import { useGo } from '../../state/here.ts';
import { spoken } from '../../../words/index.ts';

interface Told {
  anatomy: Anatomy;
  evidence: Evidence[];
  contradictions: Contradiction[];
  confirmed: string[];
  setAside: { dive: number; act: string; words: string }[];
  dives: number;
  draft: string | null;
}

const GRADES: Record<Grade, { word: string; mark: string; className: string }> = {
  seen: { word: 'seen', mark: '●', className: 'text-moss' },
  inferred: { word: 'inferred', mark: '◐', className: 'text-petrol' },
  guessed: { word: 'guessed', mark: '○', className: 'text-ember' },
};

/** What the dives into this model told: its anatomy, and how each relation is known. */
export default function Learnt() {
  const job = useParams().job!;
  const { data, problem } = useLoad<Told>(`/field/${job}/learnt`);
  if (!data) return problem ? <ProblemNote>{problem}</ProblemNote> : <Loading what="what was learnt" />;
  return <LearntOf job={job} told={data} />;
}

function LearntOf({ job, told }: { job: string; told: Told }) {
  const { anatomy, evidence } = told;
  const model = useMemo(() => modelOf(anatomy), [anatomy]);
  const [face, setFace] = useState<'front' | 'back'>(() => usualFace(anatomy));
  const [shown, setShown] = useState<Grade | null>(null);
  const [picked, setPicked] = useState<string | null>(null);
  const count = (grade: Grade) => evidence.filter((e) => e.grade === grade).length;
  const list = evidence
    .filter((e) => (shown === null || e.grade === shown) && (picked === null || e.of === picked || e.to === picked))
    .sort((a, b) => weight(a) - weight(b));
  const real = anatomy.parts.filter((p) => !p.fixed && !isUnseen(p.id));
  return (
    <div className="grid gap-4 lg:grid-cols-[minmax(0,22rem)_minmax(0,1fr)]">
      <section aria-label="The anatomy as learnt" className="panel grid content-start gap-3 p-4">
        <DeviceDrawing
          model={model}
          face={face}
          picked={new Set(picked ? [picked] : [])}
          onPick={(id) => setPicked(id === picked ? null : id)}
          label={`${anatomy.name} as learnt, ${face}`}
          className="mx-auto max-h-[56dvh] w-full"
        />
        <div className="flex flex-wrap items-center justify-between gap-2">
          <Button onClick={() => setFace(face === 'front' ? 'back' : 'front')}>
            See the {face === 'front' ? 'back' : 'front'}
          </Button>
          <div className="flex gap-5">
            <Measure value={real.length} label="parts" />
            <Measure value={anatomy.fasteners.length} label="screws" />
            <Measure value={anatomy.connectors.filter((c) => !isUnseen(c.id)).length} label="plugs" />
          </div>
        </div>
        <Keep job={job} told={told} />
      </section>
      <section aria-label="How it is known" className="grid content-start gap-3">
        <p className="text-lg">
          From {told.dives} {told.dives === 1 ? 'dive' : 'dives'} into this model
          {told.confirmed.length > 0 && `; ${told.confirmed.length} things found where they were drawn`}. What is
          guessed is kept as it was done, until another dive or the drawing board says better.
        </p>
        <div role="group" aria-label="How sure" className="flex flex-wrap gap-2">
          {(Object.keys(GRADES) as Grade[]).map((grade) => (
            <button
              key={grade}
              type="button"
              aria-pressed={shown === grade}
              className={`min-h-12 rounded-lg px-4 font-semibold ${shown === grade ? 'bg-petrol text-on-petrol' : 'bg-panel'}`}
              onClick={() => setShown(shown === grade ? null : grade)}
            >
              <span aria-hidden="true">{GRADES[grade].mark}</span> <span className="num">{count(grade)}</span>{' '}
              {GRADES[grade].word}
            </button>
          ))}
          {picked && (
            <Button weight="quiet" onClick={() => setPicked(null)}>
              All items, not only {model.nameOf(picked)}
            </Button>
          )}
        </div>
        <Against told={told} model={model} />
        <ul className="grid gap-1" data-testid="evidence">
          {list.slice(0, MOST).map((e) => (
            <Known key={`${e.relation} ${e.of} ${e.to}`} known={e} model={model} />
          ))}
        </ul>
        {list.length > MOST && (
          <p className="text-quiet">
            {list.length - MOST} more; choose a part in the drawing, or how sure, to see those.
          </p>
        )}
      </section>
    </div>
  );
}

/** What matters most to whoever looks it over comes first; seats and sockets are mostly guessed, and come last. */
const weight = ({ relation, grade }: Evidence): number =>
  (relation === 'into' || relation === 'to' ? 10 : 0) + ['guessed', 'inferred', 'seen'].indexOf(grade);

/** Relations that are listed at once. Origin: own choice, a screen's worth of scrolling. */
const MOST = 120;

const usualFace = ({ parts }: Anatomy): 'front' | 'back' =>
  parts.filter((p) => p.face === 'back').length > parts.filter((p) => !p.fixed && p.face === 'front').length
    ? 'back'
    : 'front';

function Known({ known, model }: { known: Evidence; model: Model }) {
  const { mark, word, className } = GRADES[known.grade];
  const name = (id: string) => (model.items.has(id) ? model.nameOf(id) : id);
  const same = known.of === known.to;
  return (
    <li className="panel grid grid-cols-[7.5rem_minmax(0,1fr)_3.5rem] items-baseline gap-3 px-4 py-2">
      <span className={`font-semibold ${className}`}>
        <span aria-hidden="true">{mark}</span> {word}
      </span>
      <span>
        {name(known.of)} {spoken.learnt[known.relation]} {same ? '' : name(known.to)}
        <span className="block text-sm text-quiet">{known.why}</span>
      </span>
      <span className="num text-right text-sm text-quiet">{Math.round(known.sure * 100)} %</span>
    </li>
  );
}

/** What does not fit: against what was known, and acts that nothing was learnt from. */
function Against({ told, model }: { told: Told; model: Model }) {
  if (told.contradictions.length + told.setAside.length === 0) return null;
  const name = (id: string) => (model.items.has(id) ? model.nameOf(id) : id);
  return (
    <section aria-label="What does not fit" className="panel border-l-8 border-crimson p-4">
      <h2 className="text-lg font-semibold">What does not fit</h2>
      <ul className="mt-1 grid gap-1">
        {told.contradictions.map((c) => (
          <li key={`${c.item} ${c.words}`}>
            {name(c.item)}: {c.words}.
          </li>
        ))}
        {told.setAside.map((s) => (
          <li key={`${s.act} ${s.words}`}>
            Dive {s.dive}: {s.words}.
          </li>
        ))}
      </ul>
    </section>
  );
}

/** The anatomy goes to the workshop, as a draft to go on with. */
function Keep({ job, told }: { job: string; told: Told }) {
  const leave = useGo();
  const [problem, setProblem] = useState<string | null>(null);
  const keep = async () => {
    const go = leave();
    try {
      const by = technicianNow();
      const { draft } = await api<{ draft: string }>(`/field/${job}/keep`, { json: by ? { by } : {} });
      go(`/workshop/${draft}`);
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <div className="grid gap-2">
      <Button weight="main" onClick={() => void keep()}>
        To the workshop, as a draft
      </Button>
      {told.draft && (
        <Button onClick={() => leave()(`/workshop/${told.draft}`)}>Go on with the draft that was begun</Button>
      )}
      {problem && <ProblemNote>{problem}</ProblemNote>}
    </div>
  );
}
