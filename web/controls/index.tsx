import type { ComponentProps, ReactNode } from 'react';
import type { Fault } from '../../core/anatomy/index.ts';
import { keyWord } from '../state/prefs.ts';

type Weight = 'main' | 'plain' | 'quiet' | 'danger';

const WEIGHTS: Record<Weight, string> = {
  main: 'bg-petrol text-on-petrol hover:brightness-110',
  plain: 'bg-sunk text-ink hover:brightness-95 dark:bg-line',
  quiet: 'bg-transparent text-ink hover:bg-sunk',
  danger: 'bg-crimson text-on-job hover:brightness-110',
};

export const buttonClass = (weight: Weight = 'plain', extra = ''): string =>
  `inline-flex min-h-12 min-w-12 items-center justify-center gap-2 rounded-lg px-4 ` +
  `font-semibold no-underline disabled:opacity-45 ${WEIGHTS[weight]} ${extra}`;

export function Button({ weight = 'plain', className = '', ...rest }: ComponentProps<'button'> & { weight?: Weight }) {
  return <button type="button" className={buttonClass(weight, className)} {...rest} />;
}

/** A button that lets a file be chosen; the same file can be chosen again. */
export function FileButton({
  weight = 'plain',
  icon,
  accept,
  onFile,
  children,
}: {
  weight?: Weight;
  icon: ReactNode;
  accept: string;
  onFile: (file: File | undefined) => void;
  children: ReactNode;
}) {
  return (
    <label
      className={buttonClass(weight, 'cursor-pointer has-focus-visible:outline-3 has-focus-visible:outline-petrol')}
    >
      {icon}
      {children}
      <input
        type="file"
        accept={accept}
        className="sr-only"
        onChange={(e) => {
          onFile(e.target.files?.[0]);
          e.target.value = '';
        }}
      />
    </label>
  );
}

/** How far a computation has come, and the way to stop it. */
export function Progress({ share, label, stop }: { share: number; label: string; stop: () => void }) {
  return (
    <div role="status" className="flex items-center gap-4">
      <progress value={share} max={1} className="h-3 flex-1 accent-petrol" aria-label={label} />
      <Button onClick={stop}>Stop</Button>
    </div>
  );
}

export function Key({ of }: { of: string }) {
  return (
    <kbd className="rounded border border-current/40 px-1.5 font-mono text-xs font-normal opacity-80">
      {keyWord(of)}
    </kbd>
  );
}

/** A box to tick with its words, large enough for a gloved finger. */
export function Check({ className = '', children, ...rest }: Omit<ComponentProps<'input'>, 'type'>) {
  return (
    <label className={`flex min-h-12 cursor-pointer items-center gap-3 ${className}`}>
      <input type="checkbox" className="size-6 shrink-0 accent-petrol" {...rest} />
      {children}
    </label>
  );
}

export function ProblemNote({ children, faults }: { children: ReactNode; faults?: Fault[] | undefined }) {
  return (
    <div role="alert" className="rounded-lg border-l-4 border-crimson bg-panel p-4">
      <p className="font-semibold text-crimson">{children}</p>
      {faults && faults.length > 0 && (
        <ul className="mt-2 max-h-72 space-y-1 overflow-auto text-sm">
          {faults.map((f, i) => (
            <li key={i}>
              <code className="font-mono font-semibold">{f.path}</code> {f.message}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

export function Measure({ value, unit, label }: { value: ReactNode; unit?: string; label: string }) {
  return (
    <div>
      <div className="num text-2xl leading-tight font-semibold">
        {value}
        {unit && <span className="ml-1 text-base font-normal text-quiet">{unit}</span>}
      </div>
      <div className="text-sm text-quiet">{label}</div>
    </div>
  );
}

export function Loading({ what }: { what: string }) {
  return (
    <p role="status" className="p-8 text-quiet">
      Loading {what}…
    </p>
  );
}
