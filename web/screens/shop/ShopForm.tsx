import type { ShopSettings } from '../../../core/jobs/index.ts';
import { shopLimits } from '../../controls/bounds.ts';
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
      <Counter shop={shop} set={set} />
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
          bounds={shopLimits('backupsKept')}
          onChange={(backupsKept) => set({ backupsKept })}
        />
      </div>
    </div>
  );
}

const TILL_FIELDS = [
  ['hourly', 'An hour of work, before tax'],
  ['tax', 'Tax, %'],
  ['markup', 'Added to the price of a part, %'],
] as const;

/** Currencies offered first; any other of ISO 4217 can be typed. */
const CURRENCIES = Intl.supportedValuesOf('currency');

/** Rates, tax and warranty: what quotes are made of; and how long names are kept. */
function Counter({ shop, set }: { shop: ShopSettings; set: (part: Partial<ShopSettings>) => void }) {
  return (
    <fieldset className="grid gap-3">
      <legend className="label">Counter</legend>
      <div className="grid gap-3 sm:grid-cols-4">
        <label>
          <span className="label">Currency</span>
          <select
            className="field"
            value={shop.till.currency}
            onChange={(e) => set({ till: { ...shop.till, currency: e.target.value } })}
          >
            {CURRENCIES.map((c) => (
              <option key={c}>{c}</option>
            ))}
          </select>
        </label>
        {TILL_FIELDS.map(([key, label]) => {
          const wrong = !/^\d{1,7}(\.\d{1,4})?$/.test(shop.till[key]);
          return (
            <label key={key}>
              <span className="label">{label}</span>
              <input
                className="field num"
                inputMode="decimal"
                value={shop.till[key]}
                maxLength={12}
                aria-invalid={wrong}
                onChange={(e) => set({ till: { ...shop.till, [key]: e.target.value.trim().replace(',', '.') } })}
              />
              {wrong && <span className="block text-sm text-crimson">A number, not below zero.</span>}
            </label>
          );
        })}
      </div>
      <div className="grid gap-3 sm:grid-cols-[10rem_10rem_minmax(0,1fr)]">
        <NumberField
          label="Warranty, months"
          value={shop.warrantyMonths}
          bounds={shopLimits('warrantyMonths')}
          onChange={(warrantyMonths) => set({ warrantyMonths })}
        />
        <NumberField
          label="Names are kept, days"
          value={shop.keptDays}
          bounds={shopLimits('keptDays')}
          onChange={(keptDays) => set({ keptDays })}
        />
        <label>
          <span className="label">Where old cells go, by your local rules</span>
          <input
            className="field"
            value={shop.disposal}
            maxLength={400}
            onChange={(e) => set({ disposal: e.target.value })}
          />
        </label>
      </div>
    </fieldset>
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
