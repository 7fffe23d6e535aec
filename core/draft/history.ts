import type { Anatomy } from '../anatomy/index.ts';
import { applied, inverseEdit, type Edit } from './edits.ts';

/**
 * What was done on a draft and what was taken back, without limit. Taking back is an edit of its own: it goes to the
 * server like any other.
 */
export interface History {
  done: readonly Edit[];
  undone: readonly Edit[];
}

export const NO_HISTORY: History = { done: [], undone: [] };

/** Something was done: what had been taken back can no longer be done again. */
export const withDone = (history: History, edit: Edit): History => ({ done: [...history.done, edit], undone: [] });

export interface Step {
  anatomy: Anatomy;
  history: History;
  /** What leads there. */
  edit: Edit;
}

/**
 * Takes back the last thing that was done here.
 * @returns `null` when there is none
 * @throws Clash when another hand has changed what it was about
 */
export function undone(anatomy: Anatomy, { done, undone: after }: History, id: string): Step | null {
  const last = done.at(-1);
  if (!last) return null;
  const edit = inverseEdit(last, id);
  return { anatomy: applied(anatomy, edit), history: { done: done.slice(0, -1), undone: [...after, last] }, edit };
}

/** Does again what was taken back last. @throws Clash as `undone` */
export function redone(anatomy: Anatomy, { done, undone: after }: History, id: string): Step | null {
  const next = after.at(-1);
  if (!next) return null;
  const edit = { ...next, id };
  return { anatomy: applied(anatomy, edit), history: { done: [...done, edit], undone: after.slice(0, -1) }, edit };
}
