import { useState } from 'react';
import { DRIVES, EDGES, type Connector, type PartKind } from '../../../core/anatomy/index.ts';
import type { OpenDevice, Sight, Thing } from '../../../core/explore/index.ts';
import { BONDS, FASTENERS } from '../../../core/kinds/index.ts';
import type { DeviationKind } from '../../../core/run/index.ts';
import { readNumber } from '../../../core/units/index.ts';
import { Button } from '../../controls/index.tsx';
import { calledThing } from './ways.ts';
import { spoken } from '../../../words/index.ts';

const PLUGS: Record<Exclude<Connector['kind'], 'contact'>, string> = {
  press: 'press plug',
  'flip-lock': 'flip lock',
  'slide-lock': 'slide lock',
  coax: 'coaxial',
  clipped: 'clipped',
  solder: 'soldered',
};
const PARTS: readonly PartKind[] = [
  'battery',
  'display',
  'cover',
  'board',
  'camera',
  'bracket',
  'speaker',
  'tray',
  'other',
];

/** What is mostly found different of each type of thing. */
const DIFFERENT: Record<Thing['type'], readonly DeviationKind[]> = {
  part: ['broken', 'corroded', 'already-replaced'],
  fastener: ['stripped', 'corroded'],
  connector: ['torn', 'corroded'],
  bond: ['snapped', 'already-replaced'],
  latch: ['snapped'],
};

const chip = (on: boolean) =>
  `min-h-12 rounded-lg border-2 px-3 font-semibold ${on ? 'border-petrol bg-sunk' : 'border-transparent bg-sunk/60'}`;

function Chips<T extends string>({
  of,
  value,
  word,
  label,
  choose,
}: {
  of: readonly T[];
  value: T | null | undefined;
  word?: (v: T) => string;
  label: string;
  choose: (v: T) => void;
}) {
  return (
    <div role="group" aria-label={label} className="flex flex-wrap gap-1">
      {of.map((v) => (
        <button
          key={v}
          type="button"
          aria-pressed={v === value}
          className={chip(v === value)}
          onClick={() => choose(v)}
        >
          {word ? word(v) : v}
        </button>
      ))}
    </div>
  );
}

/** The thing in hand: what was just done to it, and what can be said of it now, later or never. */
export function Sheet({
  thing,
  open,
  tell,
  startLeads,
  differs,
  said,
}: {
  thing: Thing;
  open: OpenDevice;
  tell: (seen: Sight) => void;
  startLeads: () => void;
  /** Something about it is not as it should be. */
  differs: (kind: DeviationKind, note: string) => void;
  /** What was said of it to be different. */
  said: readonly DeviationKind[];
}) {
  const { seen, type, id } = thing;
  const well = open.wells.get(id);
  return (
    <section aria-label="In hand" className="grid content-start gap-2" data-testid="in-hand">
      <p className="flex items-baseline justify-between gap-3 text-xl font-bold">
        <span>{calledThing(thing)}</span>
        {well && (
          <span className="rounded-lg bg-brass px-3 py-1 text-on-job" data-testid="well">
            well <span className="num text-2xl">{well}</span>
          </span>
        )}
      </p>
      {type === 'fastener' && (
        <>
          <Length key={`${id} ${seen.length ?? ''}`} value={seen.length ?? null} tell={tell} />
          <label>
            <span className="label">Drive</span>
            <select
              className="field"
              value={seen.drive ?? 'PH000'}
              onChange={(e) => tell({ drive: e.target.value as (typeof DRIVES)[number] })}
            >
              {DRIVES.filter((d) => d !== 'none').map((d) => (
                <option key={d}>{d}</option>
              ))}
            </select>
          </label>
          <Chips
            of={FASTENERS.kinds}
            value={seen.fastener ?? 'screw'}
            label="Kind"
            choose={(fastener) => tell({ fastener })}
          />
        </>
      )}
      {type === 'connector' && (
        <>
          <Chips
            of={Object.keys(PLUGS) as (keyof typeof PLUGS)[]}
            value={seen.connector as keyof typeof PLUGS}
            word={(k) => PLUGS[k]}
            label="Kind"
            choose={(connector) => tell({ connector })}
          />
          <Chips
            of={['battery']}
            value={seen.isolates ? 'battery' : null}
            word={() => 'the battery’s'}
            label="Whose"
            choose={() => tell({ isolates: !seen.isolates })}
          />
          <p className="label mb-0">Its flex leads to</p>
          <div className="flex flex-wrap gap-1">
            {[...open.things.values()]
              .filter((t) => t.type === 'part' && t.stands !== 'in')
              .map((t) => {
                const led = seen.leads != null && 'part' in seen.leads && seen.leads.part === t.id;
                return (
                  <button
                    key={t.id}
                    type="button"
                    aria-pressed={led}
                    className={chip(led)}
                    onClick={() => tell({ leads: { part: t.id } })}
                  >
                    {calledThing(t)}
                  </button>
                );
              })}
            <button type="button" className={chip(seen.leads != null && 'at' in seen.leads)} onClick={startLeads}>
              a place, tapped
            </button>
          </div>
        </>
      )}
      {type === 'part' && (
        <>
          <Chips of={PARTS} value={seen.part ?? 'other'} label="Kind" choose={(part) => tell({ part })} />
          <div className="flex flex-wrap gap-1">
            <button
              type="button"
              aria-pressed={seen.target ?? false}
              className={chip(seen.target ?? false)}
              onClick={() => tell({ target: !seen.target })}
            >
              this is to be replaced
            </button>
            {seen.part === 'battery' && (
              <button
                type="button"
                aria-pressed={seen.isolates ?? false}
                className={chip(seen.isolates ?? false)}
                onClick={() => tell({ isolates: !seen.isolates })}
              >
                it fed the board
              </button>
            )}
            <button
              type="button"
              aria-pressed={seen.spent ?? false}
              className={chip(seen.spent ?? false)}
              onClick={() => tell({ spent: !seen.spent })}
            >
              does not go back
            </button>
          </div>
          <Name key={`${id} ${seen.name ?? ''}`} value={seen.name ?? ''} tell={tell} />
          {thing.stands === 'swung' && (
            <Chips
              of={EDGES}
              value={seen.edge ?? 'left'}
              label="Hangs at"
              word={(e) => `hangs ${e}`}
              choose={(edge) => tell({ edge })}
            />
          )}
        </>
      )}
      {type === 'bond' && (
        <>
          <Chips
            of={BONDS.where((facts) => !facts.byItself)}
            value={seen.bond}
            label="Kind"
            choose={(bond) => tell({ bond: bond as NonNullable<Sight['bond']> })}
          />
          <Chips
            of={['whole', 'spent']}
            value={seen.spent === false ? 'whole' : 'spent'}
            word={(v) => (v === 'whole' ? 'came off whole' : 'is spent')}
            label="Goes back"
            choose={(v) => tell({ spent: v === 'spent' })}
          />
        </>
      )}
      <Different key={id} of={DIFFERENT[type]} said={said} differs={differs} />
      {type === 'latch' && (
        <Chips
          of={['catches', 'hooks']}
          value={seen.hooks ? 'hooks' : 'catches'}
          label="Kind"
          choose={(v) => tell({ hooks: v === 'hooks' })}
        />
      )}
    </section>
  );
}

/** What is found different, with a word on it: the signature asks for one. */
function Different({
  of,
  said,
  differs,
}: {
  of: readonly DeviationKind[];
  said: readonly DeviationKind[];
  differs: (kind: DeviationKind, note: string) => void;
}) {
  const [words, setWords] = useState('');
  return (
    <details>
      <summary className="flex min-h-12 cursor-pointer items-center font-semibold">Something is different</summary>
      <label>
        <span className="label">In words</span>
        <input className="field" value={words} maxLength={400} onChange={(e) => setWords(e.target.value)} />
      </label>
      <div className="mt-1 flex flex-wrap items-center gap-1">
        {of.map((kind) => (
          <button
            key={kind}
            type="button"
            disabled={said.includes(kind)}
            className={`min-h-12 rounded-lg px-3 font-semibold ${said.includes(kind) ? 'bg-crimson text-on-job' : 'bg-sunk text-crimson'}`}
            onClick={() => differs(kind, words.trim())}
          >
            {spoken.deviations[kind]}
          </button>
        ))}
      </div>
    </details>
  );
}

/** A length by caliper: now, later or never. A decimal comma is read. */
function Length({ value, tell }: { value: number | null; tell: (seen: Sight) => void }) {
  const [typed, setTyped] = useState(value === null ? '' : String(value));
  const read = typed.trim() === '' ? null : readNumber(typed);
  const wrong = typed.trim() !== '' && !(read !== null && read > 0 && read < 100);
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        if (!wrong && read !== value) tell({ length: read });
      }}
    >
      <label>
        <span className="label">Length under the head, mm, by caliper</span>
        <span className="flex gap-2">
          <input
            className="field num"
            inputMode="decimal"
            value={typed}
            aria-invalid={wrong}
            onChange={(e) => setTyped(e.target.value)}
          />
          <Button type="submit" disabled={wrong || read === value}>
            Keep
          </Button>
        </span>
      </label>
      {wrong && <p className="text-crimson">A length in mm, such as 1.6 or 1,6.</p>}
    </form>
  );
}

function Name({ value, tell }: { value: string; tell: (seen: Sight) => void }) {
  const [typed, setTyped] = useState(value);
  const done = () => typed.trim() !== '' && typed.trim() !== value && tell({ name: typed.trim() });
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        done();
      }}
    >
      <label>
        <span className="label">What it is called</span>
        <input
          className="field"
          value={typed}
          maxLength={80}
          onChange={(e) => setTyped(e.target.value)}
          onBlur={done}
        />
      </label>
    </form>
  );
}
