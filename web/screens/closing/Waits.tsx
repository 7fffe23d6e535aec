import { useState } from 'react';
import { isOver, timerLeft, type EventBody, type RunState, type WaitKind } from '../../../core/run/index.ts';
import { clock } from '../../../core/units/index.ts';
import { Button } from '../../controls/index.tsx';
import { newId } from '../../state/ids.ts';
import { serverNow } from '../../state/clock.ts';
import { useNow } from '../../state/useNow.ts';
import { Panel } from '../counter/Panel.tsx';
import { spoken } from '../../../words/index.ts';

/** A wait that can be begun with one key. */
export interface Offered {
  kind: WaitKind;
  what: string;
  item: string | null;
  seconds: number;
}

export const beginWait = ({ kind, what, item, seconds }: Offered): EventBody => ({
  type: 'wait-started',
  wait: newId(),
  kind,
  what,
  item,
  seconds: Math.max(1, Math.round(seconds)),
});

/** A span as a clock, or from two hours on in hours. */
const span = (seconds: number): string => (seconds >= 7200 ? `${Math.round(seconds / 3600)} h` : clock(seconds));

/** What dries, skins, is pressed, cures and sets on this job; it runs on every screen and through everything. */
export function Waits({
  state,
  offered,
  record,
}: {
  state: RunState;
  offered: Offered[];
  record: (bodies: EventBody[]) => boolean;
}) {
  const own = [...state.timers.values()].filter((t) => t.own);
  const now = useNow(own.some((t) => timerLeft(t, serverNow()) > 0));
  const [ending, setEnding] = useState<string | null>(null);
  const [reason, setReason] = useState('');
  return (
    <Panel id="waits" title="Timers">
      <ul className="grid gap-2">
        {own.map((t) => {
          const left = timerLeft(t, now);
          return (
            <li
              key={t.id}
              className="grid grid-cols-[minmax(0,1fr)_auto_auto] items-center gap-3 rounded-lg bg-sunk px-4 py-2"
            >
              <span>
                <b>{t.own!.what}</b> <span className="text-quiet">{spoken.waits[t.own!.kind]}</span>
              </span>
              {left > 0 ? (
                <>
                  <b className="num text-2xl text-ember">{clock(left)}</b>
                  <Button onClick={() => setEnding(ending === t.id ? null : t.id)}>End it</Button>
                </>
              ) : (
                <b className="text-moss">{t.endedAt ? `ended: ${t.reason}` : '✓ has run'}</b>
              )}
              {ending === t.id && left > 0 && (
                <form
                  className="col-span-3 flex flex-wrap gap-2"
                  onSubmit={(e) => {
                    e.preventDefault();
                    if (record([{ type: 'timer-ended', timer: t.id, how: 'judged', reason: reason.trim() }])) {
                      setEnding(null);
                      setReason('');
                    }
                  }}
                >
                  <input
                    // biome-ignore lint/a11y/noAutofocus: the field was just asked for
                    autoFocus
                    className="field min-w-0 flex-1"
                    aria-label="Why it ends now"
                    placeholder="Why does it end now?"
                    value={reason}
                    maxLength={200}
                    onChange={(e) => setReason(e.target.value)}
                  />
                  <Button type="submit" weight="main" disabled={reason.trim() === ''}>
                    End it
                  </Button>
                </form>
              )}
            </li>
          );
        })}
      </ul>
      {own.length === 0 && (
        <p className="text-quiet">None runs. They go on on every screen, and with the server off.</p>
      )}
      {!isOver(state) && (
        <div className="flex flex-wrap gap-2">
          {offered.map((o) => (
            <Button key={o.what} onClick={() => record([beginWait(o)])}>
              {o.what} <span className="num">{span(o.seconds)}</span>
            </Button>
          ))}
        </div>
      )}
    </Panel>
  );
}
