import { useMemo } from 'react';
import type { Customer } from '../../../core/jobs/index.ts';
import { useLoad } from '../../state/useLoad.ts';
import type { IntakeForm } from './form.ts';

/** Customers shown while a name is typed. Origin: own choice. */
const SHOWN = 4;

/** Whose it is: a name as it is typed, with those whom the shop knows already. */
export function Whose({ form, set }: { form: IntakeForm; set: (part: Partial<IntakeForm>) => void }) {
  const { data: customers } = useLoad<Customer[]>('/counter/customers');
  const typed = form.customer.trim().toLowerCase();
  const known = useMemo(
    () =>
      typed.length < 2 || form.customerId
        ? []
        : (customers ?? [])
            .filter((c) => c.name.toLowerCase().includes(typed) || c.contact.toLowerCase().includes(typed))
            .slice(0, SHOWN),
    [customers, typed, form.customerId],
  );
  return (
    <>
      <div className="grid gap-3 sm:grid-cols-2">
        <label>
          <span className="label">Customer</span>
          <input
            className="field"
            value={form.customer}
            maxLength={200}
            autoComplete="off"
            onChange={(e) => set({ customer: e.target.value, customerId: null })}
          />
        </label>
        <label>
          <span className="label">Telephone or mail</span>
          <input
            className="field"
            value={form.contact}
            maxLength={200}
            autoComplete="off"
            onChange={(e) => set({ contact: e.target.value })}
          />
        </label>
      </div>
      {known.length > 0 && (
        <ul aria-label="Known here" className="flex flex-wrap gap-2">
          {known.map((c) => (
            <li key={c.id}>
              <button
                type="button"
                className="min-h-12 rounded-lg border-2 border-line px-3 text-left hover:bg-sunk"
                onClick={() => set({ customer: c.name, customerId: c.id, contact: form.contact || c.contact })}
              >
                <b>{c.name}</b>{' '}
                <span className="text-quiet">
                  {c.contact ? `${c.contact}, ` : ''}
                  {c.jobs} {c.jobs === 1 ? 'job' : 'jobs'}
                </span>
              </button>
            </li>
          ))}
        </ul>
      )}
      {form.customerId && <p className="text-moss">✓ Known here; this job is added to theirs.</p>}
    </>
  );
}
