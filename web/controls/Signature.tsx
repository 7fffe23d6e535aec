import { useEffect, useRef, useState } from 'react';
import SignaturePad from 'signature_pad';
import { PAD, signatureFault, type Stroke } from '../../core/counter/index.ts';
import { Button } from './index.tsx';

/** A pad to sign on with a finger, a pen or a mouse. Strokes are in px of a pad of fixed size, whatever the screen. */
export function Signature({ onChange }: { onChange: (strokes: Stroke[]) => void }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const pad = useRef<SignaturePad | null>(null);
  const [empty, setEmpty] = useState(true);
  const told = useRef(onChange);
  told.current = onChange;
  useEffect(() => {
    const made = new SignaturePad(canvas.current!, {
      minWidth: 1.2,
      maxWidth: 3.2,
      penColor: getComputedStyle(document.documentElement).getPropertyValue('--ink').trim() || '#172326',
    });
    pad.current = made;
    const ended = () => {
      const box = canvas.current!.getBoundingClientRect();
      // What is drawn on a pad that the screen has made smaller counts in px of the pad.
      const scale = { x: PAD.width / box.width, y: PAD.height / box.height };
      setEmpty(made.isEmpty());
      told.current(
        made.toData().map((group) => ({
          points: group.points.map(({ x, y, time }) => ({
            x: Math.round(x * scale.x * 10) / 10,
            y: Math.round(y * scale.y * 10) / 10,
            time,
          })),
        })),
      );
    };
    made.addEventListener('endStroke', ended);
    let width = 0;
    // A screen that is turned, or a keyboard that slides in, takes nothing of what was signed.
    const resize = () => {
      const box = canvas.current!.getBoundingClientRect();
      if (box.width === width) return;
      const dense = Math.max(1, window.devicePixelRatio);
      const k = width > 0 ? box.width / width : 1;
      width = box.width;
      canvas.current!.width = box.width * dense;
      canvas.current!.height = box.height * dense;
      canvas.current!.getContext('2d')!.scale(dense, dense);
      const kept = made.toData().map((group) => ({
        ...group,
        points: group.points.map((p) => ({ ...p, x: p.x * k, y: p.y * k })),
      }));
      made.clear();
      made.fromData(kept);
    };
    resize();
    window.addEventListener('resize', resize);
    return () => {
      window.removeEventListener('resize', resize);
      made.off();
    };
  }, []);
  return (
    <div className="grid gap-2">
      <canvas
        ref={canvas}
        aria-label="Sign here"
        role="img"
        className="w-full touch-none rounded-lg border-2 border-line bg-panel"
        style={{ aspectRatio: `${PAD.width} / ${PAD.height}` }}
      />
      <div className="flex items-center justify-between">
        <span className="text-quiet">{empty ? 'Sign with a finger or a pen.' : ' '}</span>
        <Button
          weight="quiet"
          disabled={empty}
          onClick={() => {
            pad.current?.clear();
            setEmpty(true);
            onChange([]);
          }}
        >
          Sign again
        </Button>
      </div>
    </div>
  );
}

/** A signature as it was made, small. */
export function Signed({ strokes, className = '' }: { strokes: readonly Stroke[]; className?: string }) {
  if (signatureFault(strokes) !== null) return null;
  const path = strokes
    .filter((s) => s.points.length > 0)
    .map((s) => `M${s.points.map((p) => `${p.x} ${p.y}`).join('L')}`)
    .join('');
  return (
    <svg viewBox={`0 0 ${PAD.width} ${PAD.height}`} className={className} role="img" aria-label="Signature">
      <path d={path} fill="none" className="stroke-ink" strokeWidth={3} strokeLinecap="round" strokeLinejoin="round" />
    </svg>
  );
}
