import { TriangleAlert } from 'lucide-react';
import type { Model } from '../../../core/anatomy/index.ts';
import type { BeadPlan } from '../../../core/closing/index.ts';
import { minutes } from '../../../core/units/index.ts';
import { Measure } from '../../controls/index.tsx';
import { Panel } from '../counter/Panel.tsx';
import { cautionText } from '../../../words/index.ts';

/** The bead of liquid glue: how thick, how much, where not, and how long it takes. */
export function Bead({ model, bead, glue, room }: { model: Model; bead: BeadPlan; glue: string; room: string }) {
  const { setting, nozzle } = bead;
  const near = [...new Set(bead.near.map((n) => n.part))].map((id) => (model.items.has(id) ? model.nameOf(id) : id));
  return (
    <Panel id="bead" title="Liquid glue">
      <div className="flex flex-wrap gap-x-8 gap-y-2">
        <Measure value={`${bead.width.toFixed(1)} × ${bead.height.toFixed(1)}`} unit="mm" label="bead, wide and high" />
        <Measure value={bead.millilitres.toFixed(3)} unit="ml" label={`of ${glue}`} />
        <Measure value={Math.round(nozzle.millimetres)} unit="mm" label={`out of a nozzle of ${nozzle.bore} mm`} />
      </div>
      <p>
        Its middle stays <b className="num">{bead.keepOff.toFixed(1)} mm</b> off mesh, lens and sensor; for each
        millimetre of the run <span className="num">{nozzle.perMillimetre.toFixed(2)}</span> mm leave the nozzle.
        Pressed down it lies <span className="num">{bead.spread.toFixed(1)}</span> mm wide.
      </p>
      {near.length > 0 && (
        <p className="border-l-4 border-ember pl-3">
          Thin, and towards the outside, beside {near.join(', ')}: glue creeps into them.
        </p>
      )}
      <dl className="grid grid-cols-3 gap-3">
        {(
          [
            ['skin', setting.skin],
            ['may be handled', setting.handle],
            ['cured', setting.cure],
          ] as const
        ).map(([word, seconds]) => (
          <div key={word}>
            <dd className="num text-xl font-semibold">{minutes(seconds)}</dd>
            <dt className="text-sm text-quiet">{word}</dt>
          </div>
        ))}
      </dl>
      <p className="text-sm text-quiet">
        By the sheet of the product, at {room}. A trial on a spare corner says; nothing here is a promise.
      </p>
      <p className="flex items-start gap-2 text-sm">
        <TriangleAlert className="mt-0.5 size-5 shrink-0 text-crimson" aria-hidden="true" />
        {cautionText('solvent')}
      </p>
    </Panel>
  );
}
