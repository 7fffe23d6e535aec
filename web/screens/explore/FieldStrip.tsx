import { RotateCcw } from 'lucide-react';
import { Link } from 'react-router';
import { countsOf, isOpened } from '../../../core/explore/index.ts';
import { minutes } from '../../../core/units/index.ts';
import { Button, Key } from '../../controls/index.tsx';
import { useRunOf } from '../../state/run.ts';
import { EmergencyButton } from '../Emergency.tsx';
import { PowerSign, Sent } from '../run/signs.tsx';
import type { Field } from './useField.ts';

/** LIVE or ISOLATED, what is off, and the way back from here. */
export function FieldStrip({ job, field, turn }: { job: string; field: Field; turn: () => void }) {
  const { anatomy } = useRunOf('anatomy');
  const { open, outlook } = field;
  const counts = countsOf(open);
  const said: [number, string][] = [
    [counts.screwsOut, counts.screwsOut === 1 ? 'screw out' : 'screws out'],
    [counts.plugsOpen, counts.plugsOpen === 1 ? 'plug open' : 'plugs open'],
    [counts.partsOff, counts.partsOff === 1 ? 'part off or open' : 'parts off or open'],
  ];
  return (
    <header className="panel flex flex-wrap items-stretch gap-x-3 gap-y-1 overflow-hidden">
      <PowerSign isolated={open.isolated} />
      <div className="flex flex-wrap items-center gap-x-5 max-lg:px-3" data-testid="counts">
        {said.map(([n, word]) => (
          <span key={word} className={n > 0 ? '' : 'text-quiet'}>
            <b className="num text-xl">{n}</b> {word}
          </span>
        ))}
      </div>
      <span className="flex-1" />
      {outlook && (
        <span className="flex items-center max-lg:px-3" data-testid="outlook">
          {outlook.problem === null ? (
            <>
              way back&nbsp;<b className="num">{outlook.steps}</b>&nbsp;steps,&nbsp;{minutes(outlook.seconds)}
            </>
          ) : (
            <span className="text-crimson">the way back is not clear yet</span>
          )}
        </span>
      )}
      <Button onClick={turn} className="my-1" disabled={!isOpened(open)}>
        <RotateCcw aria-hidden="true" size={20} /> Turn round <Key of="r" />
      </Button>
      <EmergencyButton className="my-1" compact />
      <Sent />
      <Link to={`/jobs/${job}`} className="flex min-h-12 items-center pr-3 text-ink max-lg:px-3">
        <span className="max-w-36 truncate">{anatomy!.name}</span>
      </Link>
    </header>
  );
}
