import { useMemo } from 'react';
import type { Anatomy, Cell, Rail } from '../../../core/anatomy/index.ts';
import { asksOf, cellsApart, foldedAt, type DeviceField } from '../../../core/draft/index.ts';
import { Button } from '../../controls/index.tsx';
import type { Made } from './acts.ts';
import { limits, namesOf } from './fields.ts';
import { Many, NumberInput, Select, TextInput } from './inputs.tsx';

type Act = (made: Made) => void;
type Device = (field: DeviceField, to: unknown, label: string) => void;

/** What only somebody with the device before them can say; an answer stands in the document, and is not asked for again. */
export function Asks({ anatomy, act }: { anatomy: Anatomy; act: Act }) {
  const asks = useMemo(() => asksOf(anatomy), [anatomy]);
  if (asks.length === 0) return null;
  return (
    <section aria-label="To be said once" className="grid gap-2 rounded-lg border border-brass p-3">
      <h3 className="text-lg font-semibold">To be said once</h3>
      {asks.map((ask) => (
        <div key={ask.id} className="grid gap-1.5">
          <p>{ask.question}</p>
          <div className="flex flex-wrap gap-1.5">
            {ask.answers.map(({ label, changes }) => (
              <Button key={label} onClick={() => act({ label: `${ask.about}: ${label}`, changes, select: [] })}>
                {label}
              </Button>
            ))}
          </div>
        </div>
      ))}
    </section>
  );
}

/** The cells by themselves, and the rails that they feed. */
export function Power({ anatomy, device }: { anatomy: Anatomy; device: Device }) {
  const { cells = [], rails = [] } = anatomy;
  const batteries = anatomy.parts.filter((p) => p.kind === 'battery');
  const untold = batteries.filter((p) => !cells.some((c) => c.part === p.id));
  const cell = (i: number, change: Partial<Cell>) =>
    device('cells', cells.with(i, { ...cells[i]!, ...change }), 'Cell');
  const rail = (i: number, change: Partial<Rail>) =>
    device('rails', rails.with(i, { ...rails[i]!, ...change }), 'Rail');
  const without = <T,>(list: readonly T[], i: number) => (list.length > 1 ? list.toSpliced(i, 1) : undefined);
  const numbers = [
    ['volts', 'V'],
    ['milliampHours', 'mAh'],
    ['series', 'in a row'],
    ['parallel', 'side by side'],
  ] as const;
  return (
    <section aria-label="Power" className="grid gap-1.5">
      <h3 className="text-lg font-semibold">Rails and cells</h3>
      {rails.length === 0 && <p className="text-sm text-quiet">One rail: every plug that isolates cuts all of it.</p>}
      {rails.map((r, i) => (
        <div key={r.id} className="grid gap-1.5 border-l-4 border-line pl-2">
          <div className="flex items-center gap-1.5">
            <TextInput
              label={`Name of rail ${r.id}`}
              value={r.name}
              onChange={(name) => rail(i, { name: String(name) })}
            />
            <Button
              weight="quiet"
              aria-label={`Take out the rail ${r.id}`}
              onClick={() => device('rails', without(rails, i), 'Rail')}
            >
              ×
            </Button>
          </div>
          {anatomy.bodies && (
            <div className="flex flex-wrap items-center gap-1.5 text-sm">
              {r.feeds.length === 0 ? 'Feeds both halves' : 'Feeds'}
              <Many
                label={`What ${r.id} feeds`}
                value={r.feeds}
                anatomy={anatomy}
                of="bodies"
                onChange={(feeds) => rail(i, { feeds: feeds as string[] })}
              />
            </div>
          )}
        </div>
      ))}
      <Button
        onClick={() => {
          const taken = new Set(rails.map((r) => r.id));
          const id =
            rails.length === 0 ? 'main' : [2, 3, 4, 5, 6, 7, 8].map((n) => `rail-${n}`).find((x) => !taken.has(x))!;
          device('rails', [...rails, { id, name: id, feeds: [] }], 'Rail');
        }}
        disabled={rails.length >= 8}
      >
        {rails.length === 0 ? 'Tell rails apart' : 'Another rail'}
      </Button>
      {cells.map((c, i) => (
        <div key={c.part} className="grid gap-1.5 border-l-4 border-line pl-2">
          <div className="flex items-center justify-between gap-1.5">
            {anatomy.parts.find((p) => p.id === c.part)?.name ?? c.part}
            <Button
              weight="quiet"
              aria-label={`Take out the cell ${c.part}`}
              onClick={() => device('cells', without(cells, i), 'Cell')}
            >
              ×
            </Button>
          </div>
          <div className="grid grid-cols-2 gap-1.5">
            {numbers.map(([field, unit]) => (
              <NumberInput
                key={field}
                label={`${field} of ${c.part}`}
                value={c[field]}
                unit={unit}
                bounds={limits('cells', field)}
                width="w-16"
                onChange={(v) => cell(i, { [field]: v as number })}
              />
            ))}
          </div>
          {rails.length > 0 && (
            <Select
              label={`Rail that ${c.part} feeds`}
              value={c.rail}
              of={namesOf(anatomy, 'rails')}
              onChange={(v) => v && cell(i, { rail: v as string })}
            />
          )}
        </div>
      ))}
      {untold.length > 0 && (batteries.length > 1 || cells.length > 0) && (
        <Button
          onClick={() =>
            device(
              'cells',
              [...cells, ...cellsApart(anatomy, untold, () => rails[0]?.id ?? 'main')],
              untold.length === 1 ? 'Cell' : `${untold.length} cells`,
            )
          }
        >
          Tell {untold.length === 1 ? 'this cell' : `these ${untold.length} cells`} apart
        </Button>
      )}
    </section>
  );
}

/** Two halves on a hinge: where it runs, what crosses it, what bends with it. */
export function Fold({ anatomy, act, device }: { anatomy: Anatomy; act: Act; device: Device }) {
  const { bodies, hinge, body } = anatomy;
  const folded = (x: number, label: string) => {
    const next = foldedAt(anatomy, x);
    act({
      label,
      changes: [
        { do: 'device', field: 'bodies', from: bodies, to: next.bodies },
        { do: 'device', field: 'hinge', from: hinge, to: next.hinge },
      ],
      select: [],
    });
  };
  if (!bodies || !hinge)
    return (
      <section aria-label="Fold" className="grid gap-1.5">
        <h3 className="text-lg font-semibold">Fold</h3>
        <p className="text-sm text-quiet">
          Drawn opened flat, from the inside: the inside is the front, both outer faces are the back.
        </p>
        <Button onClick={() => folded(body.width / 2, 'Two halves')}>It folds: two halves on a hinge</Button>
      </section>
    );
  const at = hinge.line[0][0];
  const hung = (change: Partial<typeof hinge>, label: string) => device('hinge', { ...hinge, ...change }, label);
  return (
    <section aria-label="Fold" className="grid gap-1.5">
      <h3 className="text-lg font-semibold">Fold</h3>
      {bodies.map((half, i) => (
        <TextInput
          key={half.id}
          label={`Name of the half ${half.id}`}
          value={half.name}
          onChange={(name) => device('bodies', bodies.with(i, { ...half, name: String(name) }), 'Half')}
        />
      ))}
      <span className="text-sm text-quiet">Hinge from the left</span>
      <NumberInput
        label="Hinge from the left"
        value={at}
        bounds={{ least: 1, most: body.width - 1, unit: 'mm' }}
        onChange={(x) => folded(x as number, 'Hinge')}
      />
      <span className="text-sm text-quiet">Inner display, and the least radius it bears</span>
      <Select
        label="Inner display"
        value={hinge.inner}
        of={namesOf(anatomy, 'parts').filter((p) => anatomy.parts.find((q) => q.id === p.id)?.kind === 'display')}
        none
        onChange={(inner) => hung({ inner: inner as string | null }, 'Inner display')}
      />
      <NumberInput
        label="Least radius"
        value={hinge.radius}
        bounds={limits('hinge', 'radius')}
        none
        onChange={(radius) => hung({ radius: radius as number | null }, 'Radius')}
      />
      <div className="flex flex-wrap items-center gap-1.5 text-sm">
        Plugs whose flex crosses it
        <Many
          label="Crosses the hinge"
          value={hinge.crosses}
          anatomy={anatomy}
          of="connectors"
          onChange={(crosses) => hung({ crosses: crosses as string[] }, 'What crosses the hinge')}
        />
      </div>
      <div className="flex flex-wrap items-center gap-1.5 text-sm">
        Worked half open
        <Many
          label="Worked half open"
          value={hinge.half}
          anatomy={anatomy}
          of="items"
          onChange={(half) => hung({ half: half as string[] }, 'Worked half open')}
        />
      </div>
      <Button
        weight="quiet"
        onClick={() =>
          act({
            label: 'One body',
            changes: [
              { do: 'device', field: 'hinge', from: hinge, to: undefined },
              { do: 'device', field: 'bodies', from: bodies, to: undefined },
            ],
            select: [],
          })
        }
      >
        It does not fold
      </Button>
    </section>
  );
}
