import { useEffect, useState } from 'react';
import type { Fastener } from '../../../core/anatomy/index.ts';
import type { EventBody } from '../../../core/run/index.ts';
import { judgeTorque, torqueTarget, type TorqueSample, type TorqueVerdict } from '../../../core/screws/index.ts';
import { torqueUnits } from '../../../core/units/index.ts';
import { Button, Check } from '../../controls/index.tsx';
import { usePrefs } from '../../state/prefs.ts';
import { useRunOf } from '../../state/run.ts';

const WORDS: Record<TorqueVerdict, { word: string; advice: string }> = {
  good: { word: '✓ good', advice: '' },
  under: { word: '▽ under', advice: 'Drive it again to its torque.' },
  over: {
    word: '△ over',
    advice: 'Look at the head and the thread; renew it if either is marked. It is noted in the record.',
  },
  'cross-threaded': {
    word: '✕ cross-threaded',
    advice: 'Take it out. Turn backwards until the thread drops in, then drive it again.',
  },
};

/** Turns the torque driver of this bench on and off. */
export function DriverSwitch() {
  const { torqueDriver, setTorqueDriver } = usePrefs();
  return (
    <Check
      className="px-2 text-lg"
      checked={torqueDriver}
      onChange={(e) => {
        setTorqueDriver(e.target.checked);
        e.currentTarget.blur();
      }}
    >
      Torque driver (simulated)
    </Check>
  );
}

/** One screw driven: its torque as it comes, the judgement, and what is recorded of it. */
export function TorquePanel({
  job,
  screw,
  step,
  close,
}: {
  job: string;
  screw: Fastener;
  step: string;
  close: () => void;
}) {
  const { record, tap } = useRunOf('record', 'tap');
  const [samples, setSamples] = useState<TorqueSample[]>([]);
  const [ended, setEnded] = useState(false);
  const [round, setRound] = useState(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: each round drives the screw once more
  useEffect(() => {
    setSamples([]);
    setEnded(false);
    const stream = new EventSource(`/api/screws/driver/${job}/${screw.id}`);
    stream.addEventListener('sample', (e) =>
      setSamples((list) => [...list, JSON.parse((e as MessageEvent<string>).data) as TorqueSample]),
    );
    const end = () => {
      stream.close();
      setEnded(true);
    };
    stream.addEventListener('end', end);
    stream.onerror = end;
    return () => stream.close();
  }, [job, screw.id, round]);
  const target = torqueTarget(screw);
  const result = ended && samples.length > 0 ? judgeTorque(screw, samples) : null;
  const peak = Math.max(0, ...samples.map((s) => s.torque));
  const units = torqueUnits(target.target);
  const said = (verdict: TorqueVerdict, value: number, accepted: boolean): EventBody => ({
    type: 'torque',
    step,
    fastener: screw.id,
    peak: Math.round(value * 10) / 10,
    verdict,
    accepted,
  });
  const finish = (verdict: TorqueVerdict, value: number) => {
    const bodies: EventBody[] = [said(verdict, value, true)];
    if (verdict === 'over')
      bodies.push({
        type: 'note',
        step,
        text: '',
        said: { code: 'driven-above', item: screw.id, torque: value, high: target.high },
      });
    record(bodies);
    if (verdict === 'good' || verdict === 'over') tap(step, screw.id);
    close();
  };
  useEffect(() => {
    if (result?.verdict === 'good') finish('good', result.peak);
  });
  const full = target.high * 1.4;
  const share = (v: number) => `${Math.min(100, (100 * v) / full)}%`;
  return (
    <section data-testid="torque" aria-live="polite" aria-label={`Torque of ${screw.id}`} className="panel p-5">
      <p className="text-xl">
        <b>{screw.id}</b> to <span className="num">{target.target}</span> N·cm{' '}
        <span className="num text-base text-quiet">
          {units.kgfcm.toFixed(2)} kgf·cm, {units.mNm.toFixed(0)} mN·m, {units.lbfin.toFixed(2)} lbf·in
          {target.from === 'default' && ', by thread'}
          {target.from === 'estimate' && `, own estimate: ${target.low} to ${target.high} N·cm, no limit of a standard`}
        </span>
      </p>
      <div className="relative mt-3 h-9 rounded-lg bg-sunk">
        <div
          className="absolute inset-y-0 border-x-3 border-moss"
          style={{ left: share(target.low), right: `calc(100% - ${share(target.high)})` }}
        />
        <div
          className={`absolute inset-y-1 left-0 rounded-lg ${result && result.verdict !== 'good' ? 'bg-crimson' : 'bg-brass'}`}
          style={{ width: share(samples.at(-1)?.torque ?? 0) }}
        />
      </div>
      <p className="mt-2 text-xl">
        <span className="num">{peak.toFixed(1)}</span> N·cm{' '}
        {result && (
          <b className={result.verdict === 'good' ? 'text-moss' : 'text-crimson'}>{WORDS[result.verdict].word}</b>
        )}
      </p>
      {ended && samples.length === 0 && (
        <p className="text-lg text-crimson">
          The driver said nothing. Drive it again, or by hand with Space after turning the driver off.
        </p>
      )}
      {result && result.verdict !== 'good' && <p className="text-lg">{WORDS[result.verdict].advice}</p>}
      {ended && result?.verdict !== 'good' && (
        <div className="mt-3 flex gap-2">
          <Button
            weight="main"
            className="text-lg"
            onClick={() => {
              if (result) record([said(result.verdict, result.peak, false)]);
              setRound(round + 1);
            }}
          >
            Drive it again
          </Button>
          {result?.verdict === 'over' && (
            <Button className="text-lg" onClick={() => finish('over', result.peak)}>
              It is sound: go on
            </Button>
          )}
          <Button weight="quiet" className="text-lg" onClick={close}>
            Leave it out for now
          </Button>
        </div>
      )}
    </section>
  );
}
