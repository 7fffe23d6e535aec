import { FileUp, Plus, Ruler, X } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import { COLOURS, DRIVES, type Colour, type Drive, type Fault } from '../../../core/anatomy/index.ts';
import type { EventBody } from '../../../core/run/index.ts';
import { readAgain, readPieces, sortSpill, type Piece, type Sorting } from '../../../core/screws/index.ts';
import { readNumber } from '../../../core/units/index.ts';
import { Button, FileButton, ProblemNote } from '../../controls/index.tsx';
import { useRunOf } from '../../state/run.ts';

type Measured = 'length' | 'head' | 'thread';
/** Largest measures that are believed, mm, as in an anatomy. */
const LARGEST: Record<Measured, number> = { length: 60, head: 20, thread: 10 };

const empty = (n: number): Piece => ({
  id: `piece ${n}`,
  length: null,
  thread: null,
  head: null,
  drive: null,
  magnetic: null,
  colour: null,
  uncertainty: null,
});
const measured = (p: Piece) => p.length !== null || p.thread !== null || p.head !== null || p.drive !== null;

/** What lies on the bench after the tray went over, and into which well each piece goes back. */
export default function Spill() {
  const { job, context, state, record } = useRunOf('job', 'context', 'state', 'record');
  const [pieces, setPieces] = useState<Piece[]>([]);
  const [faults, setFaults] = useState<Fault[] | null>(null);
  const [measuring, setMeasuring] = useState(false);
  const [done, setDone] = useState(false);
  /** How often a measure was read, by piece and measure; what is read again is averaged. */
  const [counts, setCounts] = useState<Record<string, number>>({});
  /** What was typed and is no measure, by piece and measure. */
  const [wrong, setWrong] = useState<Record<string, string>>({});
  /** The last reading of each measure, for when it corrects the one before. */
  const [last, setLast] = useState<Record<string, number>>({});
  const stream = useRef<EventSource | null>(null);
  useEffect(() => () => stream.current?.close(), []);
  const out = useMemo(() => [...(state?.out.keys() ?? [])], [state]);
  const sorting = useMemo(
    (): Sorting | null => (context ? sortSpill(context.model, pieces.filter(measured), out) : null),
    [context, pieces, out],
  );
  if (!job || !context || !state || !sorting) return <p className="panel p-8">This job has no dive.</p>;
  const { model } = context;
  const sorted = new Map(sorting.pieces.map((s) => [s.piece, s]));
  const held = sorting.pieces.filter((s) => s.heldBack);
  const measure = () => {
    setFaults(null);
    setPieces([]);
    setCounts({});
    setMeasuring(true);
    stream.current = new EventSource(`/api/screws/caliper/${job.id}`);
    stream.current.addEventListener('piece', (e) =>
      setPieces((list) => [...list, JSON.parse((e as MessageEvent<string>).data) as Piece]),
    );
    const end = () => {
      stream.current?.close();
      setMeasuring(false);
    };
    stream.current.addEventListener('end', end);
    stream.current.onerror = end;
  };
  const take = async (file: File | undefined) => {
    if (!file) return;
    const reading = readPieces(await file.text());
    setFaults(reading.ok ? null : reading.faults);
    setCounts({});
    if (reading.ok) setPieces(reading.value);
  };
  const change = (i: number, part: Partial<Piece>) =>
    setPieces(pieces.map((p, k) => (k === i ? { ...p, ...part } : p)));
  const enter = (i: number, key: 'length' | 'head' | 'thread', value: number | null) => {
    const piece = pieces[i]!;
    const again = sorted.get(piece.id)?.heldBack && piece[key] !== null && value !== null;
    const count = again ? (counts[`${piece.id} ${key}`] ?? 1) : 0;
    setCounts({ ...counts, [`${piece.id} ${key}`]: count + 1 });
    setPieces(pieces.map((p, k) => (k !== i ? p : again ? readAgain(p, key, value, count) : { ...p, [key]: value })));
  };
  /** Takes what was typed; what is no measure is said beside it, and leaves no old value standing. */
  const typed = (i: number, key: Measured, text: string) => {
    const piece = pieces[i]!;
    const name = `${piece.id} ${key}`;
    const value = readNumber(text);
    const fits = value !== null && value > 0 && value <= LARGEST[key];
    const { [name]: _, ...others } = wrong;
    if (text.trim() === '' || fits) setWrong(others);
    else setWrong({ ...others, [name]: text });
    if (fits) setLast({ ...last, [name]: value });
    const next = fits ? value : null;
    if (next !== piece[key]) enter(i, key, next);
  };
  /** The last reading takes the place of those before it. */
  const correct = (i: number, key: Measured) => {
    const name = `${pieces[i]!.id} ${key}`;
    setCounts({ ...counts, [name]: 1 });
    change(i, { [key]: last[name] ?? null });
  };
  const putBack = () => {
    const back = sorting.pieces.filter((s) => s.fastener !== null).length;
    const bodies: EventBody[] = [
      {
        type: 'note',
        step: state.cursor,
        text: '',
        said: { code: 'tray-spilt', back, strangers: sorting.pieces.length - back },
      },
      ...sorting.lost.map(
        (id): EventBody => ({
          type: 'deviation',
          item: id,
          kind: 'missing',
          note: 'Not found after the tray was spilt; bench and floor searched.',
        }),
      ),
    ];
    if (record(bodies)) setDone(true);
  };
  return (
    <div className="grid gap-4">
      <div className="flex flex-wrap items-center gap-3">
        <p className="text-lg">
          <b className="num">{out.length}</b> screws should lie on the bench;{' '}
          <b className="num">{sorting.pieces.length}</b> are measured.
        </p>
        <span className="flex-1" />
        <Button onClick={measure} disabled={measuring || out.length === 0}>
          <Ruler aria-hidden="true" />
          {measuring ? 'Measuring…' : 'Measure all (simulated caliper)'}
        </Button>
        <FileButton icon={<FileUp aria-hidden="true" />} accept=".csv,text/csv" onFile={(file) => void take(file)}>
          Measured as CSV
        </FileButton>
        <Button onClick={() => setPieces([...pieces, empty(pieces.length + 1)])}>
          <Plus aria-hidden="true" />
          One piece by hand
        </Button>
      </div>
      {faults && <ProblemNote faults={faults}>The file has faults; nothing was taken over.</ProblemNote>}
      {out.length === 0 && (
        <p className="panel p-6 text-quiet">No screw is out on this job, so nothing can be spilt.</p>
      )}
      {pieces.length > 0 && (
        <section aria-label="Pieces" className="panel overflow-x-auto p-4">
          <table className="w-full text-left">
            <thead className="text-sm text-quiet">
              <tr>
                {['Piece', 'Length', 'Head', 'Thread', 'Drive', 'Magnetic', 'Colour', 'Goes to', 'How sure', ''].map(
                  (h, i) => (
                    <th key={i} scope="col" className="px-2 font-normal">
                      {h}
                    </th>
                  ),
                )}
              </tr>
            </thead>
            <tbody>
              {pieces.map((p, i) => {
                const s = sorted.get(p.id);
                const well = s?.fastener ? (state.out.get(s.fastener) ?? context.wells.get(s.fastener) ?? null) : null;
                const missing = (key: 'length' | 'head' | 'thread') => s?.heldBack && s.measureNext === key;
                const box = (key: Measured) => (
                  <td className="px-1 align-top">
                    <input
                      aria-label={`${key} of ${p.id}, mm`}
                      className={`field num !w-20 ${missing(key) ? '!border-2 !border-crimson' : ''}`}
                      inputMode="decimal"
                      defaultValue={wrong[`${p.id} ${key}`] ?? p[key] ?? ''}
                      key={`${p.id} ${p[key]}`}
                      aria-invalid={wrong[`${p.id} ${key}`] !== undefined}
                      onBlur={(e) => typed(i, key, e.target.value)}
                    />
                    {wrong[`${p.id} ${key}`] !== undefined && (
                      <span className="block text-xs text-crimson">0 to {LARGEST[key]} mm: 2.4 or 2,4</span>
                    )}
                    {(counts[`${p.id} ${key}`] ?? 1) > 1 && (
                      <span className="block text-xs">
                        mean of {counts[`${p.id} ${key}`]} readings
                        <button type="button" className="block min-h-12 underline" onClick={() => correct(i, key)}>
                          only the last, {last[`${p.id} ${key}`]}
                        </button>
                      </span>
                    )}
                  </td>
                );
                return (
                  <tr key={p.id} className="border-t border-line" data-piece={p.id} data-held={s?.heldBack ?? false}>
                    <th scope="row" className="px-2 py-1 font-normal whitespace-nowrap">
                      {p.id}
                    </th>
                    {box('length')}
                    {box('head')}
                    {box('thread')}
                    <td className="px-1">
                      <select
                        aria-label={`drive of ${p.id}`}
                        className="field !w-28"
                        value={p.drive ?? ''}
                        onChange={(e) => change(i, { drive: e.target.value === '' ? null : (e.target.value as Drive) })}
                      >
                        <option value="">?</option>
                        {DRIVES.map((d) => (
                          <option key={d}>{d}</option>
                        ))}
                      </select>
                    </td>
                    <td className="px-1">
                      <select
                        aria-label={`is ${p.id} magnetic`}
                        className="field !w-20"
                        value={p.magnetic === null ? '' : p.magnetic ? 'yes' : 'no'}
                        onChange={(e) =>
                          change(i, { magnetic: e.target.value === '' ? null : e.target.value === 'yes' })
                        }
                      >
                        <option value="">?</option>
                        <option>yes</option>
                        <option>no</option>
                      </select>
                    </td>
                    <td className="px-1">
                      <select
                        aria-label={`colour of ${p.id}`}
                        className="field !w-24"
                        value={p.colour ?? ''}
                        onChange={(e) =>
                          change(i, { colour: e.target.value === '' ? null : (e.target.value as Colour) })
                        }
                      >
                        <option value="">?</option>
                        {COLOURS.map((c) => (
                          <option key={c}>{c}</option>
                        ))}
                      </select>
                    </td>
                    <td className="px-2">
                      {!s ? (
                        <span className="text-quiet">measure it first</span>
                      ) : s.heldBack ? (
                        <b className="text-crimson">▲ held back</b>
                      ) : s.fastener ? (
                        <>
                          <b className="num rounded bg-sunk px-2 text-xl text-brass">{well ?? 'loose'}</b>{' '}
                          <span className="text-sm text-quiet">
                            {s.letter}, {s.fastener}
                          </span>
                        </>
                      ) : (
                        <b>stranger</b>
                      )}
                    </td>
                    <td className="px-2 text-sm">
                      {s &&
                        (s.heldBack ? (
                          <>
                            may be {s.danger?.letter} and then {s.danger?.text};{' '}
                            <b>measure its {s.measureNext} again</b>
                          </>
                        ) : (
                          <span className="num">
                            {(s.chances[0]!.p * 100).toFixed(s.chances[0]!.p > 0.999 ? 2 : 0)} %
                          </span>
                        ))}
                    </td>
                    <td>
                      <Button
                        weight="quiet"
                        aria-label={`Remove ${p.id}`}
                        onClick={() => setPieces(pieces.filter((_, k) => k !== i))}
                      >
                        <X aria-hidden="true" />
                      </Button>
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        </section>
      )}
      {pieces.length > 0 && sorting.lost.length > 0 && (
        <p className="panel border-l-8 border-ember p-4" data-testid="lost">
          <b>Not found yet:</b> {sorting.lost.map((id) => model.nameOf(id)).join(', ')}. Search bench and floor; magnets
          hide screws.
        </p>
      )}
      {done ? (
        <p role="status" className="text-lg font-semibold text-moss">
          ✓ Back in the wells, and noted.{' '}
          <Link className="underline" to={`/jobs/${job.id}/run`}>
            Go on with the run
          </Link>
        </p>
      ) : (
        pieces.length > 0 && (
          <div className="flex flex-wrap items-center gap-4">
            <Button
              weight="main"
              className="min-h-14 text-lg"
              disabled={held.length > 0 || measuring || sorting.pieces.length < pieces.length}
              onClick={putBack}
            >
              Put them back into the wells
            </Button>
            {held.length > 0 && (
              <span className="text-crimson">
                {held.length} {held.length === 1 ? 'piece is' : 'pieces are'} held back: a mistake would do harm.
                Measure again first.
              </span>
            )}
          </div>
        )
      )}
    </div>
  );
}
