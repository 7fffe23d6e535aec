import { Link, useLocation } from 'react-router';
import type { RunEvent } from '../../../core/run/index.ts';
import { Button } from '../../controls/index.tsx';
import { useRunOf } from '../../state/run.ts';
import type { Aside } from '../../state/store.ts';
import { tellEvent } from '../tellEvent.ts';

/** What was refused and kept aside: it can be looked at, tried once more, or let go. */
export function OutboxNote() {
  const { aside, connection, remembered, context } = useRunOf('aside', 'connection', 'remembered', 'context');
  const { pathname } = useLocation();
  return (
    <>
      {connection === 'signed-out' && (
        <p className="rounded-lg border-l-8 border-crimson bg-panel p-4 text-lg" role="alert">
          Not signed in any more. What you do is kept here.{' '}
          <Link className="font-semibold underline" to={`/sign-in?to=${encodeURIComponent(pathname)}`}>
            Sign in
          </Link>
        </p>
      )}
      {remembered && (
        <p className="rounded-lg border-l-8 border-ember bg-panel p-4 text-lg" role="status">
          The server is away. This is the job as it was last seen here; what you do is kept and sent later.
        </p>
      )}
      {aside.length > 0 && context && (
        <section
          aria-label="Refused"
          data-testid="aside"
          className="rounded-xl border-l-[14px] border-ember bg-panel p-5"
        >
          <h2 className="text-xl font-bold">
            {aside.length === 1 ? 'One thing was' : `${aside.length} things were`} refused and kept aside
          </h2>
          <ol className="mt-2 grid gap-2">
            {aside.map((entry) => (
              <AsideLine
                key={entry.key ?? entry.event.id}
                entry={entry}
                told={tellEvent(context, entry.event as RunEvent)}
              />
            ))}
          </ol>
        </section>
      )}
    </>
  );
}

function AsideLine({ entry, told }: { entry: Aside; told: string }) {
  const { retryAside, forgetAside } = useRunOf('retryAside', 'forgetAside');
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1">
      <span className="min-w-0 flex-1">
        <b>{told}</b> <span className="text-quiet">{entry.restsOn ? 'rests on what was refused' : entry.why}</span>
      </span>
      <Button onClick={() => retryAside(entry)}>Try again now</Button>
      <Button weight="quiet" onClick={() => forgetAside(entry)}>
        Let it go
      </Button>
    </li>
  );
}
