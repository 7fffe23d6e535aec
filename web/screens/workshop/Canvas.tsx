import { useGesture } from '@use-gesture/react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { boundsOf, type Anatomy, type Outline, type Point, type Rect } from '../../../core/anatomy/index.ts';
import type { PlateInfo } from '../../../core/jobs/index.ts';
import * as acts from './acts.ts';
import { useBoard } from './board.ts';
import { gripped } from './grips.ts';
import { ProposalMarks } from './Proposals.tsx';
import { HingeLine } from '../../drawing/shapes.tsx';
import { DraftItems, gripsOf, Rules } from './shapes.tsx';
import { fine, targetsOf, toGrid } from './snapping.ts';

/** Room around the body, mm. */
const ROOM = 9;
/** A finger's reach, px of the screen. */
const FINGER_PX = 14;

interface View {
  x: number;
  y: number;
  width: number;
  height: number;
}

const rectOf = (a: Point, b: Point): Rect => [
  Math.min(a[0], b[0]),
  Math.min(a[1], b[1]),
  Math.abs(a[0] - b[0]),
  Math.abs(a[1] - b[1]),
];

/** What a hand has begun on the board. */
type Grasp =
  | { kind: 'move'; ids: string[]; from: Point; bounds: Rect | null }
  | { kind: 'grip'; id: string; grip: string; outline: Outline }
  | { kind: 'draw'; from: Point }
  | { kind: 'pan'; view: View }
  | { kind: 'press'; at: Point };

/** The device on its photograph, at a known scale, and the hand on it. What moves under the pointer is moved in place. */
export function Canvas({
  anatomy,
  plate,
  faulty,
  act,
}: {
  anatomy: Anatomy;
  plate: PlateInfo | null;
  faulty: ReadonlySet<string>;
  /** Does what a hand did. */
  act: (made: acts.Made | null) => void;
}) {
  const { tool, face, layer, solo, selected, points, cross, snap } = useBoard();
  const board = useBoard();
  const { width, height } = anatomy.body;
  const whole: View = { x: -ROOM, y: -ROOM, width: width + 2 * ROOM, height: height + 2 * ROOM };
  const [view, setView] = useState<View>(whole);
  const svg = useRef<SVGSVGElement>(null);
  const device = useRef<SVGGElement>(null);
  const lifted = useRef<SVGGElement>(null);
  const drawn = useRef<SVGPathElement>(null);
  const guides = useRef<SVGPathElement>(null);
  const grasp = useRef<Grasp | null>(null);
  const pressed = useRef<Element | null>(null);
  const mirrored = face === 'back';
  const unit = Math.max(view.width, view.height) / 150;
  const targets = useMemo(() => targetsOf(anatomy, face, layer), [anatomy, face, layer]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another body is looked at whole
  useEffect(() => setView(whole), [width, height]);

  /** mm of the device under a point of the screen. */
  const placeAt = (x: number, y: number): Point => {
    const matrix = device.current!.getScreenCTM()!.inverse();
    return [matrix.a * x + matrix.c * y + matrix.e, matrix.b * x + matrix.d * y + matrix.f];
  };
  const reach = (): number => FINGER_PX / Math.abs(device.current!.getScreenCTM()!.a);
  const zoom = (factor: number, at: Point) =>
    setView((v) => {
      const next = Math.min(1.5 * whole.width, Math.max(12, v.width * factor));
      const k = next / v.width;
      const sx = mirrored ? width - at[0] : at[0];
      return { x: sx - (sx - v.x) * k, y: at[1] - (at[1] - v.y) * k, width: next, height: v.height * k };
    });
  const show = (d: string) => drawn.current?.setAttribute('d', d);
  const guide = (lines: { x?: number; y?: number }[]) =>
    guides.current?.setAttribute(
      'd',
      lines.map((l) => (l.x !== undefined ? `M${l.x} -5V${height + 5}` : `M-5 ${l.y}H${width + 5}`)).join(''),
    );
  /** A point on the grid, or on an edge nearby. */
  const caught = (p: Point, except: readonly string[] = []): Point => {
    if (!snap) return [fine(p[0]), fine(p[1])];
    const { dx, dy, lines } = targets.snapped([p[0], p[1], 0, 0], new Set(except));
    guide(lines);
    return [fine(p[0] + dx), fine(p[1] + dy)];
  };

  const press = (at: Point, more: boolean) => {
    const partChosen = anatomy.parts.find((p) => p.id === selected[0]);
    switch (tool) {
      case 'select': {
        const hits = targets.at(at, reach());
        const standing = hits.indexOf(selected.at(-1) ?? '');
        // Pressed again, what lies beneath is meant.
        const hit = hits.length > 0 ? hits[(standing + 1) % hits.length]! : null;
        if (more && hit)
          board.select(selected.includes(hit) ? selected.filter((id) => id !== hit) : [...selected, hit]);
        else board.select(hit ? [hit] : []);
        return;
      }
      case 'screw':
        act(acts.addScrews(anatomy, [{ at: caught(at) }], board.stamp, face, layer));
        return;
      case 'tab':
        act(acts.addTab(anatomy, selected[0] ?? '', at));
        return;
      case 'catch':
        if (partChosen) act(acts.addLatch(anatomy, partChosen, at));
        return;
      case 'mate': {
        const plug = targets.at(at, reach()).find((id) => anatomy.connectors.some((c) => c.id === id));
        if (plug && !selected.includes(plug)) board.set({ selected: [...selected, plug] });
        return;
      }
      case 'polygon':
      case 'strip':
        board.set({ points: [...points, caught(at)] });
        return;
      default:
        // What is drawn by dragging can be pressed corner by corner as well.
        if (points.length === 0) board.set({ points: [caught(at)] });
        else {
          finishDrag(points[0]!, caught(at));
          board.set({ points: [] });
        }
    }
  };

  const finishDrag = (from: Point, to: Point) => {
    const rect = rectOf(from, to).map(fine) as Rect;
    const partChosen = anatomy.parts.find((p) => p.id === selected[0]);
    if (tool === 'plug') act(acts.addPlug(anatomy, from, to, face, layer, selected[0] ?? null));
    else if (tool === 'circle') {
      const r = fine(Math.hypot(to[0] - from[0], to[1] - from[1]));
      if (r > 0.2) act(acts.addPart(anatomy, { circle: [from[0], from[1], r] }, face, layer));
    } else if (rect[2] > 0.2 && rect[3] > 0.2) {
      if (tool === 'part') act(acts.addPart(anatomy, { rect }, face, layer));
      if (tool === 'area' && partChosen) act(acts.addBond(anatomy, partChosen, { area: { rect } }));
    }
  };

  useGesture(
    {
      // It begins where the finger came down, not where it was noticed.
      onDragStart: ({ event, initial: [x, y] }) => {
        const at = placeAt(x, y);
        const grip = pressed.current?.closest('[data-grip]')?.getAttribute('data-grip');
        const part = anatomy.parts.find((p) => p.id === selected[0]);
        if (grip && part) grasp.current = { kind: 'grip', id: part.id, grip, outline: part.outline };
        else if ((event as PointerEvent).button === 1) grasp.current = { kind: 'pan', view };
        else if (tool === 'select') {
          const hits = targets.at(at, reach());
          const mine = hits.filter((id) => selected.includes(id));
          if (mine.length === 0) {
            // What is drawn off to the side moves the paper.
            grasp.current = hits.length > 0 ? { kind: 'press', at } : { kind: 'pan', view };
          } else {
            const found = acts.whereIs(anatomy, mine[0]!);
            grasp.current = {
              kind: 'move',
              ids: [...selected],
              from: at,
              bounds: found && acts.boundsOfItem(found.entry),
            };
          }
        } else grasp.current = { kind: 'draw', from: caught(at) };
      },
      onDrag: ({ xy: [x, y], movement: [mx, my], tap, cancel, pinching }) => {
        if (pinching) return cancel();
        const held = grasp.current;
        if (!held || tap) return;
        const at = placeAt(x, y);
        if (held.kind === 'pan') {
          const k = held.view.width / svg.current!.clientWidth;
          setView({ ...held.view, x: held.view.x - mx * k, y: held.view.y - my * k });
        } else if (held.kind === 'move') {
          const { dx, dy } = shiftOf(held, at);
          lifted.current?.setAttribute('transform', `translate(${dx} ${dy})`);
        } else if (held.kind === 'grip') {
          const outline = gripped(held.outline, held.grip, caught(at, [held.id]));
          show(pathOf(outline));
        } else if (held.kind === 'draw') {
          const to = caught(at);
          const [u, v, w, h] = rectOf(held.from, to);
          if (tool === 'plug') show(`M${held.from.join(' ')}L${to.join(' ')}`);
          else if (tool === 'circle')
            show(pathOf({ circle: [...held.from, Math.hypot(to[0] - held.from[0], to[1] - held.from[1]) || 0.01] }));
          else show(`M${u} ${v}h${w}v${h}h${-w}Z`);
        }
      },
      onDragEnd: ({ xy: [x, y], tap, event }) => {
        const held = grasp.current;
        grasp.current = null;
        show('');
        guide([]);
        lifted.current?.removeAttribute('transform');
        const at = placeAt(x, y);
        if (tap || held?.kind === 'press') return press(at, (event as PointerEvent).shiftKey);
        if (!held) return;
        if (held.kind === 'move') {
          const { dx, dy } = shiftOf(held, at);
          if (dx !== 0 || dy !== 0) act(acts.move(anatomy, held.ids, dx, dy));
          guide([]);
        } else if (held.kind === 'grip')
          act(acts.reshape(anatomy, held.id, gripped(held.outline, held.grip, caught(at, [held.id]))));
        else if (held.kind === 'draw') finishDrag(held.from, caught(at));
        guide([]);
      },
      onWheel: ({ event, delta: [, dy] }) => {
        event.preventDefault();
        zoom(Math.exp(dy * 0.0015), placeAt(event.clientX, event.clientY));
      },
      onPinch: ({ origin: [x, y], delta: [d] }) => zoom(Math.exp(-d), placeAt(x, y)),
    },
    {
      target: svg,
      eventOptions: { passive: false },
      drag: { filterTaps: true, threshold: 3, pointer: { buttons: [1, 4] } },
    },
  );

  const shiftOf = (held: Grasp & { kind: 'move' }, at: Point): { dx: number; dy: number } => {
    const [dx, dy] = [at[0] - held.from[0], at[1] - held.from[1]];
    if (!snap || !held.bounds) return { dx: toGrid(dx), dy: toGrid(dy) };
    const [x, y, w, h] = held.bounds;
    const found = targets.snapped([x + dx, y + dy, w, h], new Set(held.ids));
    guide(found.lines);
    return { dx: fine(dx + found.dx), dy: fine(dy + found.dy) };
  };

  const one = selected.length === 1 ? anatomy.parts.find((p) => p.id === selected[0] && !p.fixed) : undefined;
  const chosen = useMemo(() => (selected.length > 0 ? restricted(anatomy, selected) : null), [anatomy, selected]);
  return (
    <svg
      ref={svg}
      viewBox={`${view.x} ${view.y} ${view.width} ${view.height}`}
      className="h-full w-full touch-none select-none"
      style={{ cursor: tool === 'select' ? 'default' : 'crosshair' }}
      role="img"
      aria-label={`${anatomy.name} from the ${face}${layer > 0 ? `, ${layer} layers off` : ''}`}
      onPointerDownCapture={(e) => {
        pressed.current = e.target as Element;
      }}
      data-testid="canvas"
      data-face={face}
    >
      <g ref={device} transform={mirrored ? `translate(${width} 0) scale(-1 1)` : undefined}>
        <rect width={width} height={height} rx={anatomy.body.cornerRadius} fill="var(--sunk)" />
        {plate && board.plate.shown && (
          <image
            href={`/api/photos/${plate.plate}`}
            width={width}
            height={height}
            preserveAspectRatio="none"
            opacity={board.plate.strength}
          />
        )}
        <rect
          width={width}
          height={height}
          rx={anatomy.body.cornerRadius}
          fill="none"
          stroke="var(--ink)"
          strokeWidth={0.6 * unit}
        />
        <DraftItems
          anatomy={anatomy}
          face={face}
          layer={layer}
          solo={solo}
          selected={selected}
          faulty={faulty}
          over={plate !== null && board.plate.shown}
          unit={unit}
        />
        <g ref={lifted} pointerEvents="none" opacity={0.85}>
          {chosen && (
            <DraftItems
              anatomy={chosen}
              face={face}
              layer={0}
              solo={false}
              selected={selected}
              faulty={NONE}
              over
              unit={unit}
            />
          )}
        </g>
        <HingeLine hinge={anatomy.hinge} unit={unit} />
        <ProposalMarks unit={unit} />
        <path
          ref={guides}
          stroke="var(--ember)"
          strokeWidth={0.25 * unit}
          strokeDasharray={`${unit} ${unit}`}
          fill="none"
        />
        <path
          ref={drawn}
          stroke="var(--ink)"
          strokeWidth={0.5 * unit}
          strokeDasharray={`${unit} ${0.6 * unit}`}
          fill="none"
        />
        {points.length > 0 && (
          <g pointerEvents="none">
            <polyline
              points={points.map((p) => p.join(',')).join(' ')}
              fill="none"
              stroke="var(--ink)"
              strokeWidth={0.5 * unit}
            />
            {points.map(([x, y], i) => (
              <circle
                key={i}
                cx={x}
                cy={y}
                r={0.8 * unit}
                fill="var(--panel)"
                stroke="var(--ink)"
                strokeWidth={0.3 * unit}
              />
            ))}
          </g>
        )}
        {one &&
          tool === 'select' &&
          gripsOf(one.outline).map((g) => (
            <g key={g.id} data-grip={g.id} style={{ cursor: 'grab' }}>
              <circle cx={g.x} cy={g.y} r={2.6 * unit} fill="transparent" />
              <rect
                x={g.x - 0.9 * unit}
                y={g.y - 0.9 * unit}
                width={1.8 * unit}
                height={1.8 * unit}
                fill="var(--panel)"
                stroke="var(--ink)"
                strokeWidth={0.35 * unit}
              />
            </g>
          ))}
        {cross && (
          <path
            d={`M${cross[0] - 3 * unit} ${cross[1]}h${6 * unit}M${cross[0]} ${cross[1] - 3 * unit}v${6 * unit}`}
            stroke="var(--crimson)"
            strokeWidth={0.4 * unit}
            pointerEvents="none"
            data-testid="cross"
          />
        )}
      </g>
      <Rules width={width} height={height} mirrored={mirrored} unit={Math.max(width, height) / 150} />
    </svg>
  );
}

const NONE: ReadonlySet<string> = new Set();

/** Only the chosen items, to be moved above the rest. */
function restricted(anatomy: Anatomy, ids: readonly string[]): Anatomy {
  const among = <T extends { id: string }>(list: T[]) => list.filter((e) => ids.includes(e.id));
  return {
    ...anatomy,
    parts: anatomy.parts.filter((p) => ids.includes(p.id)),
    fasteners: among(anatomy.fasteners),
    connectors: among(anatomy.connectors),
    bonds: among(anatomy.bonds).filter((b) => !('perimeterOf' in b.at)),
    latches: [],
  };
}

function pathOf(outline: Outline): string {
  if ('circle' in outline) {
    const [x, y, r] = outline.circle;
    return `M${x - r} ${y}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0Z`;
  }
  if ('polygon' in outline) return `M${outline.polygon.map((p) => p.join(' ')).join('L')}Z`;
  const [x, y, w, h] = boundsOf(outline);
  return `M${x} ${y}h${w}v${h}h${-w}Z`;
}
