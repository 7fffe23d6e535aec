import { TriangleAlert } from 'lucide-react';
import type { Caution } from '../../core/dive/index.ts';
import { cautionText } from '../../words/index.ts';

/** A caution where it applies: its sign, then what to do. */
export function CautionLine({ caution, large }: { caution: Caution; large?: boolean }) {
  return (
    <p className={`flex items-start gap-2 ${large ? 'text-base' : 'text-sm'} text-ink`}>
      <TriangleAlert className="mt-0.5 size-5 shrink-0 text-crimson" aria-hidden="true" />
      <span>{cautionText(caution)}</span>
    </p>
  );
}
