import { useGesture } from '@use-gesture/react';
import { FileUp } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { Anatomy, Point } from '../../../core/anatomy/index.ts';
import type { PlateInfo } from '../../../core/jobs/index.ts';
import {
  cardMarks,
  NoSurvey,
  SIDES,
  SURVEY,
  surveyByEdges,
  surveyByPoints,
  worstCorner,
  type Edges,
} from '../../../core/survey/index.ts';
import { Button, buttonClass, FileButton, Loading, ProblemNote } from '../../controls/index.tsx';
import { api, messageOf } from '../../state/api.ts';
import { technicianNow } from '../../state/shop.ts';
import { useLoad } from '../../state/useLoad.ts';
import { useBoard } from './board.ts';
import { limits } from './fields.ts';
import { NumberInput, Select } from './inputs.tsx';
import { useGo } from '../../state/here.ts';

/** How far over the rim a camera stands, and how far below it one looks. Origin: own choice, wider than any bench. */
const CAMERA = { least: 50, most: 3000, unit: 'mm' } as const;
const BELOW_RIM = { least: -30, most: 60, unit: 'mm' } as const;

interface Kept {
  hash: string;
  width: number;
  height: number;
}

type Way = 'edges' | 'card';

/** The width of the magnifier, px of the screen, and how much it magnifies. Origin: own choice. */
const GLASS = { size: 190, times: 5 } as const;

/** A handle of the survey: an end of an edge, or a mark of the card. */
interface Handle {
  key: string;
  name: string;
  at: Point;
}

const middle = (w: number, h: number): [Point, Point][] => [
  [
    [w * 0.25, h * 0.1],
    [w * 0.75, h * 0.1],
  ],
  [
    [w * 0.85, h * 0.25],
    [w * 0.85, h * 0.75],
  ],
  [
    [w * 0.25, h * 0.9],
    [w * 0.75, h * 0.9],
  ],
  [
    [w * 0.15, h * 0.25],
    [w * 0.15, h * 0.75],
  ],
];

/** Lays a photograph under the drawing: four edges along the body, or the marks of the printed sheet. */
export default function Lay() {
  const draft = useParams().draft!;
  const { data } = useLoad<{ document: Anatomy }>(`/workshop/drafts/${draft}`);
  if (!data) return <Loading what="the draft" />;
  return <LayOn anatomy={data.document} draft={draft} />;
}

function LayOn({ anatomy, draft }: { anatomy: Anatomy; draft: string }) {
  const board = useBoard();
  const { body } = anatomy;
  const plates = useLoad<PlateInfo[]>(`/workshop/plates?device=${anatomy.id}`);
  const [kept, setKept] = useState<Kept | null>(null);
  const [face, setFace] = useState<'front' | 'back'>(board.face);
  const [layer, setLayer] = useState(board.layer);
  const [depth, setDepth] = useState(0);
  const [height, setHeight] = useState<number>(SURVEY.heightMm);
  const [way, setWay] = useState<Way>('edges');
  const [edges, setEdges] = useState<[Point, Point][]>([]);
  const [marks, setMarks] = useState<Point[]>([]);
  const [busy, setBusy] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [made, setMade] = useState<PlateInfo | null>(null);
  const [focus, setFocus] = useState<string | null>(null);
  const leave = useGo();

  const bring = async (file: File | undefined) => {
    if (!file) return;
    setProblem(null);
    setMade(null);
    setBusy('Keeping the photograph…');
    try {
      const photo = await api<Kept>('/workshop/photographs', {
        body: file,
        type: file.type || 'application/octet-stream',
      });
      setBusy('Looking for the edges…');
      const { edges: found } = await api<{ edges: [Point, Point][] | null }>(
        `/workshop/photographs/${photo.hash}/edges?width=${body.width}&height=${body.height}`,
      );
      setEdges(found ?? middle(photo.width, photo.height));
      const { width: w, height: h } = photo;
      setMarks([
        [w * 0.1, h * 0.1],
        [w * 0.9, h * 0.1],
        [w * 0.9, h * 0.9],
        [w * 0.1, h * 0.9],
        [w * 0.1, h * 0.5],
        [w * 0.9, h * 0.5],
      ]);
      setKept(photo);
      if (!found) setProblem('No body stands out from its ground: lay the four edges by hand.');
    } catch (error) {
      setProblem(messageOf(error));
    } finally {
      setBusy(null);
    }
  };

  const card = useMemo(() => cardMarks(body), [body]);
  // Seen from the back the sheet lies mirrored, as the body does.
  const placed = card.map((m): Point => (face === 'back' ? [body.width - m.mm[0], m.mm[1]] : m.mm));
  const survey = useMemo(() => {
    if (!kept) return null;
    try {
      const made =
        way === 'edges'
          ? surveyByEdges(edges as unknown as Edges, body, { face })
          : surveyByPoints(
              marks.map((px, i) => ({ px, mm: placed[i]! })),
              body,
            );
      return { worst: worstCorner(made, body), residuals: made.residuals, refused: null };
    } catch (error) {
      if (error instanceof NoSurvey) return { worst: null, residuals: [], refused: error.message };
      throw error;
    }
  }, [kept, way, edges, marks, body, face, placed]);

  const handles: Handle[] =
    way === 'edges'
      ? edges.flatMap(([a, b], i) => [
          { key: `${i}a`, name: `${SIDES[i]} edge, first end`, at: a },
          { key: `${i}b`, name: `${SIDES[i]} edge, other end`, at: b },
        ])
      : marks.map((at, i) => ({ key: `m${i}`, name: `Mark ${card[i]!.name}`, at }));
  const moveTo = (key: string, at: Point) => {
    setMade(null);
    if (key.startsWith('m')) setMarks((m) => m.with(Number(key.slice(1)), at));
    else
      setEdges((e) =>
        e.map((pair, i): [Point, Point] =>
          String(i) !== key[0] ? pair : key.endsWith('a') ? [at, pair[1]] : [pair[0], at],
        ),
      );
  };

  const straighten = async () => {
    if (!kept) return;
    setBusy('Straightening…');
    setProblem(null);
    try {
      const by = technicianNow();
      const plate = await api<PlateInfo>('/workshop/plates', {
        json: {
          device: anatomy.id,
          photo: kept.hash,
          face,
          layer,
          // The sheet lies as deep as the body is thick; what is drawn lies above it.
          depth: way === 'card' ? depth - body.thickness : depth,
          height: way === 'card' ? height + body.thickness : height,
          body: { width: body.width, height: body.height },
          edges: way === 'edges' ? edges : null,
          points: way === 'card' ? marks.map((px, i) => ({ px, mm: placed[i]! })) : null,
          snap: true,
          ...(by ? { by } : {}),
        },
      });
      setMade(plate);
      plates.reload();
    } catch (error) {
      setProblem(messageOf(error));
    } finally {
      setBusy(null);
    }
  };
  const done = () => {
    board.set({ face, layer, plate: { ...board.plate, shown: true, id: made?.id ?? null } });
    leave()(`/workshop/${draft}`);
  };
  const review = async (plate: PlateInfo) => {
    await api(`/workshop/plates/${plate.id}/review`, { json: { reviewed: plate.reviewed === null } });
    plates.reload();
  };
  const removePlate = async (plate: PlateInfo) => {
    await api(`/workshop/plates/${plate.id}`, { method: 'DELETE' });
    plates.reload();
  };
  const corner = 60;
  return (
    <div className="grid h-dvh grid-rows-[auto_minmax(0,1fr)] gap-2 p-2 max-sm:h-auto">
      <header className="flex flex-wrap items-center gap-3">
        <Link to={`/workshop/${draft}`} className={buttonClass('quiet')}>
          ← {anatomy.name}
        </Link>
        <h1 className="text-xl font-bold">Lay a photograph</h1>
        {busy && <span role="status">{busy}</span>}
      </header>
      <div className="grid min-h-0 grid-cols-[minmax(0,1fr)_23rem] gap-2 max-lg:grid-cols-1 max-lg:grid-rows-[minmax(20rem,1fr)_auto]">
        <div className="panel relative min-h-0 overflow-hidden">
          {kept ? (
            made ? (
              <img
                src={`/api/photos/${made.plate}`}
                alt={`Straightened, ${body.width} × ${body.height} mm`}
                className={`h-full w-full object-contain ${face === 'back' ? '-scale-x-100' : ''}`}
              />
            ) : (
              <Photo
                kept={kept}
                way={way}
                edges={edges}
                handles={handles}
                focus={focus}
                setFocus={setFocus}
                moveTo={moveTo}
              />
            )
          ) : (
            <div className="grid h-full place-content-center gap-3 p-8 text-center">
              <p className="text-xl">A photograph straight from above, the whole body in it, on a plain ground.</p>
              <p className="text-quiet">
                Hold the camera some 300 mm over it. What the camera notes of place and time is taken off.
              </p>
              <FileButton
                weight="main"
                icon={<FileUp aria-hidden="true" />}
                accept="image/*"
                onFile={(file) => void bring(file)}
              >
                Choose a photograph
              </FileButton>
            </div>
          )}
        </div>
        <aside className="panel grid min-h-0 content-start gap-3 overflow-auto p-4">
          {problem && <ProblemNote>{problem}</ProblemNote>}
          <div className="grid grid-cols-2 gap-2">
            <div>
              <span className="label">Face</span>
              <Select
                label="Face"
                value={face}
                of={['front', 'back']}
                onChange={(v) => setFace(v as 'front' | 'back')}
              />
            </div>
            <label className="grid">
              <span className="label">Layers off</span>
              <NumberInput
                label="Layers off"
                value={layer}
                bounds={limits('parts', 'layer')}
                onChange={(v) => setLayer(v as number)}
              />
            </label>
            <label className="grid">
              <span className="label">Camera over the rim</span>
              <NumberInput
                label="Camera over the rim"
                value={height}
                bounds={CAMERA}
                onChange={(v) => setHeight(v as number)}
              />
            </label>
            <label className="grid">
              <span className="label">Looked at, below the rim</span>
              <NumberInput
                label="Looked at, below the rim"
                value={depth}
                bounds={BELOW_RIM}
                onChange={(v) => setDepth(v as number)}
              />
            </label>
          </div>
          <p className="text-sm text-quiet">
            What lies 1 mm deeper than that, {corner} mm from below the camera, is put {(corner / height).toFixed(2)} mm
            aside.
          </p>
          <fieldset className="grid gap-1">
            <legend className="label">Measured by</legend>
            {(
              [
                ['edges', 'the four edges of the body'],
                ['card', 'the marks of the printed sheet'],
              ] as const
            ).map(([value, words]) => (
              <label key={value} className="flex min-h-11 items-center gap-2">
                <input
                  type="radio"
                  name="way"
                  className="size-5 accent-petrol"
                  checked={way === value}
                  onChange={() => setWay(value)}
                />
                {words}
              </label>
            ))}
            {way === 'card' && (
              <a
                className={buttonClass('quiet')}
                href={`/api/workshop/card.pdf?width=${body.width}&height=${body.height}`}
                target="_blank"
                rel="noreferrer"
              >
                Print the sheet, 1:1
              </a>
            )}
          </fieldset>
          {kept && survey && !made && (
            <div className="rounded-lg bg-sunk p-3">
              {survey.refused && <p className="text-crimson">{survey.refused}</p>}
              {survey.worst && (
                <p>
                  As laid, the corner at <span className="num">{survey.worst.at.join(', ')} mm</span> is known to{' '}
                  <b className="num">{survey.worst.radius95.toFixed(2)} mm</b> (95 %). Straightening moves the lines
                  onto the picture’s own edges.
                </p>
              )}
              {survey.residuals.length > 0 && (
                <p className="num text-sm">left over: {survey.residuals.map((r) => r.toFixed(2)).join(', ')} mm</p>
              )}
            </div>
          )}
          {made && <Result plate={made} corner={corner} />}
          {kept && !made && (
            <Button
              weight="main"
              onClick={() => void straighten()}
              disabled={busy !== null || survey?.refused !== null}
            >
              Straighten it
            </Button>
          )}
          {made && (
            <>
              <Button weight="main" onClick={done}>
                Draw on it
              </Button>
              <Button onClick={() => setMade(null)}>Lay the lines again</Button>
            </>
          )}
          {kept && (
            <FileButton
              weight="quiet"
              icon={<FileUp aria-hidden="true" />}
              accept="image/*"
              onFile={(file) => void bring(file)}
            >
              Another photograph
            </FileButton>
          )}
          {plates.data && plates.data.length > 0 && (
            <section aria-label="Photographs of this device" className="grid gap-2">
              <h2 className="text-lg font-semibold">Photographs of this device</h2>
              {plates.data.map((p) => (
                <div key={p.id} className="grid grid-cols-[4rem_minmax(0,1fr)] gap-2 text-sm">
                  <img
                    src={`/api/photos/${p.plate}/thumb`}
                    alt=""
                    className={`h-20 object-contain ${p.face === 'back' ? '-scale-x-100' : ''}`}
                  />
                  <div>
                    <p>
                      {p.face}, {p.layer === 0 ? 'closed' : `${p.layer} ${p.layer === 1 ? 'layer' : 'layers'} off`}, ±{' '}
                      {p.survey.expectedError.toFixed(2)} mm
                    </p>
                    <label className="flex min-h-11 items-center gap-2">
                      <input
                        type="checkbox"
                        className="size-5 accent-petrol"
                        checked={p.reviewed !== null}
                        onChange={() => void review(p)}
                      />
                      nothing personal in it: it may leave the shop
                    </label>
                    <Button weight="quiet" onClick={() => void removePlate(p)}>
                      Take away
                    </Button>
                  </div>
                </div>
              ))}
            </section>
          )}
        </aside>
      </div>
    </div>
  );
}

function Result({ plate, corner }: { plate: PlateInfo; corner: number }) {
  const { survey } = plate;
  const doubtful = survey.expectedError > SURVEY.doubtfulMm;
  return (
    <div className="rounded-lg bg-sunk p-3" data-testid="survey">
      <p className="text-lg">
        Expected error at the far corner: <b className="num">{survey.expectedError.toFixed(2)} mm</b> (95 %)
      </p>
      <p className="text-sm">
        {survey.edges === null
          ? `left over at the marks: ${survey.residuals.map((r) => r.toFixed(2)).join(', ')} mm`
          : survey.snapped.length === 4
            ? 'All four edges were found in the picture.'
            : `Found in the picture: ${survey.snapped.join(', ') || 'none'}; the others stand as they were laid.`}
      </p>
      <p className="text-sm">
        Camera over {survey.foot.map((v) => v.toFixed(0)).join(', ')} mm, {survey.height} mm high: 1 mm deeper is{' '}
        {(corner / survey.height).toFixed(2)} mm aside at {corner} mm.
      </p>
      {doubtful && (
        <p className="font-semibold text-crimson">
          That is more than {SURVEY.doubtfulMm} mm: lay the lines again, or take another photograph.
        </p>
      )}
    </div>
  );
}

/** The photograph with its lines; a handle is magnified while it is held. */
function Photo({
  kept,
  way,
  edges,
  handles,
  focus,
  setFocus,
  moveTo,
}: {
  kept: Kept;
  way: Way;
  edges: readonly [Point, Point][];
  handles: readonly Handle[];
  focus: string | null;
  setFocus: (key: string | null) => void;
  moveTo: (key: string, at: Point) => void;
}) {
  const svg = useRef<SVGSVGElement>(null);
  const { width, height, hash } = kept;
  const placeAt = (x: number, y: number): Point => {
    const m = svg.current!.getScreenCTM()!.inverse();
    return [Math.min(width, Math.max(0, m.a * x + m.e)), Math.min(height, Math.max(0, m.d * y + m.f))];
  };
  const held = useRef<{ key: string; off: Point } | null>(null);
  const pressed = useRef<Element | null>(null);
  useGesture(
    {
      onDragStart: ({ initial: [x, y] }) => {
        const key = pressed.current?.closest('[data-handle]')?.getAttribute('data-handle');
        const handle = handles.find((h) => h.key === key);
        if (!handle) return;
        const at = placeAt(x, y);
        // A handle is taken where it is touched, and does not jump.
        held.current = { key: handle.key, off: [handle.at[0] - at[0], handle.at[1] - at[1]] };
        setFocus(handle.key);
      },
      onDrag: ({ xy: [x, y] }) => {
        if (!held.current) return;
        const at = placeAt(x, y);
        moveTo(held.current.key, [at[0] + held.current.off[0], at[1] + held.current.off[1]]);
      },
      onDragEnd: () => {
        held.current = null;
      },
    },
    { target: svg, eventOptions: { passive: false } },
  );
  useEffect(() => {
    if (!focus) svg.current?.querySelector<SVGElement>('[data-handle]')?.focus();
  }, [focus]);
  const unit = Math.max(width, height) / 150;
  const shown = handles.find((h) => h.key === focus);
  const nudge = (h: Handle, key: string, far: boolean): boolean => {
    const step = (far ? 10 : 1) * (way === 'edges' ? 0.5 : 0.5);
    const by: Record<string, Point> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, -step],
      ArrowDown: [0, step],
    };
    const d = by[key];
    if (d) moveTo(h.key, [h.at[0] + d[0], h.at[1] + d[1]]);
    return d !== undefined;
  };
  return (
    <>
      <svg
        ref={svg}
        onPointerDownCapture={(e) => {
          pressed.current = e.target as Element;
        }}
        viewBox={`0 0 ${width} ${height}`}
        className="h-full w-full touch-none select-none"
        role="group"
        aria-label="The photograph and its lines"
        data-testid="photo"
      >
        <image href={`/api/photos/${hash}`} width={width} height={height} />
        {way === 'edges' &&
          edges.map(([a, b], i) => {
            const long = ([p, q]: readonly [Point, Point], k: number): Point => [
              p[0] + (q[0] - p[0]) * k,
              p[1] + (q[1] - p[1]) * k,
            ];
            const [from, to] = [long([a, b], -0.4), long([a, b], 1.4)];
            return (
              <g key={SIDES[i]} pointerEvents="none">
                <path
                  d={`M${from.join(' ')}L${to.join(' ')}`}
                  stroke="#172326"
                  strokeWidth={0.7 * unit}
                  opacity={0.5}
                />
                <path d={`M${from.join(' ')}L${to.join(' ')}`} stroke="#ffe9a8" strokeWidth={0.3 * unit} />
              </g>
            );
          })}
        {handles.map((h) => (
          <g
            key={h.key}
            data-handle={h.key}
            role="slider"
            tabIndex={0}
            aria-label={h.name}
            aria-valuetext={`${h.at[0].toFixed(1)}, ${h.at[1].toFixed(1)} px`}
            aria-valuenow={Math.round(h.at[0])}
            style={{ cursor: 'grab' }}
            onFocus={() => setFocus(h.key)}
            onKeyDown={(e) => {
              if (nudge(h, e.key, e.shiftKey)) e.preventDefault();
            }}
          >
            <circle cx={h.at[0]} cy={h.at[1]} r={4.2 * unit} fill="transparent" />
            <circle
              cx={h.at[0]}
              cy={h.at[1]}
              r={1.8 * unit}
              fill={focus === h.key ? '#ffe9a8aa' : 'transparent'}
              stroke="#172326"
              strokeWidth={0.9 * unit}
            />
            <circle cx={h.at[0]} cy={h.at[1]} r={1.8 * unit} fill="none" stroke="#ffe9a8" strokeWidth={0.45 * unit} />
          </g>
        ))}
      </svg>
      {shown && <Glass kept={kept} handle={shown} edges={way === 'edges' ? edges : []} />}
    </>
  );
}

/** What lies under the finger, magnified, in the corner away from it. */
function Glass({ kept, handle, edges }: { kept: Kept; handle: Handle; edges: readonly [Point, Point][] }) {
  const [x, y] = handle.at;
  const side = GLASS.size / GLASS.times;
  const left = x > kept.width / 2;
  const span = (side * Math.max(kept.width, kept.height)) / 900;
  return (
    <svg
      viewBox={`${x - span / 2} ${y - span / 2} ${span} ${span}`}
      width={GLASS.size}
      height={GLASS.size}
      className={`pointer-events-none absolute top-3 rounded-full border-2 border-ink ${left ? 'left-3' : 'right-3'}`}
      aria-hidden="true"
    >
      <image href={`/api/photos/${kept.hash}`} width={kept.width} height={kept.height} />
      {edges.map(([a, b], i) => (
        <path key={i} d={`M${a.join(' ')}L${b.join(' ')}`} stroke="#ffe9a8" strokeWidth={span / 120} />
      ))}
      <path
        d={`M${x - span / 8} ${y}h${span / 4}M${x} ${y - span / 8}v${span / 4}`}
        stroke="#a30f2b"
        strokeWidth={span / 140}
      />
    </svg>
  );
}
