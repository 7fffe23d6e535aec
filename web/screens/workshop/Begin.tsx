import { useState } from 'react';
import type { AnatomySummary } from '../../../core/jobs/index.ts';
import { Button } from '../../controls/index.tsx';
import { limits } from './fields.ts';
import { NumberInput, Select } from './inputs.tsx';

/** A body to begin with, mm. Origin: own choice; common sizes, to be measured over. */
const USUAL = {
  phone: { width: 72, height: 150, thickness: 8, cornerRadius: 9, milliampHours: 4000 },
  tablet: { width: 170, height: 245, thickness: 7, cornerRadius: 8, milliampHours: 7000 },
  'keypad-phone': { width: 52, height: 120, thickness: 14, cornerRadius: 8, milliampHours: 1000 },
} as const;
type Kind = keyof typeof USUAL;

const slug = (text: string): string =>
  text
    .normalize('NFKD')
    .toLowerCase()
    .replaceAll(/[^a-z0-9]+/g, '-')
    .replaceAll(/^-+|-+$/g, '')
    .slice(0, 60);

/** A new device by its body, or a copy of one that is alike. */
export function Begin({
  devices,
  copyOf,
  begin,
}: {
  devices: readonly AnatomySummary[];
  copyOf: AnatomySummary | null;
  begin: (asked: object) => Promise<void>;
}) {
  const [from, setFrom] = useState<string | null>(copyOf?.id ?? null);
  const [name, setName] = useState('');
  const [maker, setMaker] = useState('');
  const [kind, setKind] = useState<Kind>('phone');
  const [body, setBody] = useState<{ [K in keyof (typeof USUAL)[Kind]]: number }>(USUAL.phone);
  const [ingress, setIngress] = useState('');
  const id = slug(`${from ? '' : maker} ${name}`);
  const taken = devices.some((d) => d.id === id);
  const ready = name.trim() !== '' && (from !== null || maker.trim() !== '') && id !== '' && !taken;
  const number = (label: string, field: keyof typeof body) => (
    <label className="grid">
      <span className="label">{label}</span>
      <NumberInput
        label={label}
        value={body[field]}
        bounds={field === 'milliampHours' ? limits('battery', field) : limits('body', field)}
        onChange={(v) => setBody({ ...body, [field]: v as number })}
      />
    </label>
  );
  const go = () =>
    void begin(
      from
        ? { revise: from, copyAs: { id, name: name.trim() } }
        : {
            blank: {
              id,
              name: name.trim(),
              maker: maker.trim(),
              kind,
              width: body.width,
              height: body.height,
              thickness: body.thickness,
              cornerRadius: body.cornerRadius,
              ingress: ingress.trim() === '' ? null : ingress.trim(),
              volts: 3.85,
              milliampHours: body.milliampHours,
              cells: 1,
            },
          },
    );
  return (
    <form
      className="panel grid gap-3 p-5"
      aria-label="A new device"
      onSubmit={(e) => {
        e.preventDefault();
        if (ready) go();
      }}
    >
      <div className="grid gap-3 sm:grid-cols-3">
        <label>
          <span className="label">Name</span>
          <input className="field" value={name} onChange={(e) => setName(e.target.value)} />
        </label>
        <label>
          <span className="label">Maker</span>
          <input className="field" value={maker} disabled={from !== null} onChange={(e) => setMaker(e.target.value)} />
        </label>
        <div>
          <span className="label">Copy of one that is alike</span>
          <Select
            label="Copy of"
            value={from}
            of={devices.map((d) => ({ id: d.id, name: `${d.maker} ${d.name}` }))}
            none
            onChange={(v) => setFrom(v as string | null)}
          />
        </div>
      </div>
      {from === null && (
        <div className="flex flex-wrap items-end gap-3">
          <div className="w-40">
            <span className="label">Kind</span>
            <Select
              label="Kind"
              value={kind}
              of={['phone', 'tablet', 'keypad-phone']}
              onChange={(v) => {
                setKind(v as Kind);
                setBody(USUAL[v as Kind]);
              }}
            />
          </div>
          {number('Width', 'width')}
          {number('Height', 'height')}
          {number('Thickness', 'thickness')}
          {number('Corner radius', 'cornerRadius')}
          {number('Cell', 'milliampHours')}
          <label className="w-28">
            <span className="label">Ingress</span>
            <input className="field" placeholder="none" value={ingress} onChange={(e) => setIngress(e.target.value)} />
          </label>
        </div>
      )}
      <div className="flex items-center gap-3">
        <Button type="submit" weight="main" disabled={!ready}>
          Begin drawing
        </Button>
        <span className="text-sm text-quiet">
          {taken
            ? `“${id}” is taken; give it another name`
            : ready
              ? `It will be called ${id}`
              : 'Name and maker first; measure the body with a caliper.'}
        </span>
      </div>
    </form>
  );
}
