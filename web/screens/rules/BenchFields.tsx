import { ALL_TOOLS, type HouseRules } from '../../../core/dive/index.ts';
import { SOURCE_KINDS, SOURCES, type SourceKind } from '../../../core/heat/index.ts';
import { Check } from '../../controls/index.tsx';
import { ruleLimits } from '../../controls/bounds.ts';
import { NumberField } from '../../controls/NumberField.tsx';
import { toolName, spoken } from '../../../words/index.ts';

interface Fields {
  rules: HouseRules;
  set: (rules: Partial<HouseRules>) => void;
}

const isSource = (tool: string): tool is SourceKind => (SOURCE_KINDS as readonly string[]).includes(tool);

/** What the shop lacks, once `tool` is at hand or not. */
const lacking = (rules: HouseRules, tool: string, atHand: boolean): string[] =>
  atHand ? rules.lacks.filter((id) => id !== tool) : [...rules.lacks.filter((id) => id !== tool), tool];

/** The screw trays of a bench. */
export function TrayFields({ rules, set }: Fields) {
  return (
    <div className="flex flex-wrap gap-3">
      {(
        [
          ['trayRows', 'Rows of wells'],
          ['trayColumns', 'Wells in a row'],
          ['trays', 'Trays'],
        ] as const
      ).map(([key, label]) => (
        <NumberField
          key={key}
          label={label}
          value={rules[key]}
          bounds={ruleLimits(key)}
          onChange={(v) => set({ [key]: v })}
        />
      ))}
    </div>
  );
}

/** The heat sources at hand, what each is set to, and the one that is used first. */
export function SourceFields({ rules, set }: Fields) {
  return (
    <ul className="grid gap-1">
      {SOURCE_KINDS.map((kind) => {
        const { least, most, set: usual } = SOURCES[kind];
        const name = spoken.sources[kind];
        const first = rules.heat === kind;
        const atHand = first || !rules.lacks.includes(kind);
        return (
          <li key={kind} className="flex min-h-14 flex-wrap items-end gap-x-5 gap-y-1">
            <Check
              className="w-44"
              checked={atHand}
              disabled={first}
              onChange={(e) => set({ lacks: lacking(rules, kind, e.target.checked) })}
            >
              {name}
            </Check>
            {atHand && (
              <>
                <NumberField
                  label={`${name}, °C`}
                  value={rules.sources[kind]?.set ?? usual}
                  bounds={{ least, most }}
                  onChange={(v) => set({ sources: { ...rules.sources, [kind]: { ...rules.sources[kind], set: v } } })}
                />
                <label className="flex min-h-12 cursor-pointer items-center gap-3">
                  <input
                    type="radio"
                    name="first-source"
                    className="size-6 accent-petrol"
                    checked={first}
                    onChange={() => set({ heat: kind })}
                  />
                  used first
                </label>
              </>
            )}
          </li>
        );
      })}
    </ul>
  );
}

/** The tools at hand, from a bench drawer's list. */
export function ToolFields({
  rules,
  set,
  sources,
}: Fields & { /** The heat sources stand among them. */ sources: boolean }) {
  return (
    <div className="grid grid-cols-[repeat(auto-fill,minmax(min(100%,16rem),1fr))] gap-x-4">
      {ALL_TOOLS.filter((tool) => sources || !isSource(tool.id)).map((tool) => (
        <Check
          key={tool.id}
          checked={!rules.lacks.includes(tool.id)}
          onChange={(e) => set({ lacks: lacking(rules, tool.id, e.target.checked) })}
        >
          {toolName(tool.id)}
        </Check>
      ))}
    </div>
  );
}

/** Everything that lies on the benches of a shop. */
export function BenchFields(fields: Fields) {
  return (
    <div className="grid gap-5">
      <fieldset>
        <legend className="label">Heat sources at hand</legend>
        <SourceFields {...fields} />
      </fieldset>
      <fieldset>
        <legend className="label">Screw trays of a bench</legend>
        <TrayFields {...fields} />
      </fieldset>
      <fieldset>
        <legend className="label">Tools at hand</legend>
        <ToolFields {...fields} sources={false} />
      </fieldset>
    </div>
  );
}

/** A field of the rules, however deep, holds no number that fits. */
export const isOdd = (rules: unknown): boolean =>
  typeof rules === 'number'
    ? !Number.isFinite(rules)
    : typeof rules === 'object' && rules !== null && Object.values(rules).some(isOdd);
