import { DRIVES, type Anatomy } from '../../../core/anatomy/index.ts';
import type { StockItem } from '../../../core/screws/index.ts';
import { useLoad } from '../../state/useLoad.ts';
import { useBoard, type Stamp } from './board.ts';
import { limits } from './fields.ts';
import { NumberInput, Select } from './inputs.tsx';

/** Measures of a screw that can be set before it is stamped, mm. */
const MEASURES = [
  ['length', 'Length'],
  ['thread', 'Thread'],
  ['head', 'Head'],
] as const;

const sizeOf = (s: Pick<Stamp, 'drive' | 'thread' | 'length' | 'head'>): string =>
  `${s.drive} M${s.thread}×${s.length ?? '?'}, head ${s.head}`;

/** What the next screw is like: as the last one, one of this device, one of the stock, or as it is set here. */
export function StampBar({ anatomy }: { anatomy: Anatomy }) {
  const { stamp, set } = useBoard();
  const { data: stock } = useLoad<StockItem[]>('/screws/stock');
  const kinds = new Map<string, Stamp>();
  for (const f of anatomy.fasteners) {
    const { kind, drive, length, thread, head, colour, magnetic } = f;
    kinds.set(`here: ${sizeOf(f)}`, { kind, drive, length, thread, head, colour, magnetic });
  }
  for (const item of stock ?? []) {
    const { kind, drive, length, thread, head, magnetic } = item as unknown as Stamp;
    kinds.set(`stock: ${sizeOf({ drive, thread, length, head })}`, {
      kind,
      drive,
      length,
      thread,
      head,
      magnetic,
      colour: 'bright',
    });
  }
  const change = (to: Partial<Stamp>) => set({ stamp: { ...stamp, ...to } });
  return (
    <div className="flex items-center gap-1.5 pl-2" role="group" aria-label="The next screw">
      <div className="w-24">
        <Select
          label="Drive of the next screw"
          value={stamp.drive}
          of={DRIVES}
          onChange={(drive) => change({ drive: drive as Stamp['drive'] })}
        />
      </div>
      {MEASURES.map(([field, label]) => (
        <NumberInput
          key={field}
          label={`${label} of the next screw`}
          value={stamp[field]}
          bounds={limits('fasteners', field)}
          width="w-16"
          unit={label.toLowerCase()}
          onChange={(v) => change({ [field]: v as number })}
        />
      ))}
      <div className="w-44">
        <Select
          label="Like one that is known"
          value={null}
          of={[...kinds.keys()]}
          onChange={(name) => name && set({ stamp: kinds.get(name as string)! })}
        />
      </div>
    </div>
  );
}
