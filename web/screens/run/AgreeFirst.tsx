import { useRunOf } from '../../state/run.ts';
import { Consent } from '../plan/Consent.tsx';
import { nameOfLoss, tell } from '../../../words/index.ts';

/** Work has not begun, or does not go on: what it costs was not agreed, or there is more of it since. */
export function AgreeFirst({ losses }: { losses: string[] }) {
  const { context, state, job } = useRunOf('context', 'state', 'job');
  if (!context || !state || !job) return null;
  const { plan, model } = context;
  const shown = plan.losses.filter((l) => losses.includes(l.function));
  return (
    <section className="panel flex-1 p-6" aria-labelledby="agree" data-testid="agree-first">
      <h1 id="agree" className="text-4xl leading-tight font-bold">
        Not agreed yet
      </h1>
      <p className="mt-2 text-xl">This dive costs the customer something. They hear it before, not after.</p>
      <ul className="mt-4 grid gap-3 text-xl">
        {shown.map((l, i) => (
          <li key={i}>
            <b>{nameOfLoss(model, l.function)}</b>: {tell(model, l.because)}.{' '}
            <span className="text-quiet">{tell(model, l.remedy)}</span>
          </li>
        ))}
      </ul>
      <Consent state={state} job={job.id} large />
    </section>
  );
}
