import { CircleHelp, RectangleVertical, Smartphone, Tablet, type LucideIcon } from 'lucide-react';
import type { AnatomySummary, UnlistedDevice } from '../../../core/jobs/index.ts';
import { readNumber } from '../../../core/units/index.ts';

type Kind = AnatomySummary['kind'];

const KINDS: Record<Kind, { word: string; icon: LucideIcon }> = {
  phone: { word: 'phone', icon: Smartphone },
  tablet: { word: 'tablet', icon: Tablet },
  'keypad-phone': { word: 'keypad phone', icon: RectangleVertical },
};

const card = (chosen: boolean) =>
  `flex cursor-pointer items-center gap-3 rounded-lg border-2 px-4 py-3 has-focus-visible:outline-3 ` +
  `has-focus-visible:outline-petrol ${chosen ? 'border-petrol bg-sunk' : 'border-line'}`;

/** The devices that the shop knows, and the one that it does not. */
export function Devices({
  list,
  chosen,
  unlisted,
  choose,
}: {
  list: AnatomySummary[];
  chosen: string | null;
  unlisted: boolean;
  choose: (id: string | null) => void;
}) {
  return (
    <div role="radiogroup" aria-label="Device" className="grid gap-2 sm:grid-cols-2">
      {list.map((a) => {
        const { icon: Icon, word } = KINDS[a.kind];
        return (
          <label key={a.id} className={card(a.id === chosen)}>
            <input
              type="radio"
              name="anatomy"
              className="sr-only"
              checked={a.id === chosen}
              onChange={() => choose(a.id)}
            />
            <Icon className="size-8 shrink-0 text-quiet" aria-hidden="true" />
            <span className="min-w-0">
              <span className="block text-lg leading-tight font-semibold break-words">
                {a.maker} {a.name}
              </span>
              <span className="num text-sm text-quiet">
                {word}, {a.parts} parts, {a.fasteners} screws, {a.connectors} connectors
              </span>
            </span>
          </label>
        );
      })}
      <label className={card(unlisted)}>
        <input type="radio" name="anatomy" className="sr-only" checked={unlisted} onChange={() => choose(null)} />
        <CircleHelp className="size-8 shrink-0 text-quiet" aria-hidden="true" />
        <span>
          <span className="block text-lg leading-tight font-semibold">In no list</span>
          <span className="text-sm text-quiet">opened with acts; its anatomy is learnt as it goes</span>
        </span>
      </label>
    </div>
  );
}

/** A device in no list, as it is typed. */
export interface Unlisted {
  name: string;
  kind: Kind;
  width: string;
  height: string;
  thickness: string;
  /** Id of a known device that it looks like. */
  like: string;
  wanted: string;
}

export const NOTHING_TYPED: Unlisted = {
  name: '',
  kind: 'phone',
  width: '',
  height: '',
  thickness: '',
  like: '',
  wanted: '',
};

export const deviceOf = (typed: Unlisted): UnlistedDevice => ({
  name: typed.name.trim(),
  kind: typed.kind,
  width: readNumber(typed.width),
  height: readNumber(typed.height),
  thickness: readNumber(typed.thickness),
  like: typed.like || null,
  wanted: typed.wanted.trim(),
});

const MEASURES = [
  ['width', 'Width'],
  ['height', 'Height'],
  ['thickness', 'Thickness'],
] as const;

export function UnlistedFields({
  device,
  list,
  change,
}: {
  device: Unlisted;
  /** Known devices, one of which it may look like. */
  list: readonly AnatomySummary[];
  change: (device: Unlisted) => void;
}) {
  return (
    <fieldset className="grid gap-3 sm:grid-cols-3">
      <legend className="sr-only">A device in no list</legend>
      <label className="sm:col-span-2">
        <span className="label">What it is</span>
        <input
          className="field"
          value={device.name}
          maxLength={120}
          onChange={(e) => change({ ...device, name: e.target.value })}
        />
      </label>
      <label>
        <span className="label">Kind</span>
        <select
          className="field"
          value={device.kind}
          onChange={(e) => change({ ...device, kind: e.target.value as Kind })}
        >
          {Object.entries(KINDS).map(([kind, { word }]) => (
            <option key={kind} value={kind}>
              {word}
            </option>
          ))}
        </select>
      </label>
      {MEASURES.map(([key, word]) => {
        const wrong = device[key] !== '' && !((readNumber(device[key]) ?? 0) > 0);
        return (
          <label key={key}>
            <span className="label">{word}, mm, by caliper</span>
            <input
              className="field"
              inputMode="decimal"
              value={device[key]}
              aria-invalid={wrong}
              onChange={(e) => change({ ...device, [key]: e.target.value })}
            />
            {wrong && <span className="text-crimson">A number of mm: 71.5 or 71,5.</span>}
          </label>
        );
      })}
      <label className="sm:col-span-2">
        <span className="label">What is to be replaced</span>
        <input
          className="field"
          value={device.wanted}
          maxLength={120}
          onChange={(e) => change({ ...device, wanted: e.target.value })}
        />
      </label>
      <label>
        <span className="label">Looks like</span>
        <select className="field" value={device.like} onChange={(e) => change({ ...device, like: e.target.value })}>
          <option value="">nothing known</option>
          {list.map((a) => (
            <option key={a.id} value={a.id}>
              {a.maker} {a.name}
            </option>
          ))}
        </select>
      </label>
    </fieldset>
  );
}
