import { format } from 'date-fns';
import type { SteadyClock } from '../clock.ts';
import type { Journal, Unfinished } from './journal.ts';

/** What was begun, in words. */
const BEGUN: Record<string, string> = {
  erasure: 'The erasure of a customer',
  deletion: 'The deletion of a job',
  photographs: 'The removal of photographs that nothing shows',
  publishing: 'The move of jobs to a new revision',
  following: 'What follows from events of a job',
};
/** How long something may go on before it is said, ms. Origin: own choice. */
const QUIETLY_MS = 60_000;

const day = (ms: number): string => format(new Date(ms), 'd MMMM yyyy');

/** What was begun and waits, in words; empty when nothing does. */
export function waitingOf(journal: Journal, now = Date.now()): string[] {
  const waits = ({ error, since }: Unfinished) => error !== null || now - Date.parse(since) > QUIETLY_MS;
  return journal
    .unfinished()
    .filter((one) => one.kind in BEGUN && waits(one))
    .map(({ kind, error }) => `${BEGUN[kind]} is not finished${error ? `: ${error}` : ''}. It goes on by itself.`);
}

/** What is wrong with the clock of the server, in words; empty when nothing is. */
export function clockWarnings({ doubt, setBy }: SteadyClock): string[] {
  const said: string[] = [];
  if (doubt)
    said.push(
      `The server's clock says ${day(doubt.to)}, and the last that was known is of ${day(doubt.from)}. Nothing is erased or ` +
        'thrown away by its age until a lead says on the Shop screen that the clock is right.',
    );
  if (setBy !== 0)
    said.push(
      `The server's clock was set ${setBy > 0 ? 'forward' : 'back'} by ${spanOf(Math.abs(setBy))}. Times go on as before, so ` +
        'that no wait leaps, until a lead says on the Shop screen that the clock is right.',
    );
  return said;
}

function spanOf(seconds: number): string {
  if (seconds < 90) return `${Math.round(seconds)} s`;
  if (seconds < 5400) return `${Math.round(seconds / 60)} min`;
  if (seconds < 48 * 3600) return `${Math.round(seconds / 3600)} h`;
  return `${Math.round(seconds / 86_400)} days`;
}
