import { Cloud, CloudOff, Diamond, Zap } from 'lucide-react';
import { minutes } from '../../../core/units/index.ts';
import { skew, WORTH_A_WORD } from '../../state/clock.ts';
import { useRun, type Connection } from '../../state/run.ts';

const HATCHING = {
  backgroundImage: 'repeating-linear-gradient(45deg, transparent 0 14px, rgb(0 0 0 / .18) 14px 20px)',
};

/** LIVE or ISOLATED, told by word, sign and hatching as well as by colour. */
export function PowerSign({ isolated }: { isolated: boolean }) {
  return (
    <div
      role="status"
      data-testid="power"
      className={
        `flex items-center gap-2 px-3 text-lg font-bold tracking-wide sm:gap-3 ` +
        `sm:px-5 sm:text-xl text-on-job ${isolated ? 'bg-moss' : 'bg-crimson'}`
      }
      style={isolated ? undefined : HATCHING}
    >
      {isolated ? <Diamond aria-hidden="true" /> : <Zap aria-hidden="true" fill="currentColor" />}
      {isolated ? 'ISOLATED' : 'LIVE'}
    </div>
  );
}

/** Of several rails one: its name, and whether it carries a voltage. */
export function RailSign({ name, live }: { name: string; live: boolean }) {
  return (
    <span
      data-testid="rail"
      className={`flex items-center gap-1.5 border-l-4 pl-2 text-sm font-semibold ${live ? 'border-crimson text-crimson' : 'border-moss text-moss'}`}
    >
      {live ? (
        <Zap aria-hidden="true" className="size-4" fill="currentColor" />
      ) : (
        <Diamond aria-hidden="true" className="size-4" />
      )}
      {name} {live ? 'live' : 'off'}
    </span>
  );
}

const SENT_WORDS: Record<Connection, string> = {
  saved: 'sent',
  saving: 'sending',
  offline: 'not sent yet',
  'signed-out': 'not sent yet',
};

/** Where what was done here stands: sent, on its way, or kept on this screen until the server answers. */
export function Sent() {
  const connection = useRun((s) => s.connection);
  const refused = useRun((s) => s.aside.length);
  const waiting = useRun((s) => s.pending.length);
  const off = skew();
  const away = connection === 'offline' || connection === 'signed-out';
  return (
    <span
      className={`flex items-center gap-2 text-sm ${away ? 'font-semibold text-crimson' : 'text-quiet'}`}
      role="status"
      data-testid="connection"
      data-waiting={waiting}
    >
      {away ? <CloudOff aria-hidden="true" /> : <Cloud aria-hidden="true" />}
      <span>
        {away && waiting > 0 ? `${waiting} ${SENT_WORDS[connection]}` : away ? 'server away' : SENT_WORDS[connection]}
        {Math.abs(off) > WORTH_A_WORD && (
          <span>
            {' '}
            · this clock is {minutes(Math.abs(off))} {off > 0 ? 'ahead' : 'behind'}; the server's counts
          </span>
        )}
        {refused > 0 && <b className="ml-2 text-crimson">{refused} refused</b>}
      </span>
    </span>
  );
}
