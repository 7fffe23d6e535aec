import { circumstanceNow } from '../../../core/run/index.ts';
import { Button } from '../../controls/index.tsx';
import { useRunOf } from '../../state/run.ts';

/** A function that failed, tried again where it is met. */
export function Retest({ of }: { of: string }) {
  const { record, state } = useRunOf('record', 'state');
  if (!state) return null;
  return (
    <Button
      onClick={(e) => {
        e.currentTarget.blur();
        record([{ type: 'test', function: of, outcome: 'pass', reason: '', circumstance: circumstanceNow(state) }]);
      }}
    >
      {state.tests.get(of)?.outcome === 'fail' ? 'It passes now' : 'It passes'}
    </Button>
  );
}
