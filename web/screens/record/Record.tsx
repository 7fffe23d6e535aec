import { functionIn } from '../../../core/anatomy/index.ts';
import { format } from 'date-fns/format';
import { FileDown } from 'lucide-react';
import { useState } from 'react';
import { gateBlockers, isProved, toProve } from '../../../core/run/index.ts';
import { minutes } from '../../../core/units/index.ts';
import { Button, buttonClass, Measure } from '../../controls/index.tsx';
import { serverNow } from '../../state/clock.ts';
import { technicianNow } from '../../state/shop.ts';
import { useRunOf } from '../../state/run.ts';
import { tellEvent } from '../tellEvent.ts';
import { late } from '../../controls/late.tsx';
import { tell, spoken } from '../../../words/index.ts';

const TorqueChart = late(
  () => import('./TorqueChart.tsx'),
  () => <div className="h-44" />,
);

export default function Record() {
  const { job, context, state, events, pending, record, press, refusal } = useRunOf(
    'job',
    'context',
    'state',
    'events',
    'pending',
    'record',
    'press',
    'refusal',
  );
  const technician = technicianNow();
  const [name, setName] = useState(technician ?? '');
  if (!job?.plan || !context || !state) return null;
  const asked = toProve(context, state);
  const gate = job.plan.steps.findLast((s) => s.gate === 'G7')!;
  const blockers = state.done.has(gate.id) ? [] : gateBlockers(context, state, gate, serverNow());
  const sign = () => {
    if (!state.done.has(gate.id) && press(gate.id) !== 'moved') return;
    record([{ type: 'signed-off', name: name.trim() }]);
  };
  const place = (id: string | null) => (id === null ? undefined : context.steps.get(id)?.n);
  const torques = state.torques.map(({ fastener, peak }) => ({ fastener, value: peak }));
  const renewed = job.plan.renew.filter((id) => !job.plan!.replace.includes(id));
  return (
    <div className="grid gap-5 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
      <div className="grid content-start gap-5">
        <section className="panel p-5" aria-labelledby="handover">
          <h2 id="handover" className="mb-3 text-xl font-semibold">
            Hand over
          </h2>
          <div className="mb-4 flex flex-wrap gap-8">
            <Measure value={state.screwsOut.size} label="screws out" />
            <Measure value={state.screwsIn.size} label="screws in" />
            <Measure value={state.deviations.length} label="deviations" />
            <Measure
              value={`${asked.filter((f) => isProved(context, state, f)).length}/${asked.length}`}
              label="tests"
            />
            <Measure value={minutes(state.elapsed)} label="on the bench" />
          </div>
          {state.signedOff ? (
            <p className="text-lg font-semibold text-moss">
              ✓ Signed by {state.signedOff.name}, {format(new Date(state.signedOff.at), 'd MMM yyyy, HH:mm')}
            </p>
          ) : blockers.length > 0 ? (
            <div>
              <p className="mb-2 font-semibold">Gate G7 does not hold yet:</p>
              <ul className="max-h-64 list-disc space-y-1 overflow-auto pl-5">
                {blockers.slice(0, 12).map((b, i) => (
                  <li key={i}>{tell(context.model, b.said)}</li>
                ))}
              </ul>
              {blockers.length > 12 && <p className="text-quiet">and {blockers.length - 12} more</p>}
            </div>
          ) : (
            <div className="flex flex-wrap items-end gap-3">
              <label className="flex-1">
                <span className="label">Signed by</span>
                <input className="field" value={name} maxLength={80} onChange={(e) => setName(e.target.value)} />
              </label>
              <Button weight="main" className="text-lg" disabled={name.trim() === ''} onClick={sign}>
                Sign off
              </Button>
            </div>
          )}
          {refusal && (
            <p role="alert" className="mt-3 font-semibold text-crimson">
              {tell(context.model, refusal.said)}
            </p>
          )}
          <a
            className={buttonClass(state.signedOff ? 'main' : 'plain', 'mt-5')}
            href={`/api/jobs/${job.id}/record.pdf`}
            download={`nibrel-job-${job.number}.pdf`}
          >
            <FileDown aria-hidden="true" />
            Record as PDF
          </a>
          <p className="mt-2 flex flex-wrap gap-x-4">
            {(['A4', 'Letter'] as const).map((paper) => (
              <a
                key={paper}
                className="flex min-h-12 items-center"
                href={`/api/jobs/${job.id}/record.pdf?paper=${paper}`}
                target="_blank"
                rel="noreferrer"
              >
                on {paper}
              </a>
            ))}
          </p>
        </section>
        <section className="panel p-5" aria-labelledby="work">
          <h2 id="work" className="mb-2 text-xl font-semibold">
            What was done
          </h2>
          <dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-4 gap-y-1">
            <dt className="text-quiet">Replaced</dt>
            <dd>{job.plan.replace.map((id) => context.model.nameOf(id)).join(', ')}</dd>
            {renewed.length > 0 && (
              <>
                <dt className="text-quiet">Renewed</dt>
                <dd>{renewed.map((id) => context.model.nameOf(id)).join(', ')}</dd>
              </>
            )}
            {job.plan.transfers.length > 0 && (
              <>
                <dt className="text-quiet">Moved</dt>
                <dd>{job.plan.transfers.map((t) => context.model.nameOf(t.part)).join(', ')}</dd>
              </>
            )}
            {job.plan.losses.length > 0 && !state.agreed && (
              <>
                <dt className="text-quiet">Losses</dt>
                <dd className="font-semibold text-crimson">not agreed with the customer</dd>
              </>
            )}
            {state.agreed && (
              <>
                <dt className="text-quiet">Losses agreed</dt>
                <dd>{format(new Date(state.agreed.at), 'd MMM yyyy, HH:mm')}</dd>
              </>
            )}
          </dl>
          <ul className="mt-3 grid grid-cols-2 gap-x-4 gap-y-1" aria-label="Tests">
            {asked.map((id) => {
              const result = state.tests.get(id);
              const sign = !result ? '·' : { pass: '✓', fail: '✗', waived: '○' }[result.outcome];
              return (
                <li key={id} className={!result ? 'text-quiet' : result.outcome === 'fail' ? 'text-crimson' : ''}>
                  <span className="num mr-2">{sign}</span>
                  {functionIn(context.model.anatomy, id).name}
                  {result?.outcome === 'waived' && ' (waived)'}
                </li>
              );
            })}
          </ul>
        </section>
        {state.deviations.length > 0 && (
          <section className="panel p-5" aria-labelledby="deviations">
            <h2 id="deviations" className="mb-2 text-xl font-semibold">
              Deviations
            </h2>
            <ul className="grid gap-1">
              {state.deviations.map((d, i) => (
                <li key={i}>
                  <b>
                    {d.item === null
                      ? 'Device'
                      : context.model.items.has(d.item)
                        ? context.model.nameOf(d.item)
                        : d.item}
                  </b>
                  : {spoken.deviations[d.kind]}. {d.note}
                </li>
              ))}
            </ul>
          </section>
        )}
        {torques.length > 0 && (
          <section className="panel p-5" aria-labelledby="torque">
            <h2 id="torque" className="mb-2 text-xl font-semibold">
              Torque
            </h2>
            <TorqueChart model={context.model} readings={torques} />
            <p className="num mt-2 text-sm text-quiet">
              {torques.map((t) => `${t.fastener} ${t.value}`).join(', ')} N·cm
            </p>
          </section>
        )}
        {state.photos.length > 0 && (
          <section className="panel p-5" aria-labelledby="photos">
            <h2 id="photos" className="mb-2 text-xl font-semibold">
              Photographs
            </h2>
            <ul className="flex flex-wrap gap-3">
              {state.photos.map((p, i) => (
                <li key={i}>
                  <a href={`/api/photos/${p.photo}`}>
                    <img
                      src={`/api/photos/${p.photo}/thumb`}
                      alt={place(p.step) ? `Step ${place(p.step)}` : p.note || 'Photograph'}
                      className="h-28 rounded-md"
                    />
                  </a>
                  <span className="block text-sm text-quiet">{place(p.step) ? `step ${place(p.step)}` : p.note}</span>
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
      <section className="panel p-5" aria-labelledby="log">
        <h2 id="log" className="mb-2 text-xl font-semibold">
          What happened
        </h2>
        {events.length + pending.length === 0 ? (
          <p className="text-quiet">Nothing yet.</p>
        ) : (
          <ol className="max-h-[40rem] space-y-1 overflow-auto text-sm" tabIndex={0} aria-label="Log">
            {[...events, ...pending].toReversed().map((e) => (
              <li key={e.id} className="grid grid-cols-[5.5rem_minmax(0,1fr)] gap-2">
                <time className="num text-quiet">{format(new Date(e.at), 'HH:mm:ss')}</time>
                <span>{tellEvent(context, e)}</span>
              </li>
            ))}
          </ol>
        )}
      </section>
    </div>
  );
}
