import type { AnatomySummary } from '../../../core/jobs/index.ts';
import { useLoad } from '../../state/useLoad.ts';

/** One of the devices that the shop knows. */
export function DeviceSelect({
  label,
  value,
  set,
}: {
  label: string;
  /** Id of the anatomy; empty while none is chosen. */
  value: string;
  set: (anatomy: string) => void;
}) {
  const { data: list } = useLoad<AnatomySummary[]>('/anatomies');
  return (
    <label>
      <span className="label">{label}</span>
      <select className="field" value={value} onChange={(e) => set(e.target.value)}>
        <option value="">choose</option>
        {(list ?? []).map((a) => (
          <option key={a.id} value={a.id}>
            {a.maker} {a.name}
          </option>
        ))}
      </select>
    </label>
  );
}
