import { Minus, Plus } from 'lucide-react';
import { useState } from 'react';
import { DRIVES } from '../../../core/anatomy/index.ts';
import type { AnatomySummary } from '../../../core/jobs/index.ts';
import { FASTENERS } from '../../../core/kinds/index.ts';
import type { StockItem } from '../../../core/screws/index.ts';
import { readNumber } from '../../../core/units/index.ts';
import { Button, Check, Loading, ProblemNote } from '../../controls/index.tsx';
import { ScrewGlyph } from '../../drawing/marks.tsx';
import { api, ApiError, messageOf } from '../../state/api.ts';
import { useLoad } from '../../state/useLoad.ts';

/** The shop's small stock of screws, and kits of whole devices. */
export default function Stock() {
  const { data, problem, reload } = useLoad<StockItem[]>('/screws/stock');
  const { data: devices } = useLoad<AnatomySummary[]>('/anatomies');
  const [error, setError] = useState<ApiError | null>(null);
  const [device, setDevice] = useState('');
  const [fresh, setFresh] = useState({
    kind: 'screw',
    drive: 'PH000',
    length: '',
    thread: '',
    head: '',
    magnetic: true,
    count: '10',
  });
  const attempt = async (work: () => Promise<unknown>) => {
    setError(null);
    try {
      await work();
      reload();
    } catch (cause) {
      setError(cause instanceof ApiError ? cause : new ApiError(0, { error: messageOf(cause) }));
    }
  };
  if (!data) return problem ? <ProblemNote>{problem}</ProblemNote> : <Loading what="the stock" />;
  const field = (key: 'length' | 'thread' | 'head' | 'count', label: string) => (
    <label className="w-24">
      <span className="label">{label}</span>
      <input
        className="field num"
        inputMode="decimal"
        value={fresh[key]}
        onChange={(e) => setFresh({ ...fresh, [key]: e.target.value })}
      />
    </label>
  );
  return (
    <div className="mx-auto max-w-6xl">
      <h1 className="mb-4 text-3xl font-bold">Screws in stock</h1>
      {error && (
        <div className="mb-4">
          <ProblemNote faults={error.problem.faults}>{error.message}</ProblemNote>
        </div>
      )}
      <div className="grid gap-5 lg:grid-cols-[minmax(0,1fr)_22rem]">
        <section aria-label="Stock" className="panel overflow-x-auto p-4">
          {data.length === 0 ? (
            <p className="p-4 text-quiet">Nothing yet. Add the kit of a device, or single kinds.</p>
          ) : (
            <table className="w-full text-left">
              <thead className="text-sm text-quiet">
                <tr>
                  {['', 'Drive', 'Thread', 'Length', 'Head', '', 'Pieces'].map((h, i) => (
                    <th key={i} scope="col" className="px-2 font-normal">
                      {h}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {data.map((s) => (
                  <tr key={s.id} className="border-t border-line" data-stock={s.id}>
                    <td className="px-2">
                      <svg viewBox="-1.3 -1.3 2.6 2.6" className="size-6" aria-hidden="true">
                        <ScrewGlyph
                          x={0}
                          y={0}
                          r={1}
                          drive={s.drive}
                          fill="var(--brass)"
                          stroke="var(--panel)"
                          standoff={FASTENERS.of(s.kind).seat}
                        />
                      </svg>
                    </td>
                    <th scope="row" className="px-2 font-normal">
                      {s.kind === 'screw' ? s.drive : `${s.kind} ${s.drive}`}
                    </th>
                    <td className="num px-2">M{s.thread}</td>
                    <td className="num px-2">{s.length} mm</td>
                    <td className="num px-2">{s.head} mm</td>
                    <td className="px-2 text-sm text-ember">{!s.magnetic && 'not magnetic'}</td>
                    <td className="px-2">
                      <span className="flex items-center gap-1">
                        <Button
                          weight="quiet"
                          aria-label={`One ${s.drive} ${s.length} mm less`}
                          disabled={s.count === 0}
                          onClick={() =>
                            void attempt(() =>
                              api(`/screws/stock/${s.id}`, {
                                method: 'PUT',
                                json: { count: s.count - 1 },
                                ifMatch: s.revision,
                              }),
                            )
                          }
                        >
                          <Minus aria-hidden="true" />
                        </Button>
                        <b className={`num w-10 text-center text-lg ${s.count === 0 ? 'text-crimson' : ''}`}>
                          {s.count}
                        </b>
                        <Button
                          weight="quiet"
                          aria-label={`One ${s.drive} ${s.length} mm more`}
                          onClick={() =>
                            void attempt(() =>
                              api(`/screws/stock/${s.id}`, {
                                method: 'PUT',
                                json: { count: s.count + 1 },
                                ifMatch: s.revision,
                              }),
                            )
                          }
                        >
                          <Plus aria-hidden="true" />
                        </Button>
                      </span>
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </section>
        <div className="grid content-start gap-5">
          <section aria-labelledby="kit" className="panel grid gap-3 p-5">
            <h2 id="kit" className="text-xl font-semibold">
              Kit of a device
            </h2>
            <label>
              <span className="label">Device</span>
              <select className="field" value={device} onChange={(e) => setDevice(e.target.value)}>
                <option value="">Choose</option>
                {devices?.map((d) => (
                  <option key={d.id} value={d.id}>
                    {d.maker} {d.name}
                  </option>
                ))}
              </select>
            </label>
            <Button
              weight="main"
              disabled={device === ''}
              onClick={() => void attempt(() => api(`/screws/stock/kit/${device}`, { method: 'POST' }))}
            >
              Add one of each of its screws
            </Button>
          </section>
          <section aria-labelledby="single" className="panel grid gap-3 p-5">
            <h2 id="single" className="text-xl font-semibold">
              A single kind
            </h2>
            <div className="flex flex-wrap gap-3">
              <label>
                <span className="label">Kind</span>
                <select
                  className="field"
                  value={fresh.kind}
                  onChange={(e) => setFresh({ ...fresh, kind: e.target.value })}
                >
                  <option>screw</option>
                  <option>standoff</option>
                  <option>clip</option>
                </select>
              </label>
              <label>
                <span className="label">Drive</span>
                <select
                  className="field"
                  value={fresh.drive}
                  onChange={(e) => setFresh({ ...fresh, drive: e.target.value })}
                >
                  {DRIVES.map((d) => (
                    <option key={d}>{d}</option>
                  ))}
                </select>
              </label>
              {field('length', 'Length, mm')}
              {field('thread', 'Thread, mm')}
              {field('head', 'Head, mm')}
              {field('count', 'Pieces')}
            </div>
            <Check checked={fresh.magnetic} onChange={(e) => setFresh({ ...fresh, magnetic: e.target.checked })}>
              Magnetic
            </Check>
            <Button
              onClick={() =>
                void attempt(() =>
                  api('/screws/stock', {
                    json: {
                      ...fresh,
                      length: readNumber(fresh.length) ?? Number.NaN,
                      thread: readNumber(fresh.thread) ?? Number.NaN,
                      head: readNumber(fresh.head) ?? Number.NaN,
                      count: readNumber(fresh.count) ?? Number.NaN,
                    },
                  }),
                )
              }
            >
              Add to the stock
            </Button>
          </section>
        </div>
      </div>
    </div>
  );
}
