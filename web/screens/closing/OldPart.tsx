import { ScanLine } from 'lucide-react';
import { useState } from 'react';
import { areaOf, boundsOf, regionOf, ringOf, type Outline, type Point } from '../../../core/anatomy/index.ts';
import { PAPERS } from '../../../core/paper/index.ts';
import { Button, FileButton, ProblemNote } from '../../controls/index.tsx';
import { outlinePath } from '../../drawing/geometry.ts';
import { api, messageOf } from '../../state/api.ts';
import { proposeInWorker } from '../../workers/vision.ts';
import { Panel } from '../counter/Panel.tsx';

/** Sheets on which an old part is laid, mm: those that are printed on, and A5 (ISO 216, from memory). */
const GROUNDS = { A5: { width: 148, height: 210 }, ...PAPERS };
type Ground = keyof typeof GROUNDS;

interface Seen {
  plate: string;
  width: number;
  height: number;
  outlines: Outline[];
}

const groundOf = (outline: Outline): number => areaOf(regionOf(outline));

/** The old part as its own template: its outline from a photograph on a sheet of paper of known size. */
export function OldPart({ job, bond }: { job: string; bond: string }) {
  const [ground, setGround] = useState<Ground>('A4');
  const [seen, setSeen] = useState<Seen | null>(null);
  const [chosen, setChosen] = useState(0);
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const { width, height } = GROUNDS[ground];
  const look = async (file: File | undefined) => {
    if (!file) return;
    setBusy(true);
    setProblem(null);
    setSeen(null);
    try {
      const { hash } = await api<{ hash: string }>('/workshop/photographs', {
        body: file,
        type: file.type || 'application/octet-stream',
      });
      const plate = await api<{ plate: string; pxPerMm: number }>('/closing/old-part', {
        json: { photo: hash, width, height },
      });
      const { outlines } = await proposeInWorker(`/api/photos/${plate.plate}`, plate.pxPerMm).result;
      const found = outlines.map((o) => o.outline).sort((a, b) => groundOf(b) - groundOf(a));
      if (found.length === 0)
        throw new Error('no part stands out on the sheet: lay it on plain white paper, without glare or shadow');
      setSeen({ plate: plate.plate, width, height, outlines: found });
      setChosen(0);
    } catch (error) {
      setProblem(messageOf(error));
    }
    setBusy(false);
  };
  const print = async () => {
    const ring = ringOf(seen!.outlines[chosen]!) as Point[];
    const answer = await fetch(`/api/closing/strips/${job}/template.pdf?bond=${encodeURIComponent(bond)}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ points: ring }),
    }).catch(() => null);
    if (!answer?.ok) return setProblem('the template could not be made now; try again');
    const address = URL.createObjectURL(await answer.blob());
    const link = document.createElement('a');
    link.href = address;
    link.download = `nibrel-template-${bond}.pdf`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(address), 60_000);
  };
  return (
    <Panel id="old-part" title="The old part as template">
      <p className="text-quiet">
        Lay it flat on a white sheet on a dark ground, all four edges of the sheet in the picture, from straight above.
      </p>
      <div className="flex flex-wrap items-end gap-3">
        <label className="w-32">
          <span className="label">Sheet</span>
          <select className="field" value={ground} onChange={(e) => setGround(e.target.value as Ground)}>
            {Object.keys(GROUNDS).map((g) => (
              <option key={g}>{g}</option>
            ))}
          </select>
        </label>
        <FileButton icon={<ScanLine aria-hidden="true" />} accept="image/*" onFile={(file) => void look(file)}>
          {busy ? 'Looking…' : 'Photograph of it'}
        </FileButton>
      </div>
      {problem && <ProblemNote>{problem}</ProblemNote>}
      {seen && (
        <>
          <svg
            viewBox={`0 0 ${seen.width} ${seen.height}`}
            className="max-h-96 w-full rounded-lg bg-sunk"
            role="group"
            aria-label="Outlines that were found"
          >
            <image
              href={`/api/photos/${seen.plate}`}
              width={seen.width}
              height={seen.height}
              preserveAspectRatio="none"
            />
            {seen.outlines.slice(0, 12).map((o, i) => (
              <path
                key={i}
                d={outlinePath(o)}
                role="button"
                tabIndex={0}
                aria-pressed={i === chosen}
                aria-label={`Outline ${i + 1}`}
                onClick={() => setChosen(i)}
                onKeyDown={(e) => (e.key === 'Enter' || e.key === ' ') && setChosen(i)}
                fill={i === chosen ? 'var(--mauve)' : 'transparent'}
                fillOpacity={0.25}
                stroke="var(--mauve)"
                strokeWidth={i === chosen ? 1.6 : 0.6}
                strokeDasharray={i === chosen ? undefined : '3 2'}
              />
            ))}
          </svg>
          <p className="flex flex-wrap items-center gap-3">
            <Button weight="main" onClick={() => void print()}>
              Template of this outline
            </Button>
            <span className="num">
              {boundsOf(seen.outlines[chosen]!)
                .slice(2)
                .map((v) => v.toFixed(1))
                .join(' × ')}{' '}
              mm
            </span>
          </p>
          <p className="text-sm text-quiet">Read off a photograph: lay the print on the old part before you cut.</p>
        </>
      )}
    </Panel>
  );
}
