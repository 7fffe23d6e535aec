import { CAUSE_WORDS, CAUSES, type CauseKind, type Suspect } from '../../../core/diagnosis/index.ts';
import { Button } from '../../controls/index.tsx';
import { useRun } from '../../state/run.ts';

/** Causes that are offered at once. Origin: own choice; two rows of keys. */
const OFFERED = 6;

/** What was seen of an item that was looked at: sound, or what was found, the likeliest first. */
export function LookAnswers({
  item,
  suspect,
  answered = () => {},
}: {
  item: string;
  suspect: Suspect | null;
  answered?: () => void;
}) {
  const record = useRun((s) => s.record);
  const found = (kind: CauseKind | null) => {
    if (record([{ type: 'looked', item, found: kind, note: '' }])) answered();
  };
  const kinds = [...new Set([...(suspect?.causes.map((c) => c.kind) ?? []), ...CAUSES])];
  return (
    <div role="group" aria-label="What was seen" className="flex flex-wrap gap-1">
      <Button weight="main" onClick={() => found(null)}>
        It is sound
      </Button>
      {kinds.slice(0, OFFERED).map((kind) => (
        <Button key={kind} onClick={() => found(kind)}>
          {CAUSE_WORDS[kind]}
        </Button>
      ))}
    </div>
  );
}
