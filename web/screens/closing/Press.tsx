import type { Model } from '../../../core/anatomy/index.ts';
import { checkWords, type PressPlan, type PressWay } from '../../../core/closing/index.ts';
import { minutes } from '../../../core/units/index.ts';
import { Button, Measure } from '../../controls/index.tsx';
import { Panel } from '../counter/Panel.tsx';
import { sentence, tell } from '../../../words/index.ts';

const WAY_WORDS: Record<PressWay, (p: PressPlan) => string> = {
  weight: (p) => `Weights: ${p.weights.join(' + ')} kg, on foam cut to the bond`,
  clips: (p) =>
    `${p.clips.length} clips of ${p.clip!.newtons} N, foot ${p.clip!.foot} mm, as drawn${p.turns > 1 ? `, in ${p.turns} turns` : ''}`,
  bands: (p) => `${p.bands} bands over foam`,
  hand: () => 'By hand, stretch by stretch, all round',
};

const lower = (words: string): string => words.charAt(0).toLowerCase() + words.slice(1);

/** The load of a bond, what makes it, and for how long. */
export function Press({ model, press, start }: { model: Model; press: PressPlan; start: (() => void) | null }) {
  const others = (['weight', 'clips', 'bands'] as const).filter(
    (w) => w !== press.way && (w !== 'clips' || press.clips.length > 0) && (w !== 'bands' || press.bands > 0),
  );
  const load = press.panel.kilograms;
  return (
    <Panel id="press" title="Press it">
      <div className="flex flex-wrap gap-x-8 gap-y-2">
        <Measure
          value={load < 10 ? load.toFixed(1) : Math.round(load)}
          unit="kg"
          label={
            press.panel.bonds.length > 1
              ? `on the panel, over its ${press.panel.bonds.length} bonds`
              : `over ${Math.round(press.area)} mm²`
          }
        />
        <Measure value={minutes(press.seconds)} label="at least, under load" />
        <Measure value={`${Math.round(press.evenness * 100)}`} unit="%" label="at its weakest spot" />
      </div>
      <p className="text-lg font-semibold">{WAY_WORDS[press.way](press)}</p>
      <p className="text-quiet">
        {sentence(tell(model, press.because))}.
        {others.length > 0 && ` Or: ${others.map((w) => lower(WAY_WORDS[w](press))).join('; or ')}.`}
      </p>
      <ul className="grid gap-1">
        {press.checks.map((c) => (
          <li key={c.what.code} className={c.holds ? '' : 'border-l-4 border-crimson pl-3 font-semibold text-crimson'}>
            {c.holds ? '✓' : '✗'} {tell(model, c.what)}: <span className="num">{checkWords(c)}</span>.{' '}
            <span className="text-sm text-quiet">{tell(model, c.because)}</span>
          </li>
        ))}
        {press.avoided.map((a) => (
          <li key={a.part} className="text-sm">
            Moved aside at {model.nameOf(a.part)}: {tell(model, a.because)}.
          </li>
        ))}
      </ul>
      {press.notes.map((note) => (
        <p key={note.code} className="text-sm text-quiet">
          {tell(model, note)}
        </p>
      ))}
      {start && (
        <p>
          <Button weight="main" onClick={start}>
            It is under load: time {minutes(press.seconds)}
          </Button>
        </p>
      )}
    </Panel>
  );
}
