import {
  createColumnHelper,
  createSortedRowModel,
  rowSelectionFeature,
  rowSortingFeature,
  sortFns,
  tableFeatures,
  useTable,
} from '@tanstack/react-table';
import { useMemo, useState } from 'react';
import { COLOURS, DRIVES, type Anatomy, type Fastener } from '../../../core/anatomy/index.ts';
import type { Change } from '../../../core/draft/index.ts';
import { Button } from '../../controls/index.tsx';
import { setOf } from '../../state/draft.ts';
import type { Made } from './acts.ts';
import { useBoard } from './board.ts';
import { limits } from './fields.ts';
import { NumberInput, Select } from './inputs.tsx';

const features = tableFeatures({
  rowSortingFeature,
  rowSelectionFeature,
  sortedRowModel: createSortedRowModel(),
  sortFns,
});
const column = createColumnHelper<typeof features, Fastener>();

/** Columns that can be set for many screws at once. */
const SETTABLE = [
  { field: 'drive', label: 'Drive', of: DRIVES },
  { field: 'colour', label: 'Colour', of: COLOURS },
  { field: 'length', label: 'Length' },
  { field: 'thread', label: 'Thread' },
  { field: 'head', label: 'Head' },
  { field: 'holeDepth', label: 'Hole depth' },
  { field: 'torque', label: 'Torque' },
] as const;

/** mm beneath a screw that is measured for the first time, until its hole is measured. Origin: own choice, as for stamps. */
const ROOM_UNKNOWN = 0.5;

/** A screw that gets longer keeps the room beneath it. */
export function lengthChanges(anatomy: Anatomy, id: string, length: number): Change[] {
  const f = anatomy.fasteners.find((g) => g.id === id)!;
  const room = f.length === null ? ROOM_UNKNOWN : Math.round((f.holeDepth - f.length) * 100) / 100;
  return [
    setOf(anatomy, 'fasteners', id, 'length', length),
    setOf(anatomy, 'fasteners', id, 'holeDepth', Math.round((length + Math.max(0.1, room)) * 100) / 100),
  ];
}

/** All screws of the draft; one field of all that are chosen is set at once. */
export function ScrewTable({ anatomy, act }: { anatomy: Anatomy; act: (made: Made) => void }) {
  const { selected, select } = useBoard();
  const [field, setField] = useState<(typeof SETTABLE)[number]['field']>('length');
  const columns = useMemo(
    () =>
      column.columns([
        column.accessor('id', { header: 'Id' }),
        column.accessor('drive', { header: 'Drive' }),
        column.accessor('length', { header: 'Length' }),
        column.accessor('thread', { header: 'Thread' }),
        column.accessor('head', { header: 'Head' }),
        column.accessor((f) => f.holds.join(', '), { id: 'holds', header: 'Holds' }),
        column.accessor('into', { header: 'In' }),
      ]),
    [],
  );
  const rowSelection = Object.fromEntries(selected.map((id) => [id, true as const]));
  const table = useTable({
    features,
    columns,
    data: anatomy.fasteners,
    getRowId: (f) => f.id,
    state: { rowSelection },
    onRowSelectionChange: (next) => {
      const chosen = typeof next === 'function' ? next(rowSelection) : next;
      select(Object.keys(chosen).filter((id) => chosen[id]));
    },
  });
  const screws = anatomy.fasteners.filter((f) => selected.includes(f.id));
  const spec = SETTABLE.find((s) => s.field === field)!;
  const setAll = (to: unknown) =>
    act({
      label: `${spec.label} of ${screws.length} screws`,
      changes: screws.flatMap((f) =>
        field === 'length'
          ? lengthChanges(anatomy, f.id, to as number)
          : [setOf(anatomy, 'fasteners', f.id, field, to)],
      ),
      select: screws.map((f) => f.id),
    });
  return (
    <div className="grid content-start gap-2">
      <div className="flex flex-wrap items-center gap-2">
        <select
          aria-label="Field to set"
          className="min-h-11 rounded-lg border border-line bg-ground px-2"
          value={field}
          onChange={(e) => setField(e.target.value as typeof field)}
        >
          {SETTABLE.map((s) => (
            <option key={s.field} value={s.field}>
              {s.label}
            </option>
          ))}
        </select>
        {'of' in spec ? (
          <div className="w-28">
            <Select
              label={`${spec.label} of the chosen`}
              value={null}
              of={spec.of}
              onChange={(to) => to && screws.length > 0 && setAll(to)}
            />
          </div>
        ) : (
          <NumberInput
            key={`${field}${selected.join()}`}
            label={`${spec.label} of the chosen`}
            value={null}
            none
            bounds={limits('fasteners', field)}
            onChange={(to) => to !== null && screws.length > 0 && setAll(to)}
          />
        )}
        <span className="text-sm text-quiet">
          {screws.length === 0 ? 'tick the screws it is for' : `for ${screws.length}`}
        </span>
      </div>
      <div className="max-h-[60vh] overflow-auto">
        <table className="w-full text-left text-sm" aria-label="Screws">
          <thead>
            {table.getHeaderGroups().map((group) => (
              <tr key={group.id}>
                <th scope="col">
                  <input
                    type="checkbox"
                    className="size-6 accent-petrol"
                    aria-label="All screws"
                    checked={table.getIsAllRowsSelected()}
                    onChange={table.getToggleAllRowsSelectedHandler()}
                  />
                </th>
                {group.headers.map((h) => (
                  <th key={h.id} scope="col" className="p-0 font-normal text-quiet">
                    <button type="button" className="min-h-11 px-1" onClick={h.column.getToggleSortingHandler()}>
                      {String(h.column.columnDef.header)}
                      {{ asc: ' ↑', desc: ' ↓' }[h.column.getIsSorted() as string] ?? ''}
                    </button>
                  </th>
                ))}
              </tr>
            ))}
          </thead>
          <tbody>
            {table.getRowModel().rows.map((row) => (
              <tr key={row.id} className={`border-t border-line ${row.getIsSelected() ? 'bg-sunk' : ''}`}>
                <td>
                  <input
                    type="checkbox"
                    className="size-6 accent-petrol"
                    aria-label={row.id}
                    checked={row.getIsSelected()}
                    onChange={row.getToggleSelectedHandler()}
                  />
                </td>
                {row.getAllCells().map((cell) => (
                  <td key={cell.id} className="num max-w-28 truncate px-1 py-2">
                    {String(cell.getValue() ?? '')}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Button weight="quiet" onClick={() => select([])}>
        Choose none
      </Button>
    </div>
  );
}
