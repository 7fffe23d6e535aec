import { useEffect, useRef, useState } from 'react';
import type { Model } from '../../../core/anatomy/index.ts';
import { DEFAULT_RULES, type HeatSetting, type HouseRules, type Step } from '../../../core/dive/index.ts';
import { LIMITS, type Following, type HeatReading } from '../../../core/heat/index.ts';
import type { EventBody } from '../../../core/run/index.ts';
import { clock } from '../../../core/units/index.ts';
import { Check } from '../../controls/index.tsx';
import { messageOf } from '../../state/api.ts';
import { serverNow } from '../../state/clock.ts';
import { usePrefs } from '../../state/prefs.ts';
import { useRunOf } from '../../state/run.ts';
import { follower } from '../../workers/heat.ts';
import { spoken } from '../../../words/index.ts';

/** Heat steps that a thermometer can be laid beside: the device lies still on its source. */
export function canFollow(step: Step): step is Step & { heat: HeatSetting } {
  return (
    step.do === 'heat' &&
    !!step.heat &&
    (step.heat.source === 'mat' || step.heat.source === 'pad') &&
    step.heat.softensAt !== null
  );
}

/** Turns the thermometers of this bench on and off; they are stand-ins, so their clock can run faster. */
export function ThermometerSwitch() {
  const { thermometers, setThermometers, clockSpeed, setClockSpeed } = usePrefs();
  return (
    <div className="flex flex-wrap items-center gap-x-6">
      <Check
        className="px-2 text-lg"
        checked={thermometers}
        onChange={(e) => {
          setThermometers(e.target.checked);
          e.currentTarget.blur();
        }}
      >
        Thermometers (simulated)
      </Check>
      {thermometers && (
        <label className="flex items-center gap-2 text-lg">
          their clock
          <select
            className="field !w-auto"
            value={clockSpeed}
            onChange={(e) => {
              setClockSpeed(Number(e.target.value));
              e.currentTarget.blur();
            }}
          >
            {[1, 10, 60].map((s) => (
              <option key={s} value={s}>
                × {s}
              </option>
            ))}
          </select>
        </label>
      )}
    </div>
  );
}

/** Seconds of heating between two readings that go into the record, and how many are held against the model. Origin: own choice. */
const RECORDED_EVERY = 20;
const HELD = 90;
/** By how much a peak has to grow to be recorded anew, K. Origin: own choice, the scatter of a thermometer. */
const PEAK_STEP = 1;

/** A short tone, where the browser lets one sound. */
function sound(): void {
  try {
    const audio = new AudioContext();
    const tone = audio.createOscillator();
    tone.frequency.value = 880;
    tone.connect(audio.destination);
    tone.start();
    tone.stop(audio.currentTime + 0.6);
  } catch {
    // No sound here; the words stand on the screen.
  }
}

/**
 * A device on its heat, followed by its thermometers: the time that is left as it is now known, what nears a limit,
 * and when the seam is soft.
 */
export function HeatFollow({
  job,
  step,
  model,
  rules,
  startedAt,
  onSoft,
  onTime,
}: {
  job: string;
  step: Step & { heat: HeatSetting };
  model: Model;
  rules: HouseRules;
  startedAt: string;
  onSoft: (startedAt: string, reason: string) => void;
  onTime: (left: number | null) => void;
}) {
  const { record } = useRunOf('record');
  const speed = usePrefs((s) => s.clockSpeed);
  const [reading, setReading] = useState<HeatReading | null>(null);
  const [at, setAt] = useState<Following | null>(null);
  const [curve, setCurve] = useState<readonly HeatReading[]>([]);
  const [problem, setProblem] = useState<string | null>(null);
  const told = useRef({ soft: false, warning: false, peak: Number.NEGATIVE_INFINITY, recorded: 0 });
  const { heat, items, id } = step;
  const bond = items[0]!;

  useEffect(() => {
    const { heat: solver, close } = follower();
    const readings: HeatReading[] = [];
    let ready = false;
    let asking = false;
    let over = false;
    const house = { ...DEFAULT_RULES, ...rules };
    const elapsed = Math.max(0, (serverNow() - new Date(startedAt).getTime()) / 1000) * speed;
    const stream = new EventSource(`/api/opening/mat/${job}/${id}?speed=${speed}&from=${Math.round(elapsed)}`);
    solver
      .prepare(model.anatomy, bond, heat.source, { ...house.sources[heat.source], set: heat.set }, house.room, {
        softensAt: heat.softensAt!,
        face: heat.on,
        off: heat.off,
      })
      .then(
        (r) => {
          if ('refused' in r) setProblem(r.refused);
          else ready = true;
        },
        (error) => setProblem(messageOf(error)),
      );
    const tell = (now: HeatReading, f: Following) => {
      const events: EventBody[] = [];
      const said = told.current;
      if (now.time - said.recorded >= RECORDED_EVERY) {
        said.recorded = now.time;
        events.push(
          ...(['back', 'seam'] as const).map(
            (at): EventBody => ({
              type: 'reading',
              sensor: 'thermometer',
              value: now[at],
              unit: '°C',
              heated: { step: id, at },
            }),
          ),
        );
      }
      const zone = f.zone ? LIMITS[f.zone] : null;
      if (zone && f.state === 'warning' && !said.warning) {
        said.warning = true;
        events.push({
          type: 'note',
          step: id,
          text: '',
          said: { code: 'warned-of-heat', zone: f.zone!, celsius: zone.stop, duration: now.time },
        });
      }
      const peak = Math.max(now.back, now.seam);
      if (zone && f.state === 'alarm' && peak >= said.peak + PEAK_STEP) {
        if (said.peak === Number.NEGATIVE_INFINITY) sound();
        said.peak = peak;
        const note = `The ${spoken.zones[f.zone!]} passed ${zone.stop} °C after ${clock(now.time)}, by the thermometers.`;
        events.push({ type: 'deviation', item: bond, kind: 'overheated', note, value: Math.round(peak * 10) / 10 });
      }
      if (events.length > 0) record(events);
      // Red beats green: a seam that is soft beside something too hot is no reason to go on.
      if (f.softAt !== null && now.time >= f.softAt && f.state !== 'alarm' && !said.soft) {
        said.soft = true;
        onSoft(
          startedAt,
          `soft by the thermometers after ${clock(now.time)}: the coldest stretch has ${f.coldest.toFixed(0)} °C`,
        );
      }
    };
    const ask = async () => {
      if (!ready || asking || over || readings.length === 0) return;
      asking = true;
      const now = readings.at(-1)!;
      const every = Math.max(1, Math.ceil(readings.length / HELD));
      const held = readings.filter((_, i) => i % every === 0 || i === readings.length - 1);
      const f = await solver.follow(held, now.time).catch(() => null);
      asking = false;
      if (over || !f) return;
      setReading(now);
      setAt(f);
      setCurve(held);
      onTime(f.remaining);
      tell(now, f);
    };
    stream.addEventListener('reading', (e) => {
      readings.push(JSON.parse((e as MessageEvent<string>).data) as HeatReading);
      void ask();
    });
    stream.addEventListener('end', () => stream.close());
    stream.onerror = () => {
      stream.close();
      if (!over && readings.length === 0) setProblem('the thermometers say nothing; go by the clock and your hand');
    };
    return () => {
      over = true;
      onTime(null);
      stream.close();
      close();
    };
  }, [job, id, bond, heat, model, rules, startedAt, speed, record, onSoft, onTime]);

  const soft = at?.softAt != null && reading !== null && reading.time >= at.softAt && at.state !== 'alarm';
  const zone = at?.zone ? LIMITS[at.zone] : null;
  const bar = (label: string, value: number | undefined, limit: number, word: string, colour: string) =>
    value === undefined ? null : (
      <div className="grid grid-cols-[7.5rem_minmax(0,1fr)_9.5rem] items-center gap-3 text-lg">
        <span>{label}</span>
        <span className="relative h-6 rounded bg-sunk">
          <span
            className={`absolute inset-y-0 left-0 rounded ${colour}`}
            style={{ width: `${Math.min(100, Math.max(0, (100 * (value - 20)) / (limit + 8 - 20)))}%` }}
          />
          <span
            className="absolute inset-y-0 w-1 bg-ink"
            style={{ left: `${(100 * (limit - 20)) / (limit + 8 - 20)}%` }}
          />
        </span>
        <span>
          <b className="num">{value.toFixed(0)} °C</b>{' '}
          <span className="text-quiet">
            {word} {limit}
          </span>
        </span>
      </div>
    );
  return (
    <section
      data-testid="heat-follow"
      data-state={soft && at?.state !== 'alarm' && at?.state !== 'warning' ? 'soft' : (at?.state ?? 'waiting')}
      aria-label="Thermometers"
      className="flex min-h-0 flex-col gap-4 overflow-auto p-3 *:shrink-0"
    >
      {problem && (
        <p role="alert" className="text-lg font-semibold text-crimson">
          {problem}
        </p>
      )}
      {!at && !problem && <p className="text-lg text-quiet">Reading the thermometers…</p>}
      {at && reading && (
        <>
          {zone && at.state === 'alarm' && (
            <p role="alert" className="rounded-lg bg-crimson p-4 text-2xl font-bold text-on-job">
              ✕ Take it off the heat: the {spoken.zones[at.zone!]} has passed {zone.stop} °C. Let it cool; if it swells,
              hisses or smokes, stop.
            </p>
          )}
          {zone && at.state === 'warning' && (
            <p role="alert" className="rounded-lg border-4 border-crimson p-3 text-xl font-bold text-crimson">
              ▲ The {spoken.zones[at.zone!]} nears {zone.stop} °C
              {at.zoneAt !== null && at.zoneAt > reading.time && (
                <>
                  , in <span className="num">{clock(at.zoneAt - reading.time)}</span>
                </>
              )}
              . Be ready to take it off.
            </p>
          )}
          <p className="text-2xl">
            {soft ? (
              <b className="text-moss">✓ Soft all round: go on</b>
            ) : at.remaining === null ? (
              <b className="text-crimson">At this setting it does not get soft within half an hour</b>
            ) : (
              <>
                <span className="num text-5xl font-bold" data-testid="heat-remaining">
                  {clock(at.remaining)}
                </span>{' '}
                to go by the thermometers
              </>
            )}
          </p>
          {bar('seam, coldest', at.coldest, step.heat.softensAt!, 'soft at', 'bg-mauve')}
          {bar('cell', at.zones.cell, LIMITS.cell.stop, 'stop at', 'bg-ember')}
          {bar('panel', at.zones.panel, LIMITS.panel.stop, 'stop at', 'bg-teal')}
          {at.state !== 'alarm' && at.state !== 'warning' && (
            <Curve readings={curve} softensAt={step.heat.softensAt!} softAt={at.softAt} />
          )}
          <p className="text-quiet">
            On the heat <span className="num">{clock(reading.time)}</span> · back{' '}
            <span className="num">{reading.back.toFixed(1)} °C</span>, seam{' '}
            <span className="num">{reading.seam.toFixed(1)} °C</span> · it gives{' '}
            <span className="num">
              {at.factor.toFixed(2)} ± {Math.max(0.01, at.factor * at.uncertainty).toFixed(2)}
            </span>{' '}
            of what was assumed
          </p>
        </>
      )}
    </section>
  );
}

/** What the thermometers have said so far, and when the seam will be soft if it goes on like that. */
function Curve({
  readings,
  softensAt,
  softAt,
}: {
  readings: readonly HeatReading[];
  softensAt: number;
  softAt: number | null;
}) {
  const [width, height, base] = [460, 130, 18];
  const last = readings.at(-1)?.time ?? 0;
  const end = Math.max(60, last, (softAt ?? 0) * 1.15);
  const most = Math.max(softensAt + 8, ...readings.map((r) => r.seam + 4));
  const x = (t: number) => (width * t) / end;
  const y = (v: number) => height - base - ((height - base - 6) * (v - 20)) / (most - 20);
  const line = (of: (r: HeatReading) => number) =>
    readings.map((r, i) => `${i === 0 ? 'M' : 'L'}${x(r.time).toFixed(1)} ${y(of(r)).toFixed(1)}`).join('');
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={`Readings so far${softAt === null ? '' : `; soft after ${clock(softAt)}`}`}
      className="w-full"
    >
      <path d={`M0 ${height - base}H${width}`} stroke="var(--line)" />
      <path d={`M0 ${y(softensAt)}H${width}`} stroke="var(--mauve)" strokeWidth={1.5} strokeDasharray="3 4" />
      <text x={4} y={y(softensAt) - 5} fontSize={13} fill="var(--mauve)">
        soft {softensAt} °C
      </text>
      <path d={line((r) => r.back)} fill="none" stroke="var(--teal)" strokeWidth={2.5} strokeDasharray="7 4" />
      <path d={line((r) => r.seam)} fill="none" stroke="var(--mauve)" strokeWidth={3} />
      {softAt !== null && (
        <>
          <path d={`M${x(softAt)} 4V${height - base}`} stroke="var(--ink)" strokeWidth={2} />
          <text x={x(softAt) - 5} y={height - 4} textAnchor="end" fontSize={13} fill="var(--ink)">
            soft at {clock(softAt)}
          </text>
        </>
      )}
      <text x={4} y={height - 4} fontSize={13} fill="var(--quiet)">
        seam —— back – –
      </text>
    </svg>
  );
}
