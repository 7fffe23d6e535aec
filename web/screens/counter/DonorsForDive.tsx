import { useState } from 'react';
import type { Model } from '../../../core/anatomy/index.ts';
import { donorBrings, donorChecks, type Donor } from '../../../core/counter/index.ts';
import type { JobFile } from '../../../core/jobs/index.ts';
import { isOver, type RunState } from '../../../core/run/index.ts';
import { readNumber } from '../../../core/units/index.ts';
import { Button, ProblemNote } from '../../controls/index.tsx';
import { api, messageOf } from '../../state/api.ts';
import { useRunOf } from '../../state/run.ts';
import { useLoad } from '../../state/useLoad.ts';
import { Panel } from './Panel.tsx';
import { nameOfLoss } from '../../../words/index.ts';

/** Parts out of other devices that could go in, with what speaks against each. */
export function DonorsForDive({ state, model }: { state: RunState; model: Model }) {
  const { job, adopt } = useRunOf('job', 'adopt');
  const { data: donors } = useLoad<Donor[]>('/counter/donors');
  const [problem, setProblem] = useState<string | null>(null);
  const { plan } = state.context;
  const [wanted, setWanted] = useState({ storage: '', region: '' });
  const today = new Date().toISOString().slice(0, 10);
  const fit = (donors ?? []).filter(
    (d) => d.anatomy === model.anatomy.id && plan.replace.includes(d.part) && (d.job === null || d.job === job!.id),
  );
  if (fit.length === 0) return null;
  const take = async (donor: Donor) => {
    try {
      adopt(await api<JobFile>(`/jobs/${job!.id}/donor`, { json: { donor: donor.id, part: donor.part } }));
      setProblem(null);
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <Panel id="donors" title="Donor parts for this dive">
      {fit.some((d) => model.parts.get(d.part)?.kind === 'board') && (
        <div className="grid gap-3 sm:grid-cols-2">
          <label>
            <span className="label">Storage of the old board, GB</span>
            <input
              className="field num"
              inputMode="decimal"
              value={wanted.storage}
              maxLength={6}
              onChange={(e) => setWanted({ ...wanted, storage: e.target.value })}
            />
          </label>
          <label>
            <span className="label">Its region or variant</span>
            <input
              className="field"
              value={wanted.region}
              maxLength={60}
              onChange={(e) => setWanted({ ...wanted, region: e.target.value })}
            />
          </label>
        </div>
      )}
      <ul className="grid gap-3">
        {fit.map((d) => {
          const checks = donorChecks(
            model,
            d,
            { storage: readNumber(wanted.storage), region: wanted.region.trim() },
            today,
          );
          const stopped = checks.some((c) => c.weight === 'stop');
          const brings = donorBrings(model, plan, d.part);
          const taken = state.counter.donors.get(d.part) === d.id;
          return (
            <li key={d.id} className="grid gap-1 border-t border-line pt-2 first:border-t-0">
              <p className="font-semibold">
                {model.nameOf(d.part)}, {d.grade}, {d.tried.replace('-', ' ')}{' '}
                <span className="font-normal text-quiet">from {d.seller || 'a seller'}</span>
              </p>
              {checks.map((c) => (
                <p key={c.because} className={c.weight === 'stop' ? 'font-semibold text-crimson' : 'text-ember'}>
                  {c.weight === 'stop' ? '✗' : '!'} {c.because}
                </p>
              ))}
              {brings.lost.length > 0 && (
                <p className="text-quiet">Lost with it: {brings.lost.map((f) => nameOfLoss(model, f)).join(', ')}.</p>
              )}
              {brings.moves.length > 0 && (
                <p className="text-quiet">Moves over to it: {brings.moves.map((p) => model.nameOf(p)).join(', ')}.</p>
              )}
              {brings.resets.length > 0 && <p className="text-quiet">Is reset: {brings.resets.join(', ')}.</p>}
              {taken ? (
                <p className="font-semibold text-moss">✓ It goes in</p>
              ) : (
                <p>
                  <Button disabled={stopped || isOver(state)} onClick={() => void take(d)}>
                    Take this one
                  </Button>
                </p>
              )}
            </li>
          );
        })}
      </ul>
      {problem && <ProblemNote>{problem}</ProblemNote>}
    </Panel>
  );
}
