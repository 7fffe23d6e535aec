import { useCallback, useEffect, useRef, useState } from 'react';
import type { IntakeDraft } from '../../../core/jobs/index.ts';
import { api } from '../../state/api.ts';
import { hold } from '../../state/hold.ts';
import { useQuery } from '../../state/here.ts';
import { newId } from '../../state/ids.ts';
import { EMPTY_FORM, isBegun, readForm, type IntakeForm } from './form.ts';

/** How long typing rests before a draft is sent, ms. Origin: own choice; longer than between two keys. */
const KEPT_AFTER_MS = 700;

export interface Intake {
  form: IntakeForm;
  set: (part: Partial<IntakeForm> | ((was: IntakeForm) => Partial<IntakeForm>)) => void;
  /** Intakes that were begun and left, this one not among them. */
  begun: IntakeDraft<Partial<IntakeForm>>[];
  /** What was begun is being read, or could not be: nothing is typed over it meanwhile. */
  opening: 'reading' | 'failed' | null;
  readAgain: () => void;
  /** Where what was typed stands: with the server, or only here. */
  kept: 'nothing' | 'kept' | 'here';
  goOn: (draft: IntakeDraft<Partial<IntakeForm>>) => void;
  drop: (id: string) => void;
  /** The draft that it is typed as; the server ends it with the job that it becomes. */
  draft: string;
  /** From the key that takes it in until that was refused, nothing of it is sent any more, and no answer changes anything. */
  finishing: (on: boolean) => void;
}

/** One intake, kept as a draft with the server while it is typed. */
export function useIntake(): Intake {
  const [params, setParams] = useQuery();
  /** The draft that the screen was opened with; what is typed afterwards is newer than any that is read. */
  const [opened] = useState(() => params.get('draft'));
  const [id, setId] = useState(() => opened ?? newId());
  const [form, setForm] = useState<IntakeForm>(EMPTY_FORM);
  const [drafts, setDrafts] = useState<IntakeDraft<Partial<IntakeForm>>[]>([]);
  const [kept, setKept] = useState<Intake['kept']>('nothing');
  /** It is being taken in. */
  const done = useRef(false);
  const [opening, setOpening] = useState<Intake['opening']>(opened === null ? null : 'reading');
  const read = useCallback(() => {
    setOpening(opened === null ? null : 'reading');
    api<IntakeDraft<Partial<IntakeForm>>[]>('/counter/drafts').then(
      (list) => {
        setDrafts(list);
        if (opened === null) return;
        const mine = list.find((d) => d.id === opened);
        if (mine) setForm(readForm(mine.document));
        // It became a job, or was dropped: what is typed now is another.
        else setId(newId());
        setOpening(null);
      },
      () => setOpening(opened === null ? null : 'failed'),
    );
  }, [opened]);
  useEffect(read, [read]);
  useEffect(() => {
    if (!isBegun(form) || done.current) return;
    // What was just typed is not kept yet.
    setKept('nothing');
    const letGo = hold('an intake');
    const timer = setTimeout(() => {
      if (done.current) return;
      api(`/counter/drafts/${id}`, { method: 'PUT', json: form }).then(
        () => {
          letGo();
          if (done.current) return;
          setKept('kept');
          if (params.get('draft') !== id) setParams({ draft: id }, { replace: true });
        },
        () => setKept('here'),
      );
    }, KEPT_AFTER_MS);
    return () => {
      clearTimeout(timer);
      letGo();
    };
  }, [form, id, params, setParams]);
  // Whoever leaves the screen between two keys and the sending leaves nothing behind.
  const unsent = useRef<{ id: string; form: IntakeForm } | null>(null);
  unsent.current = kept !== 'kept' && isBegun(form) ? { id, form } : null;
  useEffect(
    () => () => {
      if (unsent.current && !done.current)
        api(`/counter/drafts/${unsent.current.id}`, { method: 'PUT', json: unsent.current.form }).catch(() => {});
    },
    [],
  );
  return {
    form,
    opening,
    readAgain: read,
    kept,
    begun: drafts.filter((d) => d.id !== id),
    set: useCallback((part) => setForm((was) => ({ ...was, ...(typeof part === 'function' ? part(was) : part) })), []),
    goOn: (draft) => {
      setId(draft.id);
      setForm(readForm(draft.document));
      setParams({ draft: draft.id }, { replace: true });
    },
    drop: (gone) => {
      setDrafts((list) => list.filter((d) => d.id !== gone));
      void api(`/counter/drafts/${gone}`, { method: 'DELETE' }).catch(() => {});
    },
    draft: id,
    finishing: (on) => {
      done.current = on;
    },
  };
}
