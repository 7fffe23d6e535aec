import { useCallback, useEffect, useRef, useState } from 'react';
import { useSearchParams } from 'react-router';
import type { IntakeDraft } from '../../../core/jobs/index.ts';
import { api } from '../../state/api.ts';
import { newId } from '../../state/ids.ts';
import { EMPTY_FORM, isBegun, readForm, type IntakeForm } from './form.ts';

/** How long typing rests before a draft is sent, ms. Origin: own choice; longer than between two keys. */
const KEPT_AFTER_MS = 700;

export interface Intake {
  form: IntakeForm;
  set: (part: Partial<IntakeForm> | ((was: IntakeForm) => Partial<IntakeForm>)) => void;
  /** Intakes that were begun and left, this one not among them. */
  begun: IntakeDraft<Partial<IntakeForm>>[];
  /** Where what was typed stands: with the server, or only here. */
  kept: 'nothing' | 'kept' | 'here';
  goOn: (draft: IntakeDraft<Partial<IntakeForm>>) => void;
  drop: (id: string) => void;
  /** It has become a job; its draft goes. */
  finish: () => Promise<void>;
}

/** One intake, kept as a draft with the server while it is typed. */
export function useIntake(): Intake {
  const [params, setParams] = useSearchParams();
  /** The draft that the screen was opened with; what is typed afterwards is newer than any that is read. */
  const [opened] = useState(() => params.get('draft'));
  const [id, setId] = useState(() => opened ?? newId());
  const [form, setForm] = useState<IntakeForm>(EMPTY_FORM);
  const [drafts, setDrafts] = useState<IntakeDraft<Partial<IntakeForm>>[]>([]);
  const [kept, setKept] = useState<Intake['kept']>('nothing');
  const done = useRef(false);
  useEffect(() => {
    api<IntakeDraft<Partial<IntakeForm>>[]>('/counter/drafts').then(
      (list) => {
        setDrafts(list);
        const mine = list.find((d) => d.id === opened);
        if (mine) setForm(readForm(mine.document));
      },
      () => {},
    );
  }, [opened]);
  useEffect(() => {
    if (!isBegun(form) || done.current) return;
    // What was just typed is not kept yet.
    setKept('nothing');
    const timer = setTimeout(() => {
      api(`/counter/drafts/${id}`, { method: 'PUT', json: form }).then(
        () => {
          setKept('kept');
          if (params.get('draft') !== id) setParams({ draft: id }, { replace: true });
        },
        () => setKept('here'),
      );
    }, KEPT_AFTER_MS);
    return () => clearTimeout(timer);
  }, [form, id, params, setParams]);
  return {
    form,
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
    finish: async () => {
      done.current = true;
      await api(`/counter/drafts/${id}`, { method: 'DELETE' }).catch(() => {});
    },
  };
}
