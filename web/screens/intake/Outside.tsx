import { Camera, X } from 'lucide-react';
import { type KeyboardEvent, type PointerEvent, useState } from 'react';
import type { Body } from '../../../core/anatomy/index.ts';
import { MARK_KINDS, MARKS, type ConditionMark, type MarkKind } from '../../../core/counter/index.ts';
import { Button, FileButton, ProblemNote } from '../../controls/index.tsx';
import { messageOf, storePhoto } from '../../state/api.ts';
import { newId } from '../../state/ids.ts';

/** mm that an arrow key moves a mark. */
const NUDGE = 2;

/** What is seen on the outside, marked where it is. */
export function Outside({
  body,
  marks,
  set,
}: {
  body: Pick<Body, 'width' | 'height' | 'cornerRadius'>;
  marks: readonly ConditionMark[];
  set: (marks: ConditionMark[]) => void;
}) {
  const [kind, setKind] = useState<MarkKind>('crack');
  const [problem, setProblem] = useState<string | null>(null);
  const add = (face: 'front' | 'back', at: [number, number]) =>
    set([...marks, { id: newId(), kind, face, at, note: '', photo: null }]);
  const change = (id: string, part: Partial<ConditionMark>) =>
    set(marks.map((m) => (m.id === id ? { ...m, ...part } : m)));
  const photograph = async (id: string, file: File | undefined) => {
    if (!file) return;
    try {
      change(id, { photo: await storePhoto(file) });
      setProblem(null);
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <div className="grid gap-3">
      <fieldset className="flex flex-wrap gap-1">
        <legend className="label">What is seen; then touch where it is</legend>
        {MARK_KINDS.map((k) => (
          <button
            key={k}
            type="button"
            aria-pressed={k === kind}
            className={`min-h-12 rounded-lg border-2 px-3 ${k === kind ? 'border-petrol bg-petrol text-on-petrol' : 'border-line'}`}
            onClick={() => setKind(k)}
          >
            {MARKS[k]}
          </button>
        ))}
      </fieldset>
      <div className="flex flex-wrap gap-4">
        {(['front', 'back'] as const).map((face) => (
          <Face
            key={face}
            face={face}
            body={body}
            marks={marks.filter((m) => m.face === face)}
            add={(at) => add(face, at)}
            move={(id, at) => change(id, { at })}
          />
        ))}
        <ul aria-label="Marks" className="grid min-w-56 flex-1 content-start gap-1">
          {marks.length === 0 && <li className="text-quiet">Nothing marked: as it should be, or not looked at.</li>}
          {marks.map((m, i) => (
            <li key={m.id} className="flex items-center gap-2">
              <span className="num w-6 text-right font-semibold text-crimson">{i + 1}</span>
              <span className="flex-1">
                {MARKS[m.kind]}, {m.face}
              </span>
              {m.photo ? (
                <img src={`/api/photos/${m.photo}/thumb`} alt={`${MARKS[m.kind]}, close`} className="h-12 rounded-md" />
              ) : (
                <FileButton
                  weight="quiet"
                  icon={<Camera aria-hidden="true" />}
                  accept="image/*"
                  onFile={(f) => void photograph(m.id, f)}
                >
                  <span className="sr-only">Photograph mark {i + 1}</span>
                </FileButton>
              )}
              <Button
                weight="quiet"
                aria-label={`Remove mark ${i + 1}`}
                onClick={() => set(marks.filter((x) => x.id !== m.id))}
              >
                <X aria-hidden="true" />
              </Button>
            </li>
          ))}
        </ul>
      </div>
      {problem && <ProblemNote>{problem}</ProblemNote>}
    </div>
  );
}

/** One face, to scale; the back is drawn as it is seen, mirrored. */
function Face({
  face,
  body,
  marks,
  add,
  move,
}: {
  face: 'front' | 'back';
  body: Pick<Body, 'width' | 'height' | 'cornerRadius'>;
  marks: readonly ConditionMark[];
  add: (at: [number, number]) => void;
  move: (id: string, at: [number, number]) => void;
}) {
  const { width, height, cornerRadius } = body;
  const seen = (x: number) => (face === 'back' ? width - x : x);
  const touch = (e: PointerEvent<SVGSVGElement>) => {
    const box = e.currentTarget.getBoundingClientRect();
    const x = ((e.clientX - box.left) / box.width) * width;
    const y = ((e.clientY - box.top) / box.height) * height;
    add([round(seen(x)), round(y)]);
  };
  const keys = (e: KeyboardEvent, mark: ConditionMark) => {
    const by: Record<string, [number, number]> = {
      ArrowLeft: [-NUDGE, 0],
      ArrowRight: [NUDGE, 0],
      ArrowUp: [0, -NUDGE],
      ArrowDown: [0, NUDGE],
    };
    const step = by[e.key];
    if (!step) return;
    e.preventDefault();
    const sign = face === 'back' ? -1 : 1;
    const within = (v: number, most: number) => round(Math.min(most, Math.max(0, v)));
    move(mark.id, [within(mark.at[0] + sign * step[0], width), within(mark.at[1] + step[1], height)]);
  };
  const unit = Math.max(width, height) / 100;
  return (
    <figure className="grid w-28 justify-items-center gap-1">
      <svg
        viewBox={`0 0 ${width} ${height}`}
        className="h-52 max-w-full cursor-crosshair touch-none"
        aria-label={`Outside, ${face}`}
        role="group"
        onPointerDown={touch}
      >
        <rect
          x={0.4}
          y={0.4}
          width={width - 0.8}
          height={height - 0.8}
          rx={cornerRadius}
          className="fill-sunk stroke-petrol"
          strokeWidth={unit * 0.8}
        />
        {marks.map((m) => (
          <g
            key={m.id}
            role="button"
            tabIndex={0}
            aria-label={`${MARKS[m.kind]} at ${m.at[0]} × ${m.at[1]} mm; arrows move it`}
            onKeyDown={(e) => keys(e, m)}
            onPointerDown={(e) => e.stopPropagation()}
          >
            <path
              d={`M${seen(m.at[0]) - 3 * unit} ${m.at[1] - 3 * unit}l${6 * unit} ${6 * unit}m0 ${-6 * unit}l${-6 * unit} ${6 * unit}`}
              className="stroke-crimson"
              strokeWidth={unit * 1.4}
              strokeLinecap="round"
            />
          </g>
        ))}
      </svg>
      <figcaption className="text-sm text-quiet">{face}</figcaption>
      <Button weight="quiet" onClick={() => add([round(width / 2), round(height / 2)])}>
        Mark here
      </Button>
    </figure>
  );
}

const round = (v: number): number => Math.round(v * 10) / 10;
