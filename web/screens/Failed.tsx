import { X } from 'lucide-react';
import { useFailed } from '../state/failed.ts';

/** What failed and no screen has said, over whatever is shown; it stays until somebody has seen it. */
export function Failed() {
  const { message, dismiss } = useFailed();
  if (message === null) return null;
  return (
    <div
      role="alert"
      className="fixed inset-x-4 bottom-4 z-40 mx-auto flex max-w-2xl items-center gap-3 rounded-lg border-l-8 border-crimson bg-panel py-2 pl-4 shadow-lg"
    >
      <p className="min-w-0 flex-1">
        <b>That did not work:</b> {message.replace(/\.$/, '')}. Nothing that was saved is lost; try it again.
      </p>
      <button
        type="button"
        className="grid size-14 shrink-0 place-items-center rounded-lg hover:bg-sunk"
        aria-label="I have seen it"
        onClick={dismiss}
      >
        <X aria-hidden="true" />
      </button>
    </div>
  );
}
