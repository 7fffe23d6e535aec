import { TriangleAlert } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import type { ActKind, Sight } from '../../../core/explore/index.ts';
import type { PlateInfo } from '../../../core/jobs/index.ts';
import type { Change } from '../../../core/survey/index.ts';
import { minutes } from '../../../core/units/index.ts';
import { Button } from '../../controls/index.tsx';
import { CautionLine } from '../../controls/CautionLine.tsx';
import { useRunOf } from '../../state/run.ts';
import { fieldWorker } from '../../workers/field.ts';
import { OutboxNote } from '../run/OutboxNote.tsx';
import { ActKeys, useKeys } from './ActKeys.tsx';
import { FieldStrip } from './FieldStrip.tsx';
import { Ground } from './Ground.tsx';
import { Sheet } from './Sheet.tsx';
import { Shot } from './Shot.tsx';
import { TurnPanel } from './TurnPanel.tsx';
import { useField, type Field } from './useField.ts';
import { calledThing, inHand, WAY_SPECS } from './ways.ts';
import { BY_ID, tell } from '../../../words/index.ts';

/** A device that nobody has drawn, opened with acts instead of steps. */
export default function Explore() {
  const { job, state } = useRunOf('job', 'state');
  if (!job || !state) return null;
  if (!job.device) return <p className="p-8">This device has an anatomy; it is dived by its plan.</p>;
  if (state.version > 0) return <Turned job={job.id} />;
  return <Exploring job={job.id} />;
}

function Turned({ job }: { job: string }) {
  return (
    <p className="p-8 text-lg">
      The way back is planned.{' '}
      <Link className="underline" to={`/jobs/${job}/run`}>
        Go on there
      </Link>
      .
    </p>
  );
}

function Exploring({ job }: { job: string }) {
  const { state, anatomy } = useRunOf('state', 'anatomy');
  const field = useField(job, state!);
  const { open, way, setWay } = field;
  const body = field.device ?? anatomy!.body;
  const [turning, setTurning] = useState(false);
  const { proposed, propose, drop } = useChange(field);
  useKeys(field, () => setTurning(true));

  const shot = (seen: Sight, plate: PlateInfo | null) => {
    field.act('photographed', null, seen);
    field.reloadPlates();
    if (plate) propose(plate);
  };
  const place = (places: Parameters<Field['place']>[0]) => {
    field.place(places);
    drop();
  };
  return (
    <div className="grid h-dvh grid-rows-[auto_minmax(0,1fr)] gap-2 p-2 max-lg:h-auto max-lg:min-h-dvh">
      <FieldStrip job={job} field={field} turn={() => setTurning(true)} />
      <main id="main" className="grid min-h-0 gap-2 lg:grid-cols-[minmax(0,1fr)_19rem_11.5rem] max-lg:grid-cols-1">
        <section
          aria-label="The open device"
          className="panel grid min-h-0 grid-rows-[auto_minmax(0,1fr)] overflow-hidden max-lg:h-[64dvh]"
        >
          <Hint field={field} />
          <Ground
            body={body}
            open={open}
            plate={field.plate}
            marks={field.marks}
            on={field.on}
            way={way}
            proposed={proposed}
            place={place}
          />
        </section>
        <aside
          className="grid min-h-0 content-start gap-2 overflow-auto max-lg:order-3"
          aria-label="What a colleague would say"
        >
          <OutboxNote />
          <Warnings field={field} />
          {turning ? (
            <TurnPanel job={job} field={field} close={() => setTurning(false)} />
          ) : (
            <>
              <Asked field={field} />
              {proposed.length > 0 && field.thing?.type === 'part' && (
                <div className="panel grid gap-2 p-3">
                  <p>The photograph shows what left.</p>
                  <Button
                    weight="main"
                    onClick={() => {
                      field.tell({ outline: proposed[0]!.outline });
                      drop();
                    }}
                  >
                    Take its outline
                  </Button>
                </div>
              )}
              <div className="panel p-3">
                {field.thing ? (
                  <Sheet
                    thing={field.thing}
                    open={open}
                    tell={field.tell}
                    startLeads={() => setWay('leads')}
                    differs={field.differs}
                    said={field.said}
                  />
                ) : (
                  <BeforeOpening field={field} />
                )}
              </div>
              <Wells field={field} />
              <div className="panel p-3">
                <Shot job={job} body={body} open={open} shot={shot} />
              </div>
            </>
          )}
        </aside>
        <ActKeys field={field} />
      </main>
    </div>
  );
}

/** What the next tap means. */
function Hint({ field: { way, open } }: { field: Field }) {
  const held = way === 'heat' ? undefined : inHand(way, open);
  return (
    <p className="px-4 pt-2 text-lg" data-testid="hint">
      <b>{WAY_SPECS[way].word}</b> · {held ? `${calledThing(held)} is in hand: its key does it` : WAY_SPECS[way].hint}
    </p>
  );
}

/** The tray as it fills: how many lie in each well, and what they look like. */
function Wells({ field: { open } }: { field: Field }) {
  const wells = new Map<string, string[]>();
  for (const [id, well] of open.wells) wells.set(well, [...(wells.get(well) ?? []), id]);
  if (wells.size === 0) return null;
  return (
    <ul aria-label="Screw tray" className="panel grid grid-cols-3 gap-1 p-3" data-testid="tray">
      {[...wells].map(([well, ids]) => {
        const { drive, length } = open.things.get(ids.at(-1)!)!.seen;
        return (
          <li key={well} className="rounded-md bg-sunk px-2 py-1">
            <span className="flex items-baseline justify-between">
              <span className="num text-sm">{well}</span>
              <b className="num text-lg">{ids.length}</b>
            </span>
            <span className="num block text-sm text-quiet">
              {drive} {length ?? ''}
            </span>
          </li>
        );
      })}
    </ul>
  );
}

/** What left between the photograph before and the new one of the same side. */
function useChange(field: Field) {
  const [proposed, setProposed] = useState<Change[]>([]);
  return {
    proposed,
    drop: () => setProposed([]),
    propose: (plate: PlateInfo) => {
      const before = field.plates
        .filter((p) => p.face === plate.face && p.layer < plate.layer)
        .sort((a, b) => b.layer - a.layer || b.createdAt.localeCompare(a.createdAt))[0];
      if (!before) return;
      void fieldWorker()
        .change(`/api/photos/${before.plate}`, `/api/photos/${plate.plate}`, plate.pxPerMm)
        .then((found) => setProposed(found.slice(0, 1)))
        .catch(() => {});
    },
  };
}

function Warnings({ field }: { field: Field }) {
  if (field.warnings.length === 0) return null;
  return (
    <ul role="alert" className="grid gap-1" data-testid="warnings">
      {field.warnings.slice(0, 3).map((w) => (
        <li key={w.kind} className="flex gap-2 rounded-lg border-l-8 border-crimson bg-panel p-3 font-semibold">
          <TriangleAlert className="size-6 shrink-0 text-crimson" aria-hidden="true" />
          {tell(BY_ID, w.said)}
        </li>
      ))}
    </ul>
  );
}

/** At most one question, at a quiet moment; each can be skipped. */
function Asked({ field }: { field: Field }) {
  const { question } = field;
  if (!question) return null;
  return (
    <section aria-label="A question" className="panel grid gap-2 border-l-8 border-petrol p-3" data-testid="question">
      <p className="text-lg font-semibold">{question.text}</p>
      <div className="flex flex-wrap gap-2">
        {question.options.map((o) => (
          <Button key={o.value} onClick={() => field.answer(o.value)}>
            {o.text}
          </Button>
        ))}
        <Button weight="quiet" onClick={() => field.answer('')}>
          Skip
        </Button>
      </div>
      <p className="text-sm text-quiet">It would change the way back by about {minutes(question.change)}.</p>
    </section>
  );
}

const BEFORE: [ActKind, string][] = [
  ['powered-off', 'Switched off'],
  ['charge-checked', 'Charge below 25 %'],
  ['filmed', 'Film on the glass'],
  ['taped', 'Cracked glass taped'],
];

function BeforeOpening({ field }: { field: Field }) {
  const done = new Set(field.open.acts.map((a) => a.act));
  return (
    <div className="grid gap-2">
      <p className="text-xl font-bold">Before it is opened</p>
      <div className="grid gap-1">
        {BEFORE.map(([act, word]) => (
          <button
            key={act}
            type="button"
            disabled={done.has(act)}
            className={`min-h-12 rounded-lg px-3 text-left font-semibold ${done.has(act) ? 'bg-ground text-quiet' : 'bg-sunk'}`}
            onClick={() => field.act(act, null, {})}
          >
            {done.has(act) ? '✓ ' : ''}
            {word}
          </button>
        ))}
      </div>
      <CautionLine caution="lithium" />
      <p className="text-sm text-quiet">
        Then work as always: choose what you did, tap where. Nothing is refused that has happened; it is recorded as it
        was.
      </p>
    </div>
  );
}
