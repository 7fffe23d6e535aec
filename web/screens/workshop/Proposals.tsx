import { Check as Tick, ScanSearch, X } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { create } from 'zustand';
import { boundsOf, type Anatomy, type Outline, type Point } from '../../../core/anatomy/index.ts';
import type { PlateInfo } from '../../../core/jobs/index.ts';
import { Button, Progress } from '../../controls/index.tsx';
import { outlinePath } from '../../drawing/geometry.ts';
import { messageOf } from '../../state/api.ts';
import { proposeInWorker } from '../../workers/vision.ts';
import * as acts from './acts.ts';
import { useBoard } from './board.ts';

/** Something that was found in the photograph, until somebody takes or rejects it. */
export interface Proposal {
  key: string;
  kind: 'screw' | 'hole' | 'outline';
  at: Point;
  diameter: number;
  outline: Outline | null;
  score: number;
}

interface Found {
  plate: string | null;
  list: readonly Proposal[];
  /** The one that the keys are about. */
  focus: string | null;
  busy: boolean;
  problem: string | null;
}

export const useProposals = create<Found>()(() => ({ plate: null, list: [], focus: null, busy: false, problem: null }));

/** An outline this near to one that is drawn is that one, mm. Origin: own choice, a little more than a proposal may be off. */
const DRAWN_MM = 0.8;

/** Heads that differ by less are of one kind, mm. Origin: own choice; screws differ by 0.2 and more. */
const ALIKE_MM = 0.18;

export const alike = (a: Proposal, b: Proposal): boolean =>
  a.kind === b.kind && (a.kind === 'outline' ? a.key === b.key : Math.abs(a.diameter - b.diameter) <= ALIKE_MM);

/** The edits that take proposals: screws at their places with their heads, outlines as parts. */
export function taking(anatomy: Anatomy, taken: readonly Proposal[]): acts.Made | null {
  const { stamp, face, layer } = useBoard.getState();
  const screws = taken.filter((p) => p.kind === 'screw');
  if (screws.length > 0) {
    const places = screws.map((p) => ({ at: p.at, head: p.diameter }));
    return acts.addScrews(anatomy, places, stamp, face, layer);
  }
  const part = taken.find((p) => p.outline);
  return part ? acts.addPart(anatomy, part.outline!, face, layer) : null;
}

function drop(keys: readonly string[]): void {
  useProposals.setState(({ list, focus }) => {
    const at = list.findIndex((p) => p.key === focus);
    const left = list.filter((p) => !keys.includes(p.key));
    return { list: left, focus: left[Math.min(Math.max(0, at), left.length - 1)]?.key ?? null };
  });
}

/** What the keys of the board do while there are proposals. @returns true when one was meant */
export function proposalKey(
  key: string,
  shift: boolean,
  anatomy: Anatomy,
  act: (made: acts.Made | null) => void,
): boolean {
  const { list, focus } = useProposals.getState();
  if (useBoard.getState().panel !== 'proposals' || list.length === 0) return false;
  const at = Math.max(
    0,
    list.findIndex((p) => p.key === focus),
  );
  const one = list[at]!;
  if (key === 'ArrowDown' || key === 'ArrowRight') useProposals.setState({ focus: list[(at + 1) % list.length]!.key });
  else if (key === 'ArrowUp' || key === 'ArrowLeft')
    useProposals.setState({ focus: list[(at + list.length - 1) % list.length]!.key });
  else if (key === 'Enter' && one.kind === 'hole') return true;
  else if (key === 'Enter') {
    const taken = shift ? list.filter((p) => alike(p, one)) : [one];
    act(taking(anatomy, taken));
    drop(taken.map((p) => p.key));
  } else if (key === 'x' || key === 'X') drop(shift ? list.filter((p) => alike(p, one)).map((p) => p.key) : [one.key]);
  else return false;
  return true;
}

/** Proposals on the device: thin dashed outlines until they are taken. */
export function ProposalMarks({ unit }: { unit: number }) {
  const { list, focus } = useProposals();
  const panel = useBoard((b) => b.panel);
  if (panel !== 'proposals') return null;
  return (
    <g pointerEvents="none" fill="none">
      {list.map((p) => {
        const on = p.key === focus;
        const paint = {
          stroke: p.kind === 'outline' ? '#ffe9a8' : p.kind === 'hole' ? '#d5a9e4' : '#8ff3e6',
          strokeWidth: (on ? 0.9 : 0.4) * unit,
          strokeDasharray: on ? undefined : `${1.1 * unit} ${0.8 * unit}`,
        };
        return (
          <g key={p.key} data-proposal={p.kind}>
            {p.outline ? (
              <path d={outlinePath(p.outline)} {...paint} />
            ) : (
              <circle cx={p.at[0]} cy={p.at[1]} r={p.diameter / 2 + 0.3} {...paint} />
            )}
          </g>
        );
      })}
    </g>
  );
}

/** What was found, one after another: one press takes one, one key takes all alike, one rejects. */
export function Proposals({
  anatomy,
  plate,
  act,
}: {
  anatomy: Anatomy;
  plate: PlateInfo | null;
  act: (made: acts.Made | null) => void;
}) {
  const { list, focus, busy, problem, plate: of } = useProposals();
  const stop = useRef<(() => void) | null>(null);
  useEffect(() => () => stop.current?.(), []);
  const look = () => {
    if (!plate) return;
    useProposals.setState({ busy: true, problem: null, list: [], plate: plate.id });
    const job = proposeInWorker(`/api/photos/${plate.plate}`, plate.pxPerMm);
    stop.current = () => {
      job.cancel();
      useProposals.setState({ busy: false });
    };
    job.result.then(
      (found) => {
        const there = (at: Point, r: number) =>
          anatomy.fasteners.some((f) => Math.hypot(f.at[0] - at[0], f.at[1] - at[1]) < r);
        const screws = found.screws.filter((s) => !there(s.at, 0.8));
        const holes = found.holes.filter((s) => !there(s.at, 0.8));
        // What is drawn already is not proposed again.
        const drawn = anatomy.parts.map((p) => boundsOf(p.outline));
        const outlines = found.outlines.filter(({ outline }) => {
          const [x, y, w, h] = boundsOf(outline);
          return !drawn.some(([u, v, s, t]) =>
            [x - u, y - v, x + w - u - s, y + h - v - t].every((d) => Math.abs(d) < DRAWN_MM),
          );
        });
        const list: Proposal[] = [
          ...screws.map((s, i): Proposal => ({ ...s, key: `s${i}`, kind: 'screw', outline: null })),
          ...outlines.map((o, i): Proposal => {
            const [x, y, w, h] = boundsOf(o.outline);
            return {
              key: `o${i}`,
              kind: 'outline',
              outline: o.outline,
              at: [x + w / 2, y + h / 2],
              diameter: w,
              score: o.score,
            };
          }),
          ...holes.map((s, i): Proposal => ({ ...s, key: `h${i}`, kind: 'hole', outline: null })),
        ];
        useProposals.setState({ list, focus: list[0]?.key ?? null, busy: false });
      },
      (error) => useProposals.setState({ busy: false, problem: messageOf(error) }),
    );
  };
  if (!plate)
    return (
      <p className="text-quiet">
        Proposals are found in a photograph. Lay one under the drawing of this face and depth first.
      </p>
    );
  const one = list.find((p) => p.key === focus) ?? null;
  const many = one ? list.filter((p) => alike(p, one)).length : 0;
  const take = (taken: readonly Proposal[]) => {
    act(taking(anatomy, taken));
    drop(taken.map((p) => p.key));
  };
  return (
    <div className="grid content-start gap-3">
      <Button weight={list.length === 0 ? 'main' : 'plain'} onClick={look} disabled={busy}>
        <ScanSearch aria-hidden="true" />
        {of === plate.id && list.length > 0 ? 'Look again' : 'Look for screws and parts'}
      </Button>
      {busy && <Progress share={0.5} label="Looking at the photograph" stop={() => stop.current?.()} />}
      {problem && <p className="text-crimson">{problem}</p>}
      {one && (
        <>
          <div className="grid grid-cols-2 gap-2">
            <Button weight="main" onClick={() => take([one])} disabled={one.kind === 'hole'}>
              <Tick aria-hidden="true" />
              Take
            </Button>
            <Button onClick={() => drop([one.key])}>
              <X aria-hidden="true" />
              Reject
            </Button>
            <Button
              className="col-span-2"
              onClick={() => take(list.filter((p) => alike(p, one)))}
              disabled={one.kind !== 'screw' || many < 2}
            >
              {one.kind === 'screw'
                ? `Take all ${many} alike, head ${one.diameter.toFixed(1)} mm`
                : 'Outlines are taken one by one'}
            </Button>
          </div>
          <p className="text-sm text-quiet">Enter takes, Shift and Enter all alike, X rejects, arrows go on.</p>
        </>
      )}
      <ul aria-label="Proposals" className="grid max-h-96 gap-1 overflow-auto">
        {list.map((p) => (
          <li key={p.key}>
            <button
              type="button"
              aria-pressed={p.key === focus}
              className={`flex min-h-12 w-full items-center justify-between gap-2 rounded-lg px-3 text-left ${p.key === focus ? 'bg-petrol text-on-petrol' : 'hover:bg-sunk'}`}
              onClick={() => useProposals.setState({ focus: p.key })}
            >
              <span>{{ screw: 'Screw head', hole: 'Empty hole', outline: 'Outline' }[p.kind]}</span>
              <span className="num text-sm">
                {p.outline
                  ? `${boundsOf(p.outline)[2].toFixed(1)} × ${boundsOf(p.outline)[3].toFixed(1)}`
                  : `⌀ ${p.diameter.toFixed(2)}`}{' '}
                mm, {Math.round(p.score * 100)} %
              </span>
            </button>
          </li>
        ))}
      </ul>
      {!busy && list.length === 0 && of === plate.id && <p className="text-quiet">Nothing is left to take.</p>}
    </div>
  );
}
