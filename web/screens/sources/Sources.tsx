import { useEffect, useRef, useState } from 'react';
import type { HouseRules } from '../../../core/dive/index.ts';
import {
  LIMITS,
  MATERIALS,
  PLATES,
  SOURCE_KINDS,
  SOURCES,
  sourceOf,
  ZONES,
  type Calibration,
  type Reading,
  type SourceKind,
} from '../../../core/heat/index.ts';
import type { RuleSet } from '../../../core/jobs/index.ts';
import { Button, Loading, ProblemNote } from '../../controls/index.tsx';
import { CautionLine } from '../../controls/CautionLine.tsx';
import { NumberField } from '../../controls/NumberField.tsx';
import { api, messageOf } from '../../state/api.ts';
import { useLoad } from '../../state/useLoad.ts';
import { calibrationInWorker } from '../../workers/heat.ts';
import { readingsOf } from './readings.ts';
import { late } from '../../controls/late.tsx';
import { spoken } from '../../../words/index.ts';

const FitChart = late(
  () => import('./FitChart.tsx'),
  () => <div className="h-64" />,
);

/** The shop's heat sources: what is assumed of each, and what a thermometer on a plate says of it. */
export default function Sources() {
  const { data: sets, problem, reload } = useLoad<RuleSet[]>('/rules');
  const set = sets?.find((s) => s.chosen) ?? null;
  const [kind, setKind] = useState<SourceKind>('mat');
  if (!set) return problem ? <ProblemNote>{problem}</ProblemNote> : <Loading what="the heat sources" />;
  return (
    <div className="mx-auto max-w-7xl">
      <h1 className="mb-1 text-3xl font-bold">Heat sources</h1>
      <p className="mb-4 text-quiet">
        What the solver assumes of each, with its origin, and what your own gives. The values belong to the house rules
        in use: {set.name}.
      </p>
      <div className="grid gap-5 lg:grid-cols-[24rem_minmax(0,1fr)]">
        <section aria-label="Sources" className="grid content-start gap-2">
          {SOURCE_KINDS.map((k) => {
            const own = set.rules.sources[k];
            return (
              <button
                key={k}
                type="button"
                aria-pressed={k === kind}
                onClick={() => setKind(k)}
                className={
                  `grid min-h-20 content-center rounded-xl border-2 bg-panel px-4 py-2 ` +
                  `text-left ${k === kind ? 'border-petrol' : 'border-transparent'}`
                }
              >
                <span className="flex justify-between gap-3 text-lg font-semibold">
                  {spoken.sources[k]}
                  <span className="num">{sourceOf(k, own).set} °C</span>
                </span>
                <span className={own?.conductance ? 'font-semibold text-moss' : 'text-quiet'}>
                  {own?.conductance ? '✓ own value ' : ''}
                  <span className="num">{sourceOf(k, own).conductance.toFixed(0)} W/m²K</span>
                  {own?.conductance ? '' : ' assumed'}
                </span>
                <span className="text-sm text-quiet">{SOURCES[k].origin}</span>
              </button>
            );
          })}
        </section>
        <Calibrate key={kind} kind={kind} set={set} saved={reload} />
      </div>
      <div className="mt-5 grid gap-5 lg:grid-cols-2">
        <section aria-labelledby="limits" className="panel overflow-x-auto p-5">
          <h2 id="limits" className="mb-2 text-xl font-semibold">
            Limits
          </h2>
          <table className="w-full text-left">
            <thead className="text-sm text-quiet">
              <tr>
                <th scope="col" className="font-normal">
                  of the
                </th>
                <th scope="col" className="px-3 text-right font-normal">
                  caution
                </th>
                <th scope="col" className="px-3 text-right font-normal">
                  stop
                </th>
                <th scope="col" className="pl-4 font-normal">
                  where it comes from
                </th>
              </tr>
            </thead>
            <tbody>
              {ZONES.map((z) => (
                <tr key={z} className="border-t border-line">
                  <th scope="row" className="py-2 pr-3 font-semibold">
                    {spoken.zones[z]}
                  </th>
                  <td className="num px-3 text-right whitespace-nowrap">{LIMITS[z].caution} °C</td>
                  <td className="num px-3 text-right whitespace-nowrap">{LIMITS[z].stop} °C</td>
                  <td className="pl-4 text-sm text-quiet">{LIMITS[z].origin}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="mt-2 text-sm text-quiet">
            A maker's own limits go before these. None of them says that less is harmless.
          </p>
        </section>
        <section aria-labelledby="materials" className="panel overflow-x-auto p-5">
          <h2 id="materials" className="mb-2 text-xl font-semibold">
            What heat meets
          </h2>
          <table className="w-full text-left">
            <thead className="text-sm text-quiet">
              <tr>
                {['', 'in plane', 'through, W/m·K', 'kg/m³', 'J/kg·K'].map((h, i) => (
                  <th key={h} scope="col" className={`font-normal ${i > 0 ? 'pl-3 text-right' : ''}`}>
                    {h || 'material'}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {Object.values(MATERIALS).map((m) => (
                <tr key={m.name} className="border-t border-line" title={m.source}>
                  <th scope="row" className="py-1 pr-3 font-normal">
                    {m.name}
                    <span className="block text-xs text-quiet">{m.source}</span>
                  </th>
                  {[m.inPlane, m.through, m.density, m.specificHeat].map((v, i) => (
                    <td key={i} className="num pl-3 text-right">
                      {v}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </section>
      </div>
    </div>
  );
}

function Calibrate({ kind, set, saved }: { kind: SourceKind; set: RuleSet; saved: () => void }) {
  const source = sourceOf(kind, set.rules.sources[kind]);
  const [plate, setPlate] = useState(PLATES[0]!.id);
  const [at, setAt] = useState(source.set);
  const [text, setText] = useState('');
  const [watching, setWatching] = useState(false);
  const [speed, setSpeed] = useState(10);
  const [fit, setFit] = useState<Calibration | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [note, setNote] = useState<string | null>(null);
  const stream = useRef<EventSource | null>(null);
  const stop = () => {
    stream.current?.close();
    stream.current = null;
    setWatching(false);
  };
  useEffect(() => () => stream.current?.close(), []);
  const { readings, fault } = readingsOf(text);
  const watch = () => {
    setText('');
    setFit(null);
    setNote(null);
    setWatching(true);
    const events = new EventSource(
      `/api/opening/plate?source=${kind}&plate=${plate}&set=${at}&room=${set.rules.room}&speed=${speed}`,
    );
    stream.current = events;
    events.addEventListener('reading', (e) => {
      const r = JSON.parse((e as MessageEvent<string>).data) as Reading;
      setText((t) => `${t}${r.time} ${r.temperature.toFixed(1)}\n`);
    });
    events.addEventListener('end', stop);
    events.onerror = stop;
  };
  const solve = () => {
    setProblem(null);
    setNote(null);
    // A typed thermometer is taken to be as quick as the usual taped bead.
    calibrationInWorker(readings, plate, kind, { ...set.rules.sources[kind], set: at }, set.rules.room, 4).result.then(
      (told) => {
        setFit('ok' in told ? told.ok : null);
        if ('refused' in told) setProblem(told.refused);
      },
      (error) => setProblem(messageOf(error)),
    );
  };
  const keep = async (conductance: number | null) => {
    const own = { ...set.rules.sources[kind] };
    if (conductance === null) delete own.conductance;
    else own.conductance = Math.round(conductance * 10) / 10;
    const rules: HouseRules = { ...set.rules, sources: { ...set.rules.sources, [kind]: own } };
    try {
      await api(`/rules/${set.id}`, { method: 'PUT', json: { name: set.name, rules }, ifMatch: set.revision });
      setNote(
        conductance === null ? 'The default is used again.' : `Kept: new dives reckon with ${own.conductance} W/m²K.`,
      );
      saved();
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <section aria-label={`Calibrate the ${spoken.sources[kind]}`} className="panel grid content-start gap-4 p-5">
      <h2 className="text-xl font-semibold">Calibrate the {spoken.sources[kind]}</h2>
      <p className="max-w-[70ch] text-quiet">
        Let the source reach its setting. Lay a plate of known make on it with a thermometer on the far face, note
        seconds and °C from the moment it lies there, and fit.
      </p>
      <div className="flex flex-wrap items-end gap-3">
        <label>
          <span className="label">Plate</span>
          <select
            className="field"
            value={plate}
            onChange={(e) => {
              setPlate(e.target.value);
              setFit(null);
            }}
          >
            {PLATES.map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
          </select>
        </label>
        <NumberField
          label="Set, °C"
          value={at}
          bounds={source}
          onChange={(v) => {
            setAt(v);
            setFit(null);
          }}
        />
        <label className="w-28">
          <span className="label">Clock</span>
          <select className="field" value={speed} onChange={(e) => setSpeed(Number(e.target.value))}>
            {[1, 10, 60].map((s) => (
              <option key={s} value={s}>
                × {s}
              </option>
            ))}
          </select>
        </label>
        {watching ? (
          <Button onClick={stop}>Stop</Button>
        ) : (
          <Button disabled={!Number.isFinite(at)} onClick={watch}>
            Watch the thermometer (simulated)
          </Button>
        )}
      </div>
      <div className="grid gap-4 md:grid-cols-[12rem_minmax(0,1fr)]">
        <label>
          <span className="label">Readings: s, °C</span>
          <textarea
            className="field num h-72"
            spellCheck={false}
            value={text}
            placeholder={'10 24.1\n20 27.0\n30 29.6'}
            onChange={(e) => {
              setText(e.target.value);
              setFit(null);
            }}
          />
        </label>
        <div className="grid content-start gap-3">
          {readings.length > 1 ? (
            <FitChart readings={readings} fitted={fit?.fitted ?? null} />
          ) : (
            <p className="grid h-64 place-items-center text-quiet">Watch the thermometer, or type what you read.</p>
          )}
          <div className="flex flex-wrap items-center gap-3">
            <Button
              weight="main"
              disabled={readings.length < 5 || fault !== null || watching || !Number.isFinite(at)}
              onClick={solve}
            >
              Fit {readings.length} readings
            </Button>
            {set.rules.sources[kind]?.conductance && (
              <Button onClick={() => void keep(null)}>Back to the default</Button>
            )}
          </div>
          {(fault ?? problem) && <ProblemNote>{fault ?? problem}</ProblemNote>}
          {fit && (
            <div className="flex flex-wrap items-center justify-between gap-3" data-testid="fit">
              <p>
                <b className="num text-2xl">{fit.conductance.toFixed(0)} W/m²K</b>{' '}
                <span className="num text-quiet">
                  {fit.low.toFixed(0)} to {fit.high.toFixed(0)} (95 %), readings scatter by {fit.deviation.toFixed(2)} K
                </span>
              </p>
              <Button weight="main" onClick={() => void keep(fit.conductance)}>
                Keep it as ours
              </Button>
            </div>
          )}
          {note && (
            <p role="status" className="font-semibold text-moss">
              ✓ {note}
            </p>
          )}
        </div>
      </div>
      <CautionLine caution="hot" />
    </section>
  );
}
