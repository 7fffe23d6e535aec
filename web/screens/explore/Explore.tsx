import { Cloud, CloudOff, Diamond, RotateCcw, TriangleAlert, Undo2, Zap } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { countsOf, specOf, type ActKind, type Sight } from '../../../core/explore/index.ts';
import type { JobFile, PlateInfo } from '../../../core/jobs/index.ts';
import type { Change } from '../../../core/survey/index.ts';
import { minutes } from '../../../core/units/index.ts';
import { Button, CautionLine, Key } from '../../controls/index.tsx';
import { api, messageOf } from '../../state/api.ts';
import { useRunOf } from '../../state/run.ts';
import { technicianNow } from '../../state/shop.ts';
import { fieldWorker } from '../../workers/field.ts';
import { OutboxNote } from '../run/OutboxNote.tsx';
import { Ground } from './Ground.tsx';
import { Sheet } from './Sheet.tsx';
import { Shot } from './Shot.tsx';
import { useField, type Field } from './useField.ts';
import { calledThing, inHand, KEYS, WAY_SPECS, type Way } from './ways.ts';

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

function useKeys(field: Field, turn: () => void) {
  const now = useRef({ field, turn });
  now.current = { field, turn };
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const target = e.target as HTMLElement;
      if (e.ctrlKey || e.metaKey || e.altKey || target.closest('input, select, textarea')) return;
      const { field: f, turn: round } = now.current;
      const way = KEYS.find((w) => WAY_SPECS[w].key === e.key.toLowerCase());
      if (way) choose(f, way);
      else if (e.key === 'Backspace') f.takeBack();
      else if (e.key.toLowerCase() === 'm') f.act('turned-over', null, {});
      else if (e.key.toLowerCase() === 'r') round();
      else return;
      e.preventDefault();
      // The ground takes the taps of the keyboard.
      document.querySelector<SVGSVGElement>('[data-testid=ground]')?.focus();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);
}

function choose(field: Field, way: Way): void {
  const held = inHand(way, field.open);
  // What is in hand needs no place: it is where it was.
  if (held && (way === 'cut' || way === 'off' || way === 'swing')) {
    const { act } = WAY_SPECS[way];
    field.act(act!, held.id, { on: held.seen.on ?? null, tool: way === 'cut' ? 'pick' : null });
  }
  field.setWay(way);
}

/** Acts as large keys along the thumb's edge. */
function ActKeys({ field }: { field: Field }) {
  const { way, open } = field;
  const plug = field.thing?.type === 'connector' ? field.thing : null;
  const seam = inHand('cut', open) ?? null;
  const extra: [ActKind, string, string | null, boolean][] = [
    ['turned-over', 'Turned over', 'm', true],
    ['bent-aside', 'Flex aside', null, plug !== null && plug.stands === 'undone'],
    ['wetted', 'Solvent run in', null, seam !== null],
  ];
  return (
    <nav
      aria-label="Acts"
      className="grid min-h-0 content-start gap-1.5 overflow-auto max-lg:sticky max-lg:bottom-0 max-lg:z-10 max-lg:order-2 max-lg:flex max-lg:overflow-x-auto max-lg:bg-ground max-lg:py-1 max-lg:[&>button]:min-w-36 max-lg:[&>button]:shrink-0 max-lg:[&>label]:min-w-44"
    >
      {KEYS.map((w) => (
        <button
          key={w}
          type="button"
          aria-pressed={w === way}
          data-way={w}
          className={`flex min-h-12 items-center justify-between gap-2 rounded-lg px-3 text-left font-semibold ${
            w === way ? 'bg-petrol text-on-petrol' : 'bg-panel'
          }`}
          onClick={(e) => {
            e.currentTarget.blur();
            choose(field, w);
          }}
        >
          {WAY_SPECS[w].word} <Key of={WAY_SPECS[w].key!} />
        </button>
      ))}
      {extra
        .filter(([, , , shown]) => shown)
        .map(([act, word, key]) => (
          <button
            key={act}
            type="button"
            className="flex min-h-12 items-center justify-between gap-2 rounded-lg bg-sunk px-3 text-left font-semibold"
            onClick={(e) => {
              e.currentTarget.blur();
              const of = { connector: plug, bond: seam }[specOf(act).of as 'connector' | 'bond'];
              field.act(act, of?.id ?? null, {});
            }}
          >
            {word} {key && <Key of={key} />}
          </button>
        ))}
      <button
        type="button"
        data-testid="back"
        disabled={field.open.acts.length === 0}
        className="flex min-h-12 items-center justify-between gap-2 rounded-lg border-2 border-line px-3 text-left font-semibold disabled:opacity-45"
        onClick={(e) => {
          e.currentTarget.blur();
          field.takeBack();
        }}
      >
        <span className="flex items-center gap-2">
          <Undo2 aria-hidden="true" size={20} /> Take back
        </span>
        <Key of="Backspace" />
      </button>
      <Where field={field} />
      <p className="px-1 text-sm text-quiet max-lg:hidden">
        The {open.up} is up; {open.bare[open.up]} {open.bare[open.up] === 1 ? 'layer' : 'layers'} off.
      </p>
    </nav>
  );
}

/** Which ground is worked on: the device, or the inner side of a part that stands open or is off. */
function Where({ field }: { field: Field }) {
  const parts = [...field.open.things.values()].filter((t) => t.type === 'part' && t.stands !== 'in');
  if (parts.length === 0) return null;
  return (
    <label>
      <span className="label">Worked on</span>
      <select className="field" value={field.on ?? ''} onChange={(e) => field.setOn(e.target.value || null)}>
        <option value="">the device</option>
        {parts.map((t) => (
          <option key={t.id} value={t.id}>
            {calledThing(t)}
          </option>
        ))}
      </select>
    </label>
  );
}

function Warnings({ field }: { field: Field }) {
  if (field.warnings.length === 0) return null;
  return (
    <ul role="alert" className="grid gap-1" data-testid="warnings">
      {field.warnings.slice(0, 3).map((w) => (
        <li key={w.kind} className="flex gap-2 rounded-lg border-l-8 border-crimson bg-panel p-3 font-semibold">
          <TriangleAlert className="size-6 shrink-0 text-crimson" aria-hidden="true" />
          {w.says}
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

/** LIVE or ISOLATED, what is off, and the way back from here. */
function FieldStrip({ job, field, turn }: { job: string; field: Field; turn: () => void }) {
  const { connection, pending, anatomy } = useRunOf('connection', 'pending', 'anatomy');
  const { open, outlook } = field;
  const counts = countsOf(open);
  const away = connection === 'offline' || connection === 'signed-out';
  const said: [number, string][] = [
    [counts.screwsOut, counts.screwsOut === 1 ? 'screw out' : 'screws out'],
    [counts.plugsOpen, counts.plugsOpen === 1 ? 'plug open' : 'plugs open'],
    [counts.partsOff, counts.partsOff === 1 ? 'part off or open' : 'parts off or open'],
  ];
  return (
    <header className="panel flex flex-wrap items-stretch gap-x-4 gap-y-1 overflow-hidden">
      <div
        role="status"
        data-testid="power"
        className={`flex items-center gap-2 px-4 text-xl font-bold tracking-wide text-on-job ${open.isolated ? 'bg-moss' : 'bg-crimson'}`}
        style={
          open.isolated
            ? undefined
            : { backgroundImage: 'repeating-linear-gradient(45deg, transparent 0 14px, rgb(0 0 0 / .18) 14px 20px)' }
        }
      >
        {open.isolated ? <Diamond aria-hidden="true" /> : <Zap aria-hidden="true" fill="currentColor" />}
        {open.isolated ? 'ISOLATED' : 'LIVE'}
      </div>
      <div className="flex flex-wrap items-center gap-x-5 max-lg:px-3" data-testid="counts">
        {said.map(([n, word]) => (
          <span key={word} className={n > 0 ? '' : 'text-quiet'}>
            <b className="num text-xl">{n}</b> {word}
          </span>
        ))}
      </div>
      <span className="flex-1" />
      {outlook && (
        <span className="flex items-center max-lg:px-3" data-testid="outlook">
          {outlook.problem === null ? (
            <>
              way back&nbsp;<b className="num">{outlook.steps}</b>&nbsp;steps,&nbsp;{minutes(outlook.seconds)}
            </>
          ) : (
            <span className="text-crimson">the way back is not clear yet</span>
          )}
        </span>
      )}
      <Button
        onClick={turn}
        className="my-1"
        disabled={countsOf(open).screwsOut + counts.partsOff + counts.plugsOpen === 0}
      >
        <RotateCcw aria-hidden="true" size={20} /> Turn round <Key of="r" />
      </Button>
      <span
        className={`flex items-center gap-2 text-sm ${away ? 'font-semibold text-crimson' : 'text-quiet'}`}
        data-testid="connection"
      >
        {away ? <CloudOff aria-hidden="true" /> : <Cloud aria-hidden="true" />}
        {away ? `${pending.length} not sent yet` : connection === 'saving' ? 'sending' : 'sent'}
      </span>
      <Link to={`/jobs/${job}`} className="flex min-h-12 items-center pr-4 text-ink max-lg:px-3">
        {anatomy!.name}
      </Link>
    </header>
  );
}

/** From any depth: the way back, with the new part or with the old one. */
function TurnPanel({ job, field, close }: { job: string; field: Field; close: () => void }) {
  const navigate = useNavigate();
  const { adopt } = useRunOf('adopt');
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const target = [...field.open.things.values()].find(
    (t) => t.type === 'part' && t.seen.target && t.stands === 'undone',
  );
  const turn = async (renew: boolean) => {
    setBusy(true);
    setProblem(null);
    try {
      const by = technicianNow();
      adopt(await api<JobFile>(`/field/${job}/turn`, { json: { renew, ...(by ? { by } : {}) } }));
      void navigate(`/jobs/${job}/run`);
    } catch (error) {
      setProblem(messageOf(error));
      setBusy(false);
    }
  };
  return (
    <section aria-label="Turn round" className="panel grid gap-2 p-3">
      <h2 className="text-xl font-bold">Turn round here</h2>
      <p>
        The way back keeps the reverse of what you did, except where it is known that two things do not wait for each
        other. Gates, new tape, counts and tests are in it.
      </p>
      <Button weight="main" disabled={!target || busy} onClick={() => void turn(true)}>
        New {target ? calledThing(target) : 'part'} goes in
      </Button>
      {!target && <p className="text-sm text-quiet">Say of a part that is off that it is to be replaced, or:</p>}
      <Button disabled={busy} onClick={() => void turn(false)}>
        Everything back as it was
      </Button>
      <Button weight="quiet" onClick={close}>
        Go on opening
      </Button>
      {problem && (
        <p role="alert" className="text-crimson">
          {problem}
        </p>
      )}
    </section>
  );
}
