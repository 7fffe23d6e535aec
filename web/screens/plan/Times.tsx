import { timesOf, type Plan } from '../../../core/dive/index.ts';
import { minutes } from '../../../core/units/index.ts';
import { Measure } from '../../controls/index.tsx';

/** How long a dive takes: the same three numbers wherever it is told. @param note what is known of its order */
export function Times({ plan, note = '' }: { plan: Plan; note?: string }) {
  const { elapsed, work, idle, drawingDown } = timesOf(plan);
  return (
    <>
      <Measure value={minutes(elapsed)} label={`in all${note}`} />
      <Measure value={minutes(work)} label="of work" />
      <Measure
        value={minutes(idle)}
        label={
          drawingDown === null
            ? 'of waiting'
            : `of waiting, ${minutes(drawingDown)} of it to draw the cell down: its charge is not known`
        }
      />
    </>
  );
}
