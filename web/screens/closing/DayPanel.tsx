import { Scissors } from 'lucide-react';
import { useState } from 'react';
import { KERF, type DayCut } from '../../../core/closing/index.ts';
import { Button, Loading, ProblemNote } from '../../controls/index.tsx';
import { useLoad } from '../../state/useLoad.ts';
import { Panel } from '../counter/Panel.tsx';

/** What is cut for every job that is ready or open, from as few sheets as can be. */
export function DayPanel() {
  const [open, setOpen] = useState(false);
  return (
    <Panel id="day" title="Cut for the whole day">
      {open ? (
        <Day />
      ) : (
        <p>
          <Button onClick={() => setOpen(true)}>
            <Scissors size={18} aria-hidden="true" />
            Strips of every open job together
          </Button>
        </p>
      )}
    </Panel>
  );
}

function Day() {
  const { data, problem } = useLoad<DayCut>('/closing/day');
  if (problem) return <ProblemNote>{problem}</ProblemNote>;
  if (!data) return <Loading what="the day" />;
  const piece = (p: { job: number; strip: number; length: number }) => `${p.job}/${p.strip}`;
  return (
    <div className="grid gap-3">
      {data.sheets.map((sheet, n) => {
        const [long, short] = [Math.max(...sheet.size), Math.min(...sheet.size)];
        let top = 0;
        return (
          <figure key={n}>
            <svg viewBox={`-1 -1 ${long + 2} ${short + 2}`} className="w-full" role="img" aria-label={`Sheet ${n + 1}`}>
              <rect width={long} height={short} fill="var(--panel)" stroke="var(--ink)" strokeWidth={0.6} />
              {sheet.lanes.map((lane, i) => {
                const y = top;
                top += lane.width + KERF;
                let x = 0;
                return (
                  <g key={i}>
                    {lane.pieces.map((p) => {
                      const at = x;
                      x += p.length + KERF;
                      return (
                        <rect key={piece(p)} x={at} y={y} width={p.length} height={lane.width} fill="var(--mauve)" />
                      );
                    })}
                  </g>
                );
              })}
            </svg>
            <figcaption className="text-sm text-quiet">
              Sheet {n + 1}, {long} × {short} mm:{' '}
              {sheet.lanes.map((l) => `${l.width} mm: ${l.pieces.map(piece).join(' ')}`).join('; ')}
            </figcaption>
          </figure>
        );
      })}
      {data.rolls.map((r) => (
        <p key={r.width}>
          <b className="num">{Math.round(r.length)} mm</b> off the roll of {r.width} mm, {r.pieces.length} pieces
        </p>
      ))}
      {data.sheets.length + data.rolls.length === 0 && <p>No open job needs strips.</p>}
      <p className="text-sm text-quiet">
        Job and strip stand as 12/3. Left over: <span className="num">{Math.round(data.waste)}</span> mm of lanes, of
        which <span className="num">{Math.round(data.kept)}</span> mm are long enough to keep
        {data.proved ? '; no cutting needs fewer lanes' : ''}.
        {data.tooLong.length > 0 && ` Longer than a sheet: ${data.tooLong.map(piece).join(', ')}.`}
      </p>
    </div>
  );
}
