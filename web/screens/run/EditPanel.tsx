import { useState } from 'react';
import { DRIVES, type Anatomy, type Fastener, type Item } from '../../../core/anatomy/index.ts';
import { lastChange, type RunState } from '../../../core/run/index.ts';
import type { JobFile } from '../../../core/jobs/index.ts';
import { readNumber } from '../../../core/units/index.ts';
import { Button, Check, ProblemNote } from '../../controls/index.tsx';
import { api, ApiError, messageOf } from '../../state/api.ts';
import { technicianNow } from '../../state/shop.ts';
import { useRun, useRunOf } from '../../state/run.ts';

type Measure = 'length' | 'thread' | 'head' | 'holeDepth';

/** What is measured of a screw, in words, with the largest that is believed, mm. */
const MEASURES: Record<Measure, { word: string; most: number }> = {
  length: { word: 'Length', most: 60 },
  thread: { word: 'Thread', most: 10 },
  head: { word: 'Head', most: 20 },
  holeDepth: { word: 'Depth of its hole', most: 80 },
};

/** One item as it is on this device, for this job only: a few fields, no more than what a technician can see. */
export function EditPanel({
  item,
  length,
  state,
  done,
}: {
  item: string;
  /** The length that was just measured. */
  length: number | null;
  state: RunState;
  /** Goes on to the plan, with the anatomy that it is to be made on where that cannot be kept before. */
  done: (next: { anatomy: Anatomy | null } | null) => void;
}) {
  const { job, adopt } = useRunOf('job', 'adopt');
  const { model } = state.context;
  const found = model.items.get(item)!;
  const [gone, setGone] = useState(false);
  const [name, setName] = useState(nameIn(found) ?? '');
  const screw = found.type === 'fastener' ? found.item : null;
  const [drive, setDrive] = useState(screw?.drive ?? 'none');
  const [sizes, setSizes] = useState<Record<Measure, string>>(() => sizesOf(screw, length));
  // What is corrected here is the device as it was when this was opened.
  const [seen] = useState(() => lastChange(useRun.getState().events));
  const [problem, setProblem] = useState<ApiError | null>(null);
  const [busy, setBusy] = useState(false);
  const wrong = screw ? (Object.keys(MEASURES) as Measure[]).filter((m) => !within(sizes[m], MEASURES[m].most)) : [];

  const keep = async () => {
    // A plan cannot stand on what is not there: the two change together.
    if (gone) {
      done({ anatomy: withItem(model.anatomy, item, null) });
      return;
    }
    setBusy(true);
    const next = { ...found.item, ...(nameIn(found) === null ? {} : { name }) } as Item['item'];
    if (screw)
      Object.assign(next, { drive }, Object.fromEntries(Object.entries(sizes).map(([m, v]) => [m, readNumber(v)])));
    const anatomy = withItem(model.anatomy, item, next);
    try {
      const because = 'as it is on this device';
      const json = { anatomy, item, because, by: technicianNow() ?? undefined };
      adopt(await api<JobFile>(`/jobs/${job!.id}/anatomy`, { json, ifMatch: seen }));
      done({ anatomy: null });
    } catch (error) {
      setProblem(error instanceof ApiError ? error : new ApiError(0, { error: messageOf(error) }));
      setBusy(false);
    }
  };
  return (
    <form
      className="grid gap-4"
      onSubmit={(e) => {
        e.preventDefault();
        void keep();
      }}
    >
      <p className="text-lg">
        {model.nameOf(item)} as it is on this device. The anatomy that others use stays as it is.
      </p>
      <Check className="text-lg" checked={gone} onChange={(e) => setGone(e.target.checked)}>
        It is not there at all
      </Check>
      {!gone && nameIn(found) !== null && (
        <label>
          <span className="label">Name</span>
          <input className="field text-lg" value={name} maxLength={80} onChange={(e) => setName(e.target.value)} />
        </label>
      )}
      {!gone && screw && (
        <div className="grid grid-cols-2 gap-3">
          <label>
            <span className="label">Drive</span>
            <select className="field text-lg" value={drive} onChange={(e) => setDrive(e.target.value as typeof drive)}>
              {DRIVES.map((d) => (
                <option key={d}>{d}</option>
              ))}
            </select>
          </label>
          {(Object.keys(MEASURES) as Measure[]).map((m) => (
            <label key={m}>
              <span className="label">{MEASURES[m].word}, mm</span>
              <input
                className="field text-lg"
                inputMode="decimal"
                value={sizes[m]}
                aria-invalid={wrong.includes(m)}
                onChange={(e) => setSizes({ ...sizes, [m]: e.target.value })}
              />
              {wrong.includes(m) && <span className="text-crimson">More than 0, up to {MEASURES[m].most}.</span>}
            </label>
          ))}
        </div>
      )}
      {problem && <ProblemNote faults={problem.problem.faults}>{problem.message}</ProblemNote>}
      <div className="flex flex-wrap items-center gap-3">
        <Button type="submit" weight="main" className="min-h-14 text-lg" disabled={busy || (!gone && wrong.length > 0)}>
          Keep it for this device
        </Button>
        <Button className="min-h-14 text-lg" onClick={() => done(null)}>
          Go on without
        </Button>
        {wrong.length > 0 && !gone && (
          <span>First correct {wrong.map((m) => MEASURES[m].word.toLowerCase()).join(', ')}.</span>
        )}
      </div>
      <p className="text-quiet">
        Anything else that is different: go on, with a note and a photograph. It stands in the record, and the lead can
        correct the anatomy from it.
      </p>
    </form>
  );
}

const nameIn = ({ item }: Item): string | null => ('name' in item ? item.name : null);

const sizesOf = (screw: Fastener | null, length: number | null): Record<Measure, string> => ({
  length: String(length ?? screw?.length ?? ''),
  thread: String(screw?.thread ?? ''),
  head: String(screw?.head ?? ''),
  holeDepth: String(screw?.holeDepth ?? ''),
});

function within(text: string, most: number): boolean {
  const value = readNumber(text);
  return value !== null && value > 0 && value <= most;
}

/** An anatomy with one item in another shape, or without it. */
function withItem(a: Anatomy, id: string, next: Item['item'] | null): Anatomy {
  const swap = <T extends { id: string }>(list: T[]): T[] =>
    list.flatMap((x) => (x.id !== id ? [x] : next ? [next as unknown as T] : []));
  return {
    ...a,
    parts: swap(a.parts),
    fasteners: swap(a.fasteners),
    connectors: swap(a.connectors),
    bonds: swap(a.bonds),
    latches: swap(a.latches),
  };
}
