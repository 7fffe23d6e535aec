import { X } from 'lucide-react';
import { useCallback, useEffect, useState } from 'react';
import type { DeviceFunction, Model, Part } from '../../../core/anatomy/index.ts';
import { circumstanceNow, type EventBody, type RunState } from '../../../core/run/index.ts';
import { Button, Key } from '../../controls/index.tsx';

/** What a person does on the device for a test, as a picture: told by the part that serves the function. */
type Picture = 'colours' | 'grid' | 'tones' | 'focus' | 'press' | 'plug' | 'turn' | 'words';

const PICTURES: Partial<Record<Part['kind'], Picture>> = {
  display: 'colours',
  speaker: 'tones',
  camera: 'focus',
  button: 'press',
  port: 'plug',
  coil: 'plug',
  battery: 'plug',
  sensor: 'turn',
  motor: 'tones',
};

export function pictureFor(model: Model, fn: DeviceFunction): Picture {
  const serving = model.anatomy.parts.filter((p) => p.functions.includes(fn.id));
  const kind = serving.map((p) => p.kind).find((k) => PICTURES[k] !== undefined);
  if (kind === undefined) return 'words';
  // A panel shows and feels: what it does second is felt.
  const panel = serving.find((p) => p.kind === 'display');
  if (panel && panel.functions.indexOf(fn.id) === 1) return 'grid';
  return PICTURES[kind]!;
}

/** The tests one after another, full screen: the picture says what to do on the device, the person judges. */
export function TestScript({
  model,
  state,
  functions,
  record,
  close,
}: {
  model: Model;
  state: RunState;
  functions: readonly DeviceFunction[];
  record: (bodies: EventBody[]) => boolean;
  close: () => void;
}) {
  const [at, setAt] = useState(0);
  const fn = functions[at];
  const say = useCallback(
    (outcome: 'pass' | 'fail' | null) => {
      if (!fn) return;
      if (outcome !== null) {
        const reason = outcome === 'fail' ? 'failed in the test script' : '';
        const circumstance = circumstanceNow(state);
        if (!record([{ type: 'test', function: fn.id, outcome, reason, circumstance }])) return close();
      }
      if (at + 1 < functions.length) setAt(at + 1);
      else close();
    },
    [fn, at, functions.length, state, record, close],
  );
  useEffect(() => {
    const keys = (e: KeyboardEvent) => {
      const answers: Record<string, 'pass' | 'fail' | null> = { '1': 'pass', ' ': 'pass', '2': 'fail', '3': null };
      if (e.key === 'Escape') close();
      else if (e.key in answers) say(answers[e.key]!);
      else return;
      e.preventDefault();
    };
    window.addEventListener('keydown', keys);
    return () => window.removeEventListener('keydown', keys);
  }, [say, close]);
  if (!fn) return null;
  return (
    <div
      role="dialog"
      aria-modal="true"
      aria-label="Test script"
      className="fixed inset-0 z-30 grid grid-rows-[auto_minmax(0,1fr)_auto] gap-4 bg-ground p-6"
    >
      <header className="flex items-start justify-between gap-4">
        <div>
          <p className="text-quiet">
            <span className="num">{at + 1}</span> of <span className="num">{functions.length}</span>, on the device
          </p>
          <h2 className="text-4xl font-bold">{fn.name}</h2>
          <p className="max-w-3xl text-2xl">{fn.test}</p>
        </div>
        <Button weight="quiet" aria-label="Close the script" onClick={close}>
          <X aria-hidden="true" />
        </Button>
      </header>
      <Illustration of={pictureFor(model, fn)} />
      <footer className="grid grid-cols-3 gap-3">
        <Button weight="main" className="min-h-20 text-2xl" onClick={() => say('pass')}>
          Works <Key of="1" />
        </Button>
        <Button weight="danger" className="min-h-20 text-2xl" onClick={() => say('fail')}>
          Fails <Key of="2" />
        </Button>
        <Button className="min-h-20 text-2xl" onClick={() => say(null)}>
          Later <Key of="3" />
        </Button>
      </footer>
    </div>
  );
}

/** Fields of full colour that a panel is judged by. They are what is looked for, not colours of this program. */
const PURE = ['#ff0000', '#00a000', '#0040ff', '#ffffff', '#808080', '#000000'];

function Illustration({ of }: { of: Picture }) {
  return (
    <svg viewBox="0 0 600 300" className="h-full w-full" aria-hidden="true">
      <rect x="200" y="10" width="200" height="280" rx="22" className="fill-panel stroke-petrol" strokeWidth="5" />
      {SHAPES[of]}
    </svg>
  );
}

const SHAPES: Record<Picture, React.ReactNode> = {
  colours: PURE.map((colour, i) => (
    <rect key={colour} x={214} y={30 + i * 40} width={172} height={40} fill={colour} className="stroke-line" />
  )),
  grid: Array.from({ length: 40 }, (_, i) => (
    <circle
      key={i}
      cx={230 + (i % 5) * 35}
      cy={40 + Math.floor(i / 5) * 31}
      r={9}
      className={i % 3 === 0 ? 'fill-petrol' : 'fill-none stroke-petrol'}
      strokeWidth={2}
    />
  )),
  tones: [0, 1, 2, 3].map((i) => (
    <path
      key={i}
      d={`M${420 + i * 34} ${150 - 24 * (i + 1)}q${22 + 8 * i} ${24 * (i + 1)} 0 ${48 * (i + 1)}`}
      className="fill-none stroke-petrol"
      strokeWidth={6}
      strokeLinecap="round"
    />
  )),
  focus: (
    <g className="fill-none stroke-petrol" strokeWidth={4}>
      {[20, 44, 68].map((r) => (
        <circle key={r} cx={300} cy={150} r={r} />
      ))}
      <path d="M300 60v180M210 150h180" />
    </g>
  ),
  press: (
    <g className="fill-petrol">
      <rect x={398} y={70} width={12} height={40} rx={4} />
      <rect x={398} y={120} width={12} height={40} rx={4} />
      <path d="M470 90h-44m14 -12l-14 12l14 12" className="fill-none stroke-petrol" strokeWidth={6} />
    </g>
  ),
  plug: (
    <g className="fill-none stroke-petrol" strokeWidth={6}>
      <path d="M280 292h40v-14h-40z" className="fill-petrol" />
      <path d="M316 70l-44 84h40l-12 70l52 -94h-42z" className="fill-petrol stroke-none" />
    </g>
  ),
  turn: (
    <g className="fill-none stroke-petrol" strokeWidth={6} strokeLinecap="round">
      <path d="M440 70a110 110 0 0 1 0 160m-16 -22l16 22l24 -14" />
      <circle cx={300} cy={50} r={9} className="fill-petrol" />
    </g>
  ),
  words: (
    <g className="stroke-petrol" strokeWidth={6} strokeLinecap="round">
      {[90, 130, 170, 210].map((y) => (
        <path key={y} d={`M230 ${y}h140`} />
      ))}
    </g>
  ),
};
