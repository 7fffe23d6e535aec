import { functionIn, type Model } from '../../../core/anatomy/index.ts';
import type { PutRight } from '../../../core/proof/index.ts';
import { circumstanceNow } from '../../../core/run/index.ts';
import { Button } from '../../controls/index.tsx';
import { useRunOf } from '../../state/run.ts';
import { spoken } from '../../../words/index.ts';

/** Something was found and put right: only its own tests are asked for, and nothing is guessed before they are made. */
export function TestAgain({ right, model }: { right: PutRight; model: Model }) {
  const { record, state } = useRunOf('record', 'state');
  if (!state) return null;
  const circumstance = circumstanceNow(state);
  const canTest = circumstance === 'open' || circumstance === 'closed';
  const say = (id: string, outcome: 'pass' | 'fail') =>
    record([
      {
        type: 'test',
        function: id,
        outcome,
        reason: outcome === 'fail' ? `still fails after ${model.nameOf(right.item)} was put right` : '',
        circumstance,
      },
    ]);
  return (
    <section aria-labelledby="put-right" className="panel grid gap-3 border-l-8 border-petrol p-5">
      <h2 id="put-right" className="text-xl font-semibold">
        Found and put right: {model.nameOf(right.item)}, {spoken.causes[right.kind]}
      </h2>
      <p>
        {canTest
          ? 'Test what had failed for it once more, before anything else is suspected.'
          : 'Once it has power again, what had failed for it is tested once more, before anything else is suspected.'}
      </p>
      <ul aria-label="To be tested again" className="grid gap-2">
        {right.functions.map((id) => {
          const { name, test } = functionIn(model.anatomy, id);
          return (
            <li key={id} data-again={id} className="flex flex-wrap items-center gap-3">
              <span className="min-w-48 flex-1">
                <b className="text-lg">{name}</b>
                <span className="block text-quiet">{test}</span>
              </span>
              {canTest && (
                <span className="flex gap-2">
                  <Button weight="main" className="min-h-14" onClick={() => say(id, 'pass')}>
                    It passes now
                  </Button>
                  <Button className="min-h-14" onClick={() => say(id, 'fail')}>
                    It still fails
                  </Button>
                </span>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
