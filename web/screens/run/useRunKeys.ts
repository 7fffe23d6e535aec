import { useEffect, useRef } from 'react';
import { ACTIONS, usePrefs, type Action } from '../../state/prefs.ts';

type Handlers = Record<Action | 'next' | 'previous' | 'escape' | 'fail' | 'waive', () => void>;

/** One key at a time, also from a foot pedal: never while something is being typed. */
export function useRunKeys(handlers: Handlers, testing: boolean): void {
  const keys = usePrefs((s) => s.keys);
  const latest = useRef(handlers);
  latest.current = handlers;
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (e.ctrlKey || e.metaKey || e.altKey) return;
      if (e.key === 'Escape') return latest.current.escape();
      const target = e.target as HTMLElement;
      if (target.closest('input, textarea, select, [role=dialog], [data-panel]')) return;
      const activates = e.key === ' ' || e.key === 'Enter';
      if (activates && target.closest('button, a')) return;
      if (e.key === 'ArrowRight' || e.key === 'ArrowLeft') {
        e.preventDefault();
        return e.key === 'ArrowRight' ? latest.current.next() : latest.current.previous();
      }
      if (testing && (e.key === 'f' || e.key === 'w')) {
        // The key opens a field; it is not the first letter in it.
        e.preventDefault();
        return e.key === 'f' ? latest.current.fail() : latest.current.waive();
      }
      const action = ACTIONS.find((a) => keys[a].toLowerCase() === e.key.toLowerCase());
      if (!action) return;
      e.preventDefault();
      // A key held down must not run through the steps.
      if (!e.repeat) latest.current[action]();
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [keys, testing]);
}
