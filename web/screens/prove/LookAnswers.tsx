import type { Model } from '../../../core/anatomy/index.ts';
import { FOUND_ON, type CauseKind, type Suspect } from '../../../core/diagnosis/index.ts';
import { Button } from '../../controls/index.tsx';
import { useRun } from '../../state/run.ts';
import { spoken } from '../../../words/index.ts';

/** What was seen of an item that was looked at: sound, or what may be wrong with such a one, the likeliest first. */
export function LookAnswers({
  model,
  item,
  suspect = null,
  large = false,
  answered = () => {},
}: {
  model: Model;
  item: string;
  suspect?: Suspect | null;
  /** For gloves, at arm's length. */
  large?: boolean;
  answered?: () => void;
}) {
  const record = useRun((s) => s.record);
  const found = (kind: CauseKind | null) => {
    if (record([{ type: 'looked', item, found: kind, note: '' }])) answered();
  };
  const kinds = [...new Set([...(suspect?.causes.map((c) => c.kind) ?? []), ...FOUND_ON[model.items.get(item)!.type]])];
  const size = large ? 'min-h-16 text-xl' : '';
  return (
    <div role="group" aria-label="What was seen" className={`flex flex-wrap ${large ? 'gap-2' : 'gap-1'}`}>
      <Button weight="main" className={size} onClick={() => found(null)}>
        It is sound
      </Button>
      {kinds.map((kind) => (
        <Button key={kind} className={size} onClick={() => found(kind)}>
          {spoken.causes[kind]}
        </Button>
      ))}
    </div>
  );
}
