import { useState } from 'react';
import type { Anatomy } from '../../../core/anatomy/index.ts';
import { freeId, newEntry, USUAL_FUNCTIONS, type Change, type DeviceField } from '../../../core/draft/index.ts';
import { Button } from '../../controls/index.tsx';
import { setOf } from '../../state/draft.ts';
import type { Made } from './acts.ts';
import { fieldsOf, limits, namesOf } from './fields.ts';
import { FieldRow, NumberInput, Select, TextInput } from './inputs.tsx';
import { Asks, Fold, Power } from './PowerAndFold.tsx';

type Act = (made: Made) => void;

/** The device as a whole: its body, functions, spares, orders. */
export function DevicePanel({ anatomy, act }: { anatomy: Anatomy; act: Act }) {
  const device = (field: DeviceField, to: unknown, label: string) =>
    act({ label, changes: [{ do: 'device', field, from: anatomy[field], to }], select: [] });
  const { body, battery } = anatomy;
  const resized = (change: Partial<typeof body>) => {
    const next = { ...body, ...change };
    const frame = anatomy.parts.find((p) => p.fixed);
    // The frame is the body: it goes with it.
    const same =
      frame && 'rect' in frame.outline && frame.outline.rect[2] === body.width && frame.outline.rect[3] === body.height;
    const changes: Change[] = [{ do: 'device', field: 'body', from: body, to: next }];
    if (same)
      changes.push(
        setOf(anatomy, 'parts', frame.id, 'outline', {
          rect: [0, 0, next.width, next.height],
          radius: next.cornerRadius,
        }),
      );
    act({ label: 'Body', changes, select: [] });
  };
  const number = (label: string, field: 'width' | 'height' | 'thickness' | 'cornerRadius') => (
    <label className="grid">
      <span className="text-sm text-quiet">{label}</span>
      <NumberInput
        label={label}
        value={body[field]}
        bounds={limits('body', field)}
        width="w-20"
        onChange={(v) => resized({ [field]: v as number })}
      />
    </label>
  );
  return (
    <div className="grid content-start gap-4">
      <Asks anatomy={anatomy} act={act} />
      <div className="grid grid-cols-2 gap-2">
        <label>
          <span className="text-sm text-quiet">Name</span>
          <TextInput label="Name of the device" value={anatomy.name} onChange={(v) => device('name', v, 'Name')} />
        </label>
        <label>
          <span className="text-sm text-quiet">Maker</span>
          <TextInput label="Maker" value={anatomy.maker} onChange={(v) => device('maker', v, 'Maker')} />
        </label>
        {number('Width', 'width')}
        {number('Height', 'height')}
        {number('Thickness', 'thickness')}
        {number('Corner radius', 'cornerRadius')}
        <label className="grid">
          <span className="text-sm text-quiet">Cell</span>
          <NumberInput
            label="Capacity"
            value={battery.milliampHours}
            bounds={limits('battery', 'milliampHours')}
            width="w-20"
            onChange={(v) => device('battery', { ...battery, milliampHours: v }, 'Cell')}
          />
        </label>
        <label className="grid">
          <span className="text-sm text-quiet">Voltage</span>
          <NumberInput
            label="Voltage"
            value={battery.volts}
            bounds={limits('battery', 'volts')}
            width="w-20"
            onChange={(v) => device('battery', { ...battery, volts: v }, 'Cell')}
          />
        </label>
      </div>
      <Power anatomy={anatomy} device={device} />
      <Fold anatomy={anatomy} act={act} device={device} />
      <Functions anatomy={anatomy} act={act} />
      <Spares anatomy={anatomy} act={act} />
      <Orders anatomy={anatomy} device={device} />
    </div>
  );
}

function Functions({ anatomy, act }: { anatomy: Anatomy; act: Act }) {
  const [open, setOpen] = useState<string | null>(null);
  const missing = USUAL_FUNCTIONS.filter((f) => !anatomy.functions.some((g) => g.id === f.id));
  /** A function, and the parts that usually have it. */
  const add = (ids: readonly string[]) => {
    const changes: Change[] = [];
    const functionsOf = new Map(anatomy.parts.map((p) => [p.id, p.functions]));
    ids.forEach((id, i) => {
      const { of, ...entry } = USUAL_FUNCTIONS.find((f) => f.id === id)!;
      changes.push({ do: 'add', group: 'functions', entry, index: anatomy.functions.length + i });
      const candidates = anatomy.parts.filter((p) => of.includes(p.kind));
      const [only] = candidates;
      if (candidates.length === 1 && only) functionsOf.set(only.id, [...functionsOf.get(only.id)!, id]);
    });
    for (const p of anatomy.parts)
      if (functionsOf.get(p.id) !== p.functions)
        changes.push(setOf(anatomy, 'parts', p.id, 'functions', functionsOf.get(p.id)));
    act({ label: ids.length === 1 ? `Function ${ids[0]}` : `${ids.length} functions`, changes, select: [] });
  };
  return (
    <section aria-label="Functions" className="grid gap-1.5">
      <h3 className="text-lg font-semibold">Functions and their tests</h3>
      {anatomy.functions.map((f) => (
        <details key={f.id} open={open === f.id} onToggle={(e) => e.currentTarget.open && setOpen(f.id)}>
          <summary className="min-h-11 content-center">{f.name}</summary>
          {fieldsOf('functions').map((field) => (
            <FieldRow
              key={field.field}
              field={field}
              entry={f as unknown as Record<string, unknown>}
              anatomy={anatomy}
              onChange={(to) =>
                act({
                  label: `${field.label} of ${f.id}`,
                  changes: [setOf(anatomy, 'functions', f.id, field.field, to)],
                  select: [],
                })
              }
            />
          ))}
          <Button
            weight="quiet"
            onClick={() =>
              act({
                label: `Take out ${f.id}`,
                changes: [{ do: 'remove', group: 'functions', entry: f, index: anatomy.functions.indexOf(f) }],
                select: [],
              })
            }
          >
            Take out
          </Button>
        </details>
      ))}
      <div className="flex flex-wrap gap-1.5">
        {missing.map((f) => (
          <button
            key={f.id}
            type="button"
            className="min-h-11 rounded-full border border-line px-3 text-sm hover:bg-sunk"
            onClick={() => add([f.id])}
          >
            + {f.name}
          </button>
        ))}
      </div>
      <Button
        onClick={() => {
          const id = freeId(anatomy, 'functions');
          act({
            label: `Function ${id}`,
            changes: [
              {
                do: 'add',
                group: 'functions',
                entry: newEntry.function(id, id, 'Say how it is tested.'),
                index: anatomy.functions.length,
              },
            ],
            select: [],
          });
        }}
      >
        Another function
      </Button>
    </section>
  );
}

function Spares({ anatomy, act }: { anatomy: Anatomy; act: Act }) {
  return (
    <section aria-label="Spares" className="grid gap-1.5">
      <h3 className="text-lg font-semibold">Spares</h3>
      {anatomy.spares.map((s) => (
        <details key={s.id}>
          <summary className="min-h-11 content-center">{s.name}</summary>
          {fieldsOf('spares').map((field) => (
            <FieldRow
              key={field.field}
              field={field}
              entry={s as unknown as Record<string, unknown>}
              anatomy={anatomy}
              onChange={(to) =>
                act({
                  label: `${field.label} of ${s.id}`,
                  changes: [setOf(anatomy, 'spares', s.id, field.field, to)],
                  select: [],
                })
              }
            />
          ))}
          <Button
            weight="quiet"
            onClick={() =>
              act({
                label: `Take out ${s.id}`,
                changes: [{ do: 'remove', group: 'spares', entry: s, index: anatomy.spares.indexOf(s) }],
                select: [],
              })
            }
          >
            Take out
          </Button>
        </details>
      ))}
      <Select
        label="Spare for"
        value={null}
        of={namesOf(anatomy, 'parts').filter((p) => !anatomy.parts.find((q) => q.id === p.id)?.fixed)}
        onChange={(part) => {
          if (!part) return;
          const p = anatomy.parts.find((q) => q.id === part)!;
          const id = freeId(anatomy, 'spares', `${p.id}-new`);
          act({
            label: `Spare ${id}`,
            changes: [
              { do: 'add', group: 'spares', entry: newEntry.spare(id, p.name, p.id), index: anatomy.spares.length },
            ],
            select: [],
          });
        }}
      />
    </section>
  );
}

function Orders({
  anatomy,
  device,
}: {
  anatomy: Anatomy;
  device: (field: DeviceField, to: unknown, label: string) => void;
}) {
  const [first, setFirst] = useState<string | null>(null);
  const [then, setThen] = useState<string | null>(null);
  const [because, setBecause] = useState('');
  const items = namesOf(anatomy, 'items');
  return (
    <section aria-label="Orders" className="grid gap-1.5">
      <h3 className="text-lg font-semibold">Orders</h3>
      {anatomy.orders.map((o, i) => (
        <p key={i} className="flex items-center justify-between gap-2 text-sm">
          {o.first} before {o.then}: {o.because}
          <Button
            weight="quiet"
            aria-label={`Take out the order of ${o.first}`}
            onClick={() => device('orders', anatomy.orders.toSpliced(i, 1), 'Order')}
          >
            ×
          </Button>
        </p>
      ))}
      <Select label="First" value={first} of={items} onChange={(v) => setFirst(v as string | null)} />
      <Select label="Then" value={then} of={items} onChange={(v) => setThen(v as string | null)} />
      <input
        aria-label="Because"
        className="min-h-11 rounded-lg border border-line bg-ground px-2"
        placeholder="because…"
        value={because}
        onChange={(e) => setBecause(e.target.value)}
      />
      <Button
        disabled={!first || !then || first === then || because.trim() === ''}
        onClick={() => {
          device('orders', [...anatomy.orders, { first: first!, then: then!, because: because.trim() }], 'Order');
          setBecause('');
        }}
      >
        Add the order
      </Button>
      <h3 className="text-lg font-semibold">Mating orders</h3>
      {anatomy.mateOrder.map((list, i) => (
        <p key={i} className="flex items-center justify-between gap-2 text-sm">
          {list.join(' → ')}
          <Button
            weight="quiet"
            aria-label={`Take out mating order ${i + 1}`}
            onClick={() => device('mateOrder', anatomy.mateOrder.toSpliced(i, 1), 'Mating order')}
          >
            ×
          </Button>
        </p>
      ))}
      <p className="text-sm text-quiet">M, then press the plugs one after another, first to last.</p>
    </section>
  );
}
