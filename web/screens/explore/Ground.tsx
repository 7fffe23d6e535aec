import { useGesture } from '@use-gesture/react';
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import type { Point } from '../../../core/anatomy/index.ts';
import type { Mark, OpenDevice, Thing } from '../../../core/explore/index.ts';
import type { PlateInfo } from '../../../core/jobs/index.ts';
import type { Change } from '../../../core/survey/index.ts';
import { ScrewGlyph } from '../../drawing/marks.tsx';
import { calledThing, cornersOf, WAY_SPECS, type Way } from './ways.ts';

const ROOM = 5;
/** Steps of the crosshair by the arrow keys, mm: a head's width, and with Shift as fine as a hand. */
const STEP = { coarse: 2, fine: 0.25 } as const;

/**
 * The photograph of what lies bare, to scale, with what was done on it as outlines and what hangs on it glowing. A tap
 * or a drawn ground says where; by keyboard the crosshair goes with the arrows and Enter taps.
 */
export function Ground({
  body,
  open,
  plate,
  marks,
  on,
  way,
  proposed,
  place,
}: {
  body: { width: number; height: number; cornerRadius: number };
  open: OpenDevice;
  plate: PlateInfo | null;
  marks: readonly Mark[];
  on: string | null;
  way: Way;
  proposed: readonly Change[];
  place: (places: readonly Point[]) => void;
}) {
  const svg = useRef<SVGSVGElement>(null);
  const [first, setFirst] = useState<Point | null>(null);
  const [here, setHere] = useState<Point>([body.width / 2, body.height / 2]);
  const [shown, setShown] = useState(false);
  const [zoom, setZoom] = useState<Zoom>(WHOLE);
  useGesture(
    {
      onWheel: ({ event, delta: [, dy] }) => {
        event.preventDefault();
        setZoom((z) => zoomed(z, Math.exp(-dy / 400), pointIn(svg.current!, event.clientX, event.clientY), body));
      },
      onPinch: ({ origin: [x, y], movement: [by], first: begins, memo }) => {
        const start = (begins ? zoom : memo) as Zoom;
        setFirst(null);
        setZoom(zoomed(start, by, pointIn(svg.current!, x, y), body));
        return start;
      },
    },
    { target: svg, eventOptions: { passive: false } },
  );
  const mirrored = open.up === 'back';
  const ground = WAY_SPECS[way].takes === 'ground';

  const at = (e: PointerEvent): Point => {
    const [px, py] = pointIn(svg.current!, e.clientX, e.clientY);
    return [round(mirrored ? body.width - px : px), round(py)];
  };
  const down = (e: PointerEvent<SVGSVGElement>) => {
    if (e.button !== 0) return;
    const p = at(e);
    setHere(p);
    setShown(false);
    // A second finger means that it is no tap.
    if (!e.isPrimary) {
      setFirst(null);
      return;
    }
    e.currentTarget.setPointerCapture(e.pointerId);
    setFirst(p);
  };
  const move = (e: PointerEvent) => first && setHere(at(e));
  const up = (e: PointerEvent) => {
    if (!first || shown) return;
    const p = at(e);
    // A tap takes the outline that is proposed there; a drag draws one.
    const tapped = Math.hypot(p[0] - first[0], p[1] - first[1]) < 2;
    if (!ground) {
      if (tapped) place([p]);
      setFirst(null);
      return;
    }
    const offered = tapped ? proposed.find((c) => inside(c.outline, p)) : undefined;
    if (offered) place(offered.outline);
    else if (!tapped) place([first, p]);
    setFirst(null);
  };
  const key = (e: KeyboardEvent) => {
    const by = e.shiftKey ? STEP.fine : STEP.coarse;
    const turn = mirrored ? -1 : 1;
    const moves: Record<string, Point> = {
      ArrowLeft: [-by * turn, 0],
      ArrowRight: [by * turn, 0],
      ArrowUp: [0, -by],
      ArrowDown: [0, by],
    };
    const step = moves[e.key];
    if (step) {
      e.preventDefault();
      setShown(true);
      setHere(([x, y]) => [
        Math.min(body.width, Math.max(0, round(x + step[0]))),
        Math.min(body.height, Math.max(0, round(y + step[1]))),
      ]);
    }
    if (e.key === 'Enter') {
      e.preventDefault();
      setShown(true);
      if (!ground) place([here]);
      else if (first) {
        place([first, here]);
        setFirst(null);
      } else setFirst(here);
    }
    if (e.key === 'Escape') setFirst(null);
  };

  const things = [...open.things.values()].filter((t) => (t.seen.on ?? null) === on && sameSide(t, open, on));
  return (
    <svg
      ref={svg}
      viewBox={`${zoom.x - ROOM} ${zoom.y - ROOM} ${(body.width + 2 * ROOM) / zoom.by} ${(body.height + 2 * ROOM) / zoom.by}`}
      className="h-full w-full touch-none select-none outline-offset-[-4px]"
      role="application"
      aria-label={`The ${on ?? open.up} as it lies. ${WAY_SPECS[way].hint} Arrows move the crosshair, Enter taps.`}
      tabIndex={0}
      data-testid="ground"
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      onKeyDown={key}
    >
      <g transform={mirrored ? `translate(${body.width} 0) scale(-1 1)` : undefined}>
        <Bed body={body} plate={on === null ? plate : null} />
        {proposed.map((c, i) => (
          <path
            key={i}
            d={pathOf(c.outline)}
            fill="none"
            stroke="var(--sand)"
            strokeWidth={0.5}
            strokeDasharray="1.6 1"
          />
        ))}
        {marks.map((m, i) => (
          <g key={i} data-testid="mark" data-type={m.type}>
            {m.type === 'fastener' ? (
              <circle
                cx={m.at[0]}
                cy={m.at[1]}
                r={1.7}
                fill="transparent"
                stroke="var(--brass)"
                strokeWidth={0.5}
                strokeDasharray=".9 .6"
              />
            ) : (
              <rect
                x={m.at[0] - 2.6}
                y={m.at[1] - 1.6}
                width={5.2}
                height={3.2}
                fill="transparent"
                stroke="var(--teal)"
                strokeWidth={0.5}
                strokeDasharray=".9 .6"
              />
            )}
          </g>
        ))}
        {things.map((t) => (
          <Done key={t.id} thing={t} mirrored={mirrored} />
        ))}
        {first && ground && (
          <path
            d={pathOf([first, [here[0], first[1]], here, [first[0], here[1]]])}
            fill="rgb(220 201 160 / .25)"
            stroke="var(--sand)"
            strokeWidth={0.6}
          />
        )}
        {shown && (
          <path
            d={`M${here[0] - 4} ${here[1]}h8M${here[0]} ${here[1] - 4}v8`}
            stroke="var(--crimson)"
            strokeWidth={0.5}
            fill="none"
          />
        )}
      </g>
    </svg>
  );
}

/** What is seen of the ground: from where, and how many times as large as the whole. */
interface Zoom {
  x: number;
  y: number;
  by: number;
}
const WHOLE: Zoom = { x: 0, y: 0, by: 1 };
const CLOSEST = 6;

/** Closer or farther, with the place under the finger kept where it is. */
function zoomed(from: Zoom, times: number, [x, y]: Point, body: { width: number; height: number }): Zoom {
  const by = Math.min(CLOSEST, Math.max(1, from.by * times));
  if (by === 1) return WHOLE;
  const keep = (at: number, low: number) => at - (at - low) * (from.by / by);
  const within = (low: number, size: number) => Math.min(size - size / by, Math.max(0, low));
  return { x: within(keep(x, from.x), body.width), y: within(keep(y, from.y), body.height), by };
}

/** A place of the screen in the coordinates of the drawing. */
function pointIn(svg: SVGSVGElement, x: number, y: number): Point {
  const p = new DOMPoint(x, y).matrixTransform(svg.getScreenCTM()!.inverse());
  return [p.x, p.y];
}

/** The photograph, or a ground ruled in millimetres where there is none yet. */
function Bed({
  body,
  plate,
}: {
  body: { width: number; height: number; cornerRadius: number };
  plate: PlateInfo | null;
}) {
  const { width, height, cornerRadius } = body;
  return (
    <>
      <defs>
        <pattern id="field-mm" width="10" height="10" patternUnits="userSpaceOnUse">
          <path d="M10 0H0V10" fill="none" stroke="var(--line)" strokeWidth=".25" />
        </pattern>
      </defs>
      <rect width={width} height={height} rx={cornerRadius} fill="var(--panel)" stroke="var(--ink)" strokeWidth={0.4} />
      {plate ? (
        <image href={`/api/photos/${plate.plate}`} width={width} height={height} preserveAspectRatio="none" />
      ) : (
        <rect width={width} height={height} rx={cornerRadius} fill="url(#field-mm)" />
      )}
    </>
  );
}

/** What was done fades to an outline; what still hangs glows. */
function Done({ thing, mirrored }: { thing: Thing; mirrored: boolean }) {
  const { seen, stands, type } = thing;
  const hangs = stands === 'swung' || stands === 'eased';
  const title = <title>{calledThing(thing)}</title>;
  if (type === 'fastener' && seen.at)
    return (
      <g opacity={0.85}>
        {title}
        <ScrewGlyph
          x={seen.at[0]}
          y={seen.at[1]}
          r={1.3}
          drive={seen.drive ?? 'PH000'}
          fill="var(--panel)"
          stroke="var(--brass)"
          ghost
          mirrored={mirrored}
        />
      </g>
    );
  if (type === 'connector' && seen.at)
    return (
      <g>
        {title}
        <rect
          x={seen.at[0] - 2.4}
          y={seen.at[1] - 1.3}
          width={4.8}
          height={2.6}
          rx={0.5}
          fill={seen.isolates ? 'var(--teal)' : 'var(--panel)'}
          stroke="var(--teal)"
          strokeWidth={0.5}
        />
        {seen.leads && 'at' in seen.leads && (
          <path
            d={`M${seen.at[0]} ${seen.at[1]}L${seen.leads.at[0]} ${seen.leads.at[1]}`}
            stroke="var(--teal)"
            strokeWidth={0.5}
            strokeDasharray="1.4 .9"
          />
        )}
      </g>
    );
  if (type === 'latch' && seen.at)
    return (
      <g>
        {title}
        <path d={`M${seen.at[0] - 2} ${seen.at[1]}l2 -2l2 2`} fill="none" stroke="var(--quiet)" strokeWidth={0.6} />
      </g>
    );
  const outline = wholeOf(seen.outline ?? []);
  if (outline.length < 3) return null;
  const colour = type === 'bond' ? 'var(--mauve)' : hangs ? 'var(--ember)' : 'var(--petrol)';
  return (
    <g>
      {title}
      {hangs && <path d={pathOf(outline)} fill="none" stroke="var(--ember)" strokeWidth={2.2} opacity={0.35} />}
      <path
        d={pathOf(outline)}
        fill={hangs ? 'rgb(168 63 13 / .12)' : 'none'}
        stroke={colour}
        strokeWidth={0.6}
        strokeDasharray={stands === 'undone' ? '2 1.2' : undefined}
      />
    </g>
  );
}

const sameSide = (t: Thing, open: OpenDevice, on: string | null): boolean =>
  on !== null || t.seen.face === open.up || t.seen.face === 'edge' || t.seen.face === undefined;

/** Of a rectangle three corners are enough. */
function wholeOf(corners: readonly Point[]): readonly Point[] {
  if (corners.length !== 3) return corners;
  const xs = corners.map(([x]) => x);
  const ys = corners.map(([, y]) => y);
  return cornersOf([Math.min(...xs), Math.min(...ys)], [Math.max(...xs), Math.max(...ys)]);
}

const pathOf = (points: readonly Point[]): string => `M${points.map(([x, y]) => `${x} ${y}`).join('L')}Z`;

function inside(outline: readonly Point[], [x, y]: Point): boolean {
  const xs = outline.map(([u]) => u);
  const ys = outline.map(([, v]) => v);
  return x >= Math.min(...xs) && x <= Math.max(...xs) && y >= Math.min(...ys) && y <= Math.max(...ys);
}

const round = (x: number): number => Math.round(x * 100) / 100;
