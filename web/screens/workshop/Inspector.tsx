import { AlignCenterVertical, AlignEndVertical, AlignStartVertical, Copy, FlipHorizontal2, Trash2 } from 'lucide-react';
import type { Anatomy, Part } from '../../../core/anatomy/index.ts';
import type { Relations } from '../../../core/draft/index.ts';
import { useParams } from 'react-router';
import { BONDS, type BondKind } from '../../../core/kinds/index.ts';
import type { Evidence } from '../../../core/learn/index.ts';
import { Button } from '../../controls/index.tsx';
import { setOf } from '../../state/draft.ts';
import { useLoad } from '../../state/useLoad.ts';
import type { Found } from '../../workers/draft.worker.ts';
import * as acts from './acts.ts';
import { useBoard } from './board.ts';
import { fieldsOf, GROUP_WORDS } from './fields.ts';
import { FieldRow, TextInput } from './inputs.tsx';
import { spoken } from '../../../words/index.ts';

type Act = (made: acts.Made | null) => void;

/** Of a device that was learnt from field dives: how each relation of an item is known. */
function HowKnown({ id, anatomy }: { id: string; anatomy: Anatomy }) {
  const draft = useParams().draft!;
  const { data } = useLoad<Evidence[]>(`/workshop/drafts/${draft}/evidence`);
  const known = (data ?? []).filter((e) => e.of === id || e.to === id);
  if (known.length === 0) return null;
  const name = (of: string) => anatomy.parts.find((p) => p.id === of)?.name ?? of;
  return (
    <details className="rounded-lg bg-sunk px-3 py-1">
      <summary className="flex min-h-11 cursor-pointer items-center font-semibold">
        How it is known: {known.filter((e) => e.grade === 'guessed').length} guessed of {known.length}
      </summary>
      <ul className="grid gap-1 pb-2 text-sm">
        {known.slice(0, 40).map((e) => (
          <li key={`${e.relation} ${e.of} ${e.to}`} className={e.grade === 'guessed' ? 'text-ember' : ''}>
            <b>{e.grade}</b>: {name(e.of)} {spoken.learnt[e.relation]} {e.of === e.to ? '' : name(e.to)}, {e.why}
          </li>
        ))}
      </ul>
    </details>
  );
}

/** Is a field asked for at all: rails and halves where the device has them, what presses a gasket of gaskets only? */
function isAsked(anatomy: Anatomy, entry: object, field: string): boolean {
  if (field === 'isolates') return anatomy.rails !== undefined;
  if (field === 'body') return anatomy.bodies !== undefined;
  return (
    field !== 'compressedBy' ||
    ('kind' in entry && BONDS.has(String(entry.kind)) && BONDS.of(entry.kind as BondKind).pressed)
  );
}

/** What is selected: its measures, and what it has to do with others. */
export function Inspector({
  anatomy,
  relations,
  found,
  act,
}: {
  anatomy: Anatomy;
  relations: ReadonlyMap<string, Relations> | null;
  found: readonly Found[];
  act: Act;
}) {
  const { selected } = useBoard();
  if (selected.length === 0) return <Nothing anatomy={anatomy} />;
  if (selected.length > 1) return <Several anatomy={anatomy} ids={selected} act={act} />;
  const id = selected[0]!;
  const at = acts.whereIs(anatomy, id);
  if (!at) return <Nothing anatomy={anatomy} />;
  const { group, entry } = at;
  const part = group === 'parts' ? (entry as Part) : null;
  const fields = part?.fixed
    ? fieldsOf('parts').filter((f) => ['name', 'outline', 'fixed', 'note'].includes(f.field))
    : fieldsOf(group).filter((f) => isAsked(anatomy, entry, f.field));
  return (
    <div className="grid content-start gap-2.5">
      <div className="flex items-end justify-between gap-2">
        <label className="grid">
          <span className="text-sm text-quiet">{GROUP_WORDS[group]}, id</span>
          <TextInput
            label="Id"
            value={id}
            onChange={(to) =>
              act({
                label: `Call ${id} ${to}`,
                changes: [{ do: 'rename', group, from: id, to: to as string }],
                select: [to as string],
              })
            }
          />
        </label>
        <Handles anatomy={anatomy} ids={selected} act={act} />
      </div>
      {found
        .filter((f) => f.item === id)
        .map((f, i) => (
          <p
            key={i}
            className={`border-l-4 pl-2 text-sm ${f.kind === 'fault' ? 'border-crimson text-crimson' : 'border-ember'}`}
          >
            {f.message}
          </p>
        ))}
      <RelationsOf anatomy={anatomy} relations={relations?.get(id) ?? null} part={part !== null} />
      <HowKnown id={id} anatomy={anatomy} />
      {part && !part.fixed && <Button onClick={() => act(acts.addBond(anatomy, part, 'round'))}>Bond round it</Button>}
      {fields.map((f) => (
        <FieldRow
          key={`${id}${f.field}`}
          field={f}
          entry={entry as unknown as Record<string, unknown>}
          anatomy={anatomy}
          onChange={(to) =>
            act(
              group === 'parts' && f.field === 'name'
                ? acts.renamePart(anatomy, id, to as string)
                : { label: `${f.label} of ${id}`, changes: [setOf(anatomy, group, id, f.field, to)], select: [id] },
            )
          }
        />
      ))}
    </div>
  );
}

function Nothing({ anatomy }: { anatomy: Anatomy }) {
  const { tool } = useBoard();
  const empty = anatomy.parts.length <= 1;
  return (
    <div className="grid gap-3 text-quiet">
      <p>
        {tool === 'select'
          ? 'Press an item to see its measures, and what has to do with it.'
          : 'What you draw is shown here.'}
      </p>
      {empty && (
        <ol className="grid list-decimal gap-1 pl-5">
          <li>Lay a photograph under the drawing.</li>
          <li>Take the screws and outlines that are found in it, or draw them.</li>
          <li>Say which plug cuts the battery off.</li>
          <li>Go a layer deeper, and again.</li>
        </ol>
      )}
    </div>
  );
}

const icon = 'grid size-11 place-items-center rounded-lg hover:bg-sunk';

function Handles({ anatomy, ids, act }: { anatomy: Anatomy; ids: readonly string[]; act: Act }) {
  return (
    <span className="flex">
      <button type="button" className={icon} aria-label="Copy" onClick={() => act(acts.copy(anatomy, ids))}>
        <Copy />
      </button>
      <button type="button" className={icon} aria-label="Mirror" onClick={() => act(acts.mirror(anatomy, ids))}>
        <FlipHorizontal2 />
      </button>
      <button type="button" className={icon} aria-label="Take out" onClick={() => act(acts.remove(anatomy, ids))}>
        <Trash2 />
      </button>
    </span>
  );
}

const ALIGN_WORDS: Record<acts.Align, string> = {
  left: 'Left',
  middle: 'Middle',
  right: 'Right',
  top: 'Top',
  centre: 'Centre',
  bottom: 'Bottom',
};

function Several({ anatomy, ids, act }: { anatomy: Anatomy; ids: readonly string[]; act: Act }) {
  const icons = { left: AlignStartVertical, middle: AlignCenterVertical, right: AlignEndVertical } as const;
  return (
    <div className="grid content-start gap-3">
      <div className="flex items-center justify-between">
        <p className="text-lg font-semibold">{ids.length} items</p>
        <Handles anatomy={anatomy} ids={ids} act={act} />
      </div>
      <div className="grid grid-cols-3 gap-1.5" role="group" aria-label="Align with the first">
        {acts.ALIGN.map((how) => {
          const Icon = how in icons ? icons[how as keyof typeof icons] : null;
          return (
            <Button key={how} onClick={() => act(acts.align(anatomy, ids, how))}>
              {Icon && <Icon aria-hidden="true" />}
              {ALIGN_WORDS[how]}
            </Button>
          );
        })}
      </div>
      <p className="text-sm text-quiet">{ids.join(', ')}</p>
    </div>
  );
}

/** What covers it, what it covers, what holds it; each can be gone to. */
function RelationsOf({ relations, part }: { anatomy: Anatomy; relations: Relations | null; part: boolean }) {
  const { select } = useBoard();
  if (!relations) return null;
  const lines: [string, readonly string[]][] = [
    ['covered by', relations.coveredBy],
    ...(part
      ? ([
          ['covers', relations.covers],
          ['held by', relations.heldBy],
        ] as [string, readonly string[]][])
      : []),
    ...(part ? [] : ([['holds', relations.holds]] as [string, readonly string[]][])),
  ];
  return (
    <dl aria-label="What has to do with it" className="grid gap-1 rounded-lg bg-sunk p-2 text-sm">
      {lines.map(([word, ids]) => (
        <div key={word} className="grid grid-cols-[5.5rem_minmax(0,1fr)] gap-1">
          <dt className="text-quiet">{word}</dt>
          <dd className="flex flex-wrap gap-x-2">
            {ids.length === 0 && 'nothing'}
            {ids.map((id) => (
              <button key={id} type="button" className="underline" onClick={() => select([id])}>
                {id}
              </button>
            ))}
          </dd>
        </div>
      ))}
    </dl>
  );
}
