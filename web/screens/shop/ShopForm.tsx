import type { ShopSettings } from '../../../core/jobs/index.ts';
import { Check } from '../../controls/index.tsx';
import { NumberField } from '../../controls/NumberField.tsx';

const DAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];

/** Name, address, hours, paper and backups of a shop. */
export function ShopForm({ shop, change }: { shop: ShopSettings; change: (shop: ShopSettings) => void }) {
  const set = (part: Partial<ShopSettings>) => change({ ...shop, ...part });
  return (
    <div className="grid gap-5">
      <div className="grid gap-3 sm:grid-cols-2">
        <label>
          <span className="label">Name of the shop</span>
          <input className="field" value={shop.name} maxLength={80} onChange={(e) => set({ name: e.target.value })} />
        </label>
        <label>
          <span className="label">Address, as it stands on the record</span>
          <input
            className="field"
            value={shop.address}
            maxLength={400}
            onChange={(e) => set({ address: e.target.value })}
          />
        </label>
      </div>
      <fieldset>
        <legend className="label">Opening hours</legend>
        <ul className="grid gap-1">
          {DAYS.map((day, i) => (
            <Hours
              key={day}
              day={day}
              hours={shop.hours[i] ?? null}
              change={(next) => set({ hours: shop.hours.map((h, k) => (k === i ? next : h)) })}
            />
          ))}
        </ul>
      </fieldset>
      <label className="w-40">
        <span className="label">Paper of the printer</span>
        <select
          className="field"
          value={shop.paper}
          onChange={(e) => set({ paper: e.target.value as ShopSettings['paper'] })}
        >
          <option>A4</option>
          <option>Letter</option>
        </select>
      </label>
      <div className="grid gap-3 sm:grid-cols-[minmax(0,1fr)_10rem]">
        <label>
          <span className="label">Folder for the daily backup, on another disk of the server</span>
          <input
            className="field"
            value={shop.backupFolder}
            maxLength={400}
            placeholder="/mnt/backup/nibrel"
            onChange={(e) => set({ backupFolder: e.target.value })}
          />
        </label>
        <NumberField
          label="How many are kept"
          value={shop.backupsKept}
          min={1}
          max={400}
          whole
          onChange={(backupsKept) => set({ backupsKept })}
        />
      </div>
    </div>
  );
}

type Open = ShopSettings['hours'][number];

function Hours({ day, hours, change }: { day: string; hours: Open; change: (hours: Open) => void }) {
  return (
    <li className="flex min-h-12 flex-wrap items-center gap-3">
      <Check
        className="w-40"
        checked={hours !== null}
        onChange={(e) => change(e.target.checked ? { from: '09:00', to: '17:00' } : null)}
      >
        {day}
      </Check>
      {hours === null ? (
        <span className="text-quiet">closed</span>
      ) : (
        <>
          <input
            type="time"
            className="field !w-auto"
            aria-label={`${day}, from`}
            value={hours.from}
            onChange={(e) => change({ ...hours, from: e.target.value || hours.from })}
          />
          <span>to</span>
          <input
            type="time"
            className="field !w-auto"
            aria-label={`${day}, to`}
            value={hours.to}
            onChange={(e) => change({ ...hours, to: e.target.value || hours.to })}
          />
        </>
      )}
    </li>
  );
}
