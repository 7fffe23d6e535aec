import { FileDown, FlipHorizontal2 } from 'lucide-react';
import { Slider } from 'radix-ui';
import { useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import { modelOf, type Anatomy } from '../../../core/anatomy/index.ts';
import type { Depth, Unplanned } from '../../../core/dive/index.ts';
import { minutes } from '../../../core/units/index.ts';
import { Button, buttonClass, Loading, ProblemNote } from '../../controls/index.tsx';
import { DeviceDrawing } from '../../drawing/DeviceDrawing.tsx';
import { BeneathSwitch, useBeneath } from '../../drawing/plates.tsx';
import { useLoad } from '../../state/useLoad.ts';
import { late } from '../../controls/late.tsx';
import { tell } from '../../../words/index.ts';

const ZoomPane = late(
  () => import('../../drawing/ZoomPane.tsx'),
  ({ children }) => children,
);

const isMostlyBack = ({ parts }: Anatomy): boolean => {
  const loose = parts.filter((p) => !p.fixed);
  return loose.filter((p) => p.face === 'back').length > loose.length / 2;
};

export default function AnatomyView() {
  const id = useParams().anatomy!;
  const { data, problem } = useLoad<{ anatomy: Anatomy; revision: number; createdAt: string }>(`/anatomies/${id}`);
  const { data: depths } = useLoad<(Depth | Unplanned)[]>(`/anatomies/${id}/depth`);
  const model = useMemo(() => (data ? modelOf(data.anatomy) : null), [data]);
  const [flip, setFlip] = useState<boolean | null>(null);
  const [layer, setLayer] = useState<number | null>(null);
  const [picked, setPicked] = useState<string | null>(null);
  const chosen = useMemo(() => new Set(picked ? [picked] : []), [picked]);
  const backFirst = model ? isMostlyBack(model.anatomy) : false;
  const face = (flip === null ? backFirst : flip) ? 'back' : 'front';
  const { beneath, there } = useBeneath(id, face, layer ?? 1);
  if (!data || !model) return problem ? <ProblemNote>{problem}</ProblemNote> : <Loading what="the anatomy" />;
  const { anatomy } = data;
  const parts = anatomy.parts.filter((p) => !p.fixed);
  const deepest = Math.max(...parts.filter((p) => p.within === null).map((p) => p.layer));
  const table = new Map(depths?.map((d) => [d.part, d]));
  const unplanned = depths?.filter((row) => 'cannot' in row).length;
  const part = picked ? model.parts.get(picked) : null;
  return (
    <div className="mx-auto max-w-7xl">
      <div className="mb-4 flex flex-wrap items-end justify-between gap-4">
        <div>
          <h1 className="text-3xl font-bold">
            {anatomy.maker} {anatomy.name}
          </h1>
          <p className="num text-quiet">
            {anatomy.body.width} × {anatomy.body.height} × {anatomy.body.thickness} mm, revision {data.revision}
            {anatomy.body.ingress && `, ${anatomy.body.ingress}`}
          </p>
        </div>
        <span className="flex flex-wrap gap-2">
          <Link className={buttonClass('plain')} to="/workshop">
            Workshop
          </Link>
          <Link className={buttonClass('plain')} to={`/anatomies/${anatomy.id}/opening`}>
            Opening
          </Link>
          <Link className={buttonClass('plain')} to={`/anatomies/${anatomy.id}/screws`}>
            Screws
          </Link>
          <a
            className={buttonClass('plain')}
            href={`data:application/json;charset=utf-8,${encodeURIComponent(JSON.stringify(anatomy, null, 2))}`}
            download={`${anatomy.id}.json`}
          >
            <FileDown aria-hidden="true" />
            Save as JSON
          </a>
        </span>
      </div>
      <div className="grid gap-5 lg:grid-cols-[minmax(0,26rem)_minmax(0,1fr)]">
        <section className="panel grid content-start gap-3 p-4" aria-label="Drawing">
          <div className="h-[34rem]">
            <ZoomPane>
              <DeviceDrawing
                model={model}
                face={face}
                layer={layer}
                beneath={beneath}
                picked={chosen}
                onPick={setPicked}
                label={`${anatomy.name} from the ${face}`}
                className="h-[34rem] w-full"
              />
            </ZoomPane>
          </div>
          <div className="flex items-center gap-4">
            <span className="w-24 text-sm" id="layer-label">
              {layer === null ? 'All layers' : `Layer ${layer}`}
            </span>
            <Slider.Root
              className="relative flex h-12 flex-1 touch-none items-center"
              min={-1}
              max={deepest}
              step={1}
              value={[layer ?? -1]}
              onValueChange={([v]) => setLayer(v === undefined || v < 0 ? null : v)}
            >
              <Slider.Track className="relative h-2 grow rounded-full bg-linear-to-r from-[#dcc9a0] to-[#0a3442]" />
              <Slider.Thumb
                aria-labelledby="layer-label"
                className="block size-8 rounded-full border-2 border-ink bg-panel"
              />
            </Slider.Root>
            <Button weight="quiet" aria-label="Turn over" onClick={() => setFlip(face === 'front')}>
              <FlipHorizontal2 aria-hidden="true" />
            </Button>
          </div>
          <BeneathSwitch there={there} />
          {part && (
            <div className="text-sm">
              <p className="text-base font-semibold">{part.name}</p>
              <p className="text-quiet">
                {part.kind}, {part.face} layer {part.layer}
                {part.within && `, travels with ${model.nameOf(part.within)}`}
                {part.swing && `, swings at the ${part.swing.hinge}`}
              </p>
              {part.note && <p>{part.note}</p>}
            </div>
          )}
        </section>
        <section className="panel overflow-x-auto p-4" aria-labelledby="parts">
          <h2 id="parts" className="mb-1 text-xl font-semibold">
            Parts, and how deep they lie
          </h2>
          {unplanned === undefined ? (
            <p className="mb-3 font-semibold text-quiet">No faults. Every part is being planned…</p>
          ) : unplanned === 0 ? (
            <p className="mb-3 font-semibold text-moss">✓ No faults: every part can be reached and refitted.</p>
          ) : (
            <p className="mb-3 font-semibold">
              ✓ No faults. {unplanned === 1 ? 'One part' : `${unplanned} parts`} cannot be planned yet, for the reasons
              below; all others can be reached and refitted.
            </p>
          )}
          <table className="w-full text-left">
            <thead className="text-sm text-quiet">
              <tr>
                {['Part', 'Layer', 'Steps', 'Screws', 'Connectors', 'Bonds', 'To reach', 'Whole dive'].map((h, i) => (
                  <th key={h} scope="col" className={`px-2 py-1 font-normal ${i > 0 ? 'text-right' : ''}`}>
                    {h}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {parts.map((p) => {
                const row = table.get(p.id);
                const d = row && 'cannot' in row ? undefined : row;
                return (
                  <tr key={p.id} className={`border-t border-line ${picked === p.id ? 'bg-sunk' : ''}`}>
                    <th scope="row" className="p-0 font-normal">
                      <button
                        type="button"
                        className="min-h-12 w-full px-2 text-left"
                        aria-pressed={picked === p.id}
                        onClick={() => setPicked(picked === p.id ? null : p.id)}
                      >
                        {p.name}
                      </button>
                    </th>
                    <td className="num px-2 text-right">{p.face === 'edge' ? 'edge' : model.depthOf(p.id)}</td>
                    {row && 'cannot' in row ? (
                      <td colSpan={6} className="px-2 text-sm text-quiet">
                        <span className="block max-w-[56vw] sm:max-w-none">
                          Cannot be planned yet: {tell(model, row.cannot)}
                        </span>
                      </td>
                    ) : (
                      [d?.steps, d?.screws, d?.connectors, d?.bonds, d && minutes(d.seconds), d && minutes(d.dive)].map(
                        (v, i) => (
                          <td key={i} className="num px-2 text-right whitespace-nowrap">
                            {v ?? '…'}
                          </td>
                        ),
                      )
                    )}
                  </tr>
                );
              })}
            </tbody>
          </table>
        </section>
      </div>
    </div>
  );
}
