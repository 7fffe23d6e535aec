import { Check } from '../../controls/index.tsx';

/** Percent in the field, 0 to 100; `null` where nothing that makes sense was said. */
export function chargeOf(text: string): number | null {
  const percent = Number(text);
  return text.trim() !== '' && percent >= 0 && percent <= 100 ? percent : null;
}

/** What the cell holds at intake: how long it has to be drawn down hangs on it. */
export function ChargeFields({
  charge,
  dark,
  onCharge,
  onDark,
}: {
  charge: string;
  dark: boolean;
  onCharge: (text: string) => void;
  onDark: (dark: boolean) => void;
}) {
  const wrong = charge.trim() !== '' && chargeOf(charge) === null;
  return (
    <fieldset className="grid gap-3 sm:grid-cols-[3fr_2fr]">
      <label>
        <span className="label">Charge of the cell, %; not known counts as the house rules assume</span>
        <input
          className="field num"
          inputMode="numeric"
          value={dark ? '' : charge}
          disabled={dark}
          placeholder="not known"
          aria-invalid={wrong}
          onChange={(e) => onCharge(e.target.value)}
        />
        {wrong && <span className="text-sm text-stop">A number from 0 to 100, or nothing.</span>}
      </label>
      <Check className="self-end" checked={dark} onChange={(e) => onDark(e.target.checked)}>
        Dark or dead: it cannot be drawn down
      </Check>
    </fieldset>
  );
}
