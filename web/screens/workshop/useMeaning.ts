import { useEffect, useMemo, useState } from 'react';
import { useDraft } from '../../state/draft.ts';
import { startReader } from '../../workers/draft.ts';
import type { Meaning } from '../../workers/draft.worker.ts';

/** What the draft means, read beside the interface: told of each edit, and of the whole when it was replaced. */
export function useMeaning(): { meaning: Meaning | null; faulty: ReadonlySet<string> } {
  const [meaning, setMeaning] = useState<Meaning | null>(null);
  useEffect(() => {
    const { reader, stop } = startReader();
    const { anatomy, loads } = useDraft.getState();
    let [known, asked] = [loads, 0];
    const show = (work: Promise<Meaning>) => {
      const mine = ++asked;
      // What was asked last is what is shown; a document that is gone is no news.
      work.then((m) => mine === asked && setMeaning(m)).catch(() => {});
    };
    if (anatomy) show(reader.open(anatomy));
    const end = useDraft.subscribe((now, before) => {
      if (!now.anatomy) return;
      if (now.loads !== known) {
        known = now.loads;
        show(reader.open(now.anatomy));
      } else if (now.last !== before.last && now.last) show(reader.edit(now.last));
    });
    return () => {
      end();
      stop();
    };
  }, []);
  const faulty = useMemo(
    () => new Set(meaning?.found.flatMap((f) => (f.kind === 'fault' && f.item ? [f.item] : [])) ?? []),
    [meaning],
  );
  return { meaning, faulty };
}
