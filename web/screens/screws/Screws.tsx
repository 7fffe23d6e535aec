import { FileDown, FileUp } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import { modelOf, type Anatomy, type Model } from '../../../core/anatomy/index.ts';
import {
  classesOf,
  dangerTable,
  fastenersCsv,
  lookAlikes,
  readFasteners,
  torqueTarget,
  type Danger,
  type FitKind,
} from '../../../core/screws/index.ts';
import { torqueUnits } from '../../../core/units/index.ts';
import { buttonClass, FileButton, Loading, ProblemNote } from '../../controls/index.tsx';
import { ScrewGlyph } from '../../drawing/marks.tsx';
import { api, ApiError, messageOf } from '../../state/api.ts';
import { useLoad } from '../../state/useLoad.ts';

/** What each kind of misfit looks like in the table: a sign of its own, so that colour is never alone. */
const SIGNS: Record<FitKind, { sign: string; word: string }> = {
  fits: { sign: '·', word: 'fits' },
  'too-long': { sign: '↧', word: 'too long, bottoms out' },
  'comes-through': { sign: '⇟', word: 'comes through' },
  'too-short': { sign: '↥', word: 'too short' },
  'wrong-thread': { sign: '≠', word: 'wrong thread' },
  'wrong-head': { sign: '⊘', word: 'wrong head' },
  'wrong-kind': { sign: '×', word: 'another kind' },
  'not-measured': { sign: '?', word: 'not measured' },
};

/** Every screw of a device by class, which of them are taken for each other, and what that does. */
export default function Screws() {
  const id = useParams().anatomy!;
  const { data, problem, reload } = useLoad<{ anatomy: Anatomy; revision: number }>(`/anatomies/${id}`);
  const model = useMemo(() => (data ? modelOf(data.anatomy) : null), [data]);
  const [error, setError] = useState<ApiError | null>(null);
  if (!data || !model) return problem ? <ProblemNote>{problem}</ProblemNote> : <Loading what="the screws" />;
  const take = async (file: File | undefined) => {
    if (!file) return;
    setError(null);
    const reading = readFasteners(await file.text());
    if (!reading.ok)
      return setError(new ApiError(422, { error: 'the file has faults; nothing was changed', faults: reading.faults }));
    try {
      await api('/anatomies', {
        json: { ...data.anatomy, fasteners: reading.value },
        ifMatch: data.revision,
      });
      reload();
    } catch (cause) {
      if (!(cause instanceof ApiError)) return setError(new ApiError(0, { error: messageOf(cause) }));
      // The rows of the file are what its author sees.
      const faults = cause.problem.faults?.map((f) => ({
        ...f,
        path: f.path.replace(/^fasteners\[(\d+)\]\.?/, (_, i) => `row ${Number(i) + 2}, column `),
      }));
      setError(new ApiError(cause.status, { ...cause.problem, ...(faults ? { faults } : {}) }));
    }
  };
  return (
    <div className="mx-auto max-w-7xl">
      <div className="mb-4 flex flex-wrap items-end justify-between gap-3">
        <div>
          <h1 className="text-3xl font-bold">Screws of the {data.anatomy.name}</h1>
          <p className="text-quiet">
            <Link className="underline" to={`/anatomies/${id}`}>
              {data.anatomy.maker} {data.anatomy.name}
            </Link>
            , revision {data.revision}: {data.anatomy.fasteners.length} fasteners
          </p>
        </div>
        <div className="flex flex-wrap gap-2">
          <a className={buttonClass('main')} href={`/api/screws/map/${id}.pdf?paper=A4`} download>
            <FileDown aria-hidden="true" />
            Map 1:1, A4
          </a>
          <a className={buttonClass()} href={`/api/screws/map/${id}.pdf?paper=Letter`} download>
            Letter
          </a>
          <a className={buttonClass()} href={`/api/screws/map/${id}.svg?paper=A4`} download>
            SVG
          </a>
          <a
            className={buttonClass()}
            href={`data:text/csv;charset=utf-8,${encodeURIComponent(fastenersCsv(model))}`}
            download={`${id}-fasteners.csv`}
          >
            CSV out
          </a>
          <FileButton icon={<FileUp aria-hidden="true" />} accept=".csv,text/csv" onFile={(file) => void take(file)}>
            CSV in
          </FileButton>
        </div>
      </div>
      {error && (
        <div className="mb-4">
          <ProblemNote faults={error.problem.faults}>{error.message}</ProblemNote>
        </div>
      )}
      <div className="grid gap-5 lg:grid-cols-[minmax(0,1fr)_minmax(0,1.1fr)]">
        <div className="grid content-start gap-5">
          <Worst model={model} />
          <Classes model={model} />
        </div>
        <DangerMatrix model={model} />
      </div>
    </div>
  );
}

/** The pairs that hands confuse and holes do not forgive. */
export function Worst({ model, letters }: { model: Model; letters?: ReadonlySet<string> }) {
  const found = useMemo(
    () => lookAlikes(model).filter(({ a, b }) => !letters || (letters.has(a) && letters.has(b))),
    [model, letters],
  );
  const classes = useMemo(() => new Map(classesOf(model).map((c) => [c.letter, c])), [model]);
  return (
    <section aria-labelledby="worst" className="panel p-5">
      <h2 id="worst" className="mb-2 text-xl font-semibold">
        Look alike, and do harm when swapped
      </h2>
      {found.length === 0 ? (
        <p>None: whatever looks alike here fits alike.</p>
      ) : (
        <ul aria-label="Look-alikes" tabIndex={0} className="grid max-h-96 gap-2 overflow-auto">
          {found.slice(0, 30).map(({ a, b, dangers }) => (
            <li key={`${a}${b}`} className="grid grid-cols-[5rem_minmax(0,1fr)] items-start gap-3">
              <span className="flex items-center gap-1 text-lg font-bold">
                <svg viewBox="-1.3 -1.3 2.6 2.6" className="size-6" aria-hidden="true">
                  <ScrewGlyph
                    x={0}
                    y={0}
                    r={1}
                    drive={classes.get(a)!.shape.drive}
                    fill="var(--brass)"
                    stroke="var(--panel)"
                  />
                </svg>
                {a} / {b}
              </span>
              <span>
                <span className="num text-sm text-quiet">
                  {classes.get(a)!.shape.length ?? '?'} and {classes.get(b)!.shape.length ?? '?'} mm
                </span>
                {dangers.map((d) => (
                  <span key={d.screw} className="block">
                    <b>{d.screw}</b> at {d.at}: <span className="text-crimson">{d.worst.text}</span>
                  </span>
                ))}
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function Classes({ model }: { model: Model }) {
  return (
    <section aria-labelledby="classes" className="panel overflow-x-auto p-5">
      <h2 id="classes" className="mb-2 text-xl font-semibold">
        Classes: same letter, same screw
      </h2>
      <table className="w-full text-left">
        <thead className="text-sm text-quiet">
          <tr>
            {['', 'Drive', 'M', 'Length', 'Head', 'Torque', 'Where'].map((h, i) => (
              <th key={i} scope="col" className="px-1 font-normal">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {classesOf(model).map((c) => {
            const t = torqueTarget(model.fasteners.get(c.fasteners[0]!)!);
            const units = torqueUnits(t.target);
            return (
              <tr key={c.letter} className="border-t border-line align-baseline">
                <th scope="row" className="px-1 py-1.5 text-lg">
                  {c.letter}
                </th>
                <td className="px-1 whitespace-nowrap">
                  {c.shape.kind === 'screw' ? c.shape.drive : `${c.shape.kind} ${c.shape.drive}`}
                  {!c.shape.magnetic && <span className="text-sm text-ember"> not magnetic</span>}
                  {c.shape.colour !== 'bright' && <span className="text-sm text-ember"> {c.shape.colour}</span>}
                </td>
                <td className="num px-1">{c.shape.thread}</td>
                <td className="num px-1">{c.shape.length ?? '?'}</td>
                <td className="num px-1">{c.shape.head}</td>
                <td
                  className="num px-1 whitespace-nowrap"
                  title={`${units.kgfcm.toFixed(2)} kgf·cm, ${units.mNm.toFixed(0)} mN·m, ${units.lbfin.toFixed(2)} lbf·in`}
                >
                  {t.from === 'estimate' ? `${t.low} to ${t.high}` : t.target}
                  {{ anatomy: '', default: '*', estimate: '†' }[t.from]} N·cm
                </td>
                <td className="num px-1 text-sm text-quiet">{c.fasteners.join(' ')}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className="mt-2 text-sm text-quiet">
        * default by thread, two thirds of the least breaking torque of ISO 898-7 (from memory); a maker's own value
        comes first. † own estimate below M1, where no standard gives a minimum.
      </p>
    </section>
  );
}

function DangerMatrix({ model }: { model: Model }) {
  const classes = useMemo(() => classesOf(model), [model]);
  const table = useMemo(() => new Map(dangerTable(model).map((d) => [`${d.screw} ${d.hole}`, d])), [model]);
  const [chosen, setChosen] = useState<Danger | null>(null);
  return (
    <section aria-labelledby="danger" className="panel grid content-start gap-3 p-5">
      <h2 id="danger" className="text-xl font-semibold">
        A screw of the row in a hole of the column
      </h2>
      <section className="overflow-auto" tabIndex={0} aria-label="Danger table">
        <table className="border-collapse text-center">
          <thead>
            <tr>
              <th scope="col">
                <span className="sr-only">Screw</span>
              </th>
              {classes.map((c) => (
                <th key={c.letter} scope="col" className="num sticky top-0 w-8 bg-panel text-sm">
                  {c.letter}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {classes.map((row) => (
              <tr key={row.letter}>
                <th scope="row" className="num sticky left-0 bg-panel pr-2 text-sm">
                  {row.letter}
                </th>
                {classes.map((column) => {
                  const d = table.get(`${row.letter} ${column.letter}`);
                  if (!d) return <td key={column.letter} className="bg-sunk" />;
                  return (
                    <td
                      key={column.letter}
                      className={`border border-line p-0 ${chosen === d ? 'outline-2 outline-ink' : ''}`}
                    >
                      <button
                        type="button"
                        className={`size-8 ${d.worst.harmful ? 'font-bold text-crimson' : 'text-quiet'}`}
                        onClick={() => setChosen(d)}
                        onMouseEnter={() => setChosen(d)}
                        aria-label={`${d.screw} in ${d.hole}: ${d.worst.text}`}
                      >
                        {SIGNS[d.worst.kind].sign}
                      </button>
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <p className="min-h-6" aria-live="polite">
        {chosen ? (
          <>
            <b>{chosen.screw}</b> at {chosen.at}:{' '}
            <span className={chosen.worst.harmful ? 'text-crimson' : ''}>{chosen.worst.text}</span>
          </>
        ) : (
          'Point at a field to read what happens.'
        )}
      </p>
      <p className="text-sm text-quiet">
        {Object.values(SIGNS)
          .map(({ sign, word }) => `${sign} ${word}`)
          .join('   ')}
      </p>
    </section>
  );
}
