import { create } from 'zustand';
import type { Anatomy } from '../../core/anatomy/index.ts';
import {
  applied,
  Clash,
  merged,
  NO_HISTORY,
  redone,
  same,
  shapeFaults,
  undone,
  withDone,
  type Change,
  type Edit,
  type Group,
  type History,
} from '../../core/draft/index.ts';
import { api, ApiError, messageOf } from './api.ts';
import { proofsOf } from './author.ts';
import { hold } from './hold.ts';
import { newId } from './ids.ts';
import { listen } from './live.ts';
import { retrying } from './outbox.ts';
import { proofNow, sessionNow, technicianNow } from './shop.ts';
import { withStore, type KeptDraft, type KeptEdit } from './store.ts';

/** An edit that another window's edit stands in the way of. It is kept until somebody has looked at it. */
export interface ClashOf {
  edit: Edit;
  why: string;
  item: string | null;
}

interface DraftStore {
  id: string | null;
  /** The document as it is drawn here: what the server has, and what waits to be sent on top of it. */
  anatomy: Anatomy | null;
  base: { anatomy: string; revision: number } | null;
  /** The version of the server that this rests on. */
  version: number;
  waiting: readonly Edit[];
  /** Edits that nothing has kept yet, neither this browser nor the server. */
  unkept: number;
  history: History;
  clashes: readonly ClashOf[];
  /** Why nothing can be sent now; `null` while all is well. */
  away: string | null;
  problem: string | null;
  /** The newest edit of any hand, for those who keep a copy of their own. */
  last: Edit | null;
  /** Counted up when the document was replaced as a whole. */
  loads: number;
  open: (id: string) => Promise<void>;
  close: () => void;
  /** @returns false when the edit does not fit; `problem` then says why */
  edit: (label: string, changes: readonly Change[]) => boolean;
  undo: () => void;
  redo: () => void;
  dismiss: () => void;
  /** Looks at a clash: mine again on top of theirs, or theirs as it is. */
  settle: (clash: ClashOf, mine: boolean) => void;
}

interface DraftFile {
  document: Anatomy;
  version: number;
  base: DraftStore['base'];
}

/** How long edits are gathered before they are sent, ms. Origin: own choice; a key held down makes some a second. */
const GATHER_MS = 150;
/** Edits whose taking back is kept over a reload. Origin: own choice; in this window all are. */
const KEPT_HISTORY = 400;
const AT_ONCE = 100;

/** What the server has, beneath what waits. */
let ground: Anatomy | null = null;
/** In which session each of what waits was made, and what proves it. */
const authors = new Map<string, Pick<KeptEdit, 'session' | 'proof'>>();
/** Edits that neither this browser nor the server has kept, and what holds the page open for each. */
const unkept = new Map<string, () => void>();
let sending = false;
let gathering: ReturnType<typeof setTimeout> | undefined;
let unlisten: (() => void) | null = null;
const retry = retrying(() => void send());

export const useDraft = create<DraftStore>()((set, get) => ({
  id: null,
  anatomy: null,
  base: null,
  version: 0,
  waiting: [],
  unkept: 0,
  history: NO_HISTORY,
  clashes: [],
  away: null,
  problem: null,
  last: null,
  loads: 0,

  open: async (id) => {
    get().close();
    set({ id, anatomy: null, problem: null, clashes: [], waiting: [], unkept: unkept.size, history: NO_HISTORY });
    const [kept, rows] = await Promise.all([
      withStore((db) => db.get('drafts', id)).catch(() => undefined),
      withStore((db) => db.getAllFromIndex('edits', 'draft', id)).catch(() => []),
    ]);
    let file: DraftFile;
    try {
      file = await api<DraftFile>(`/workshop/drafts/${id}`);
      set({ away: null });
    } catch (error) {
      if (!kept || !(error instanceof ApiError) || error.status !== 0) {
        set({ problem: messageOf(error) });
        return;
      }
      // Without the server it goes on from what this browser last had.
      file = { ...kept, base: null };
      set({ away: messageOf(error) });
    }
    if (get().id !== id) return;
    if (!kept) await letGo(id, new Set(), { document: file.document, version: file.version });
    if (get().id !== id) return;
    for (const { edit, session, proof } of rows) authors.set(edit.id, { session, proof });
    // What waits was made on what this browser had. Some of it may have arrived with its answer lost: the server tells which.
    const { document, version } = kept && rows.length > 0 && kept.version <= file.version ? kept : file;
    ground = document;
    const found = merged(
      document,
      rows.map((row) => row.edit),
    );
    set((s) => ({
      anatomy: found.anatomy,
      base: file.base,
      version,
      waiting: found.kept,
      clashes: found.clashes,
      history: laterHistory(kept, rows),
      loads: s.loads + 1,
    }));
    unlisten = listen((heard) => {
      if (heard.kind === 'draft' && heard.draft === id && heard.version > get().version) void catchUp();
      if (heard.kind === 'up' || heard.kind === 'lost') void catchUp();
    });
    if (found.kept.length > 0) void send();
    else if (version < file.version) void catchUp();
  },

  close: () => {
    // What was gathered goes out before the draft is left.
    void send();
    unlisten?.();
    unlisten = null;
    retry.stop();
    clearTimeout(gathering);
    ground = null;
    set({ id: null, anatomy: null });
  },

  edit: (label, wanted) => {
    const { anatomy, history } = get();
    const changes = wanted.filter((c) => !((c.do === 'set' || c.do === 'device') && same(c.from, c.to)));
    if (!anatomy || changes.length === 0) return false;
    const edit: Edit = { id: newId(), label, changes };
    try {
      const next = applied(anatomy, edit);
      const [fault] = shapeFaults(next, edit);
      if (fault) {
        set({ problem: `${fault.path} ${fault.message}` });
        return false;
      }
      made(edit, next, withDone(history, edit), 'do');
      return true;
    } catch (error) {
      set({ problem: messageOf(error) });
      return false;
    }
  },

  undo: () => turn(undone),
  redo: () => turn(redone),
  dismiss: () => set({ problem: null }),

  settle: (clash, mine) => {
    set((s) => ({ clashes: s.clashes.filter((c) => c !== clash) }));
    const { anatomy } = get();
    if (!mine || !anatomy) return;
    // Mine again, made on what is there now.
    const changes = clash.edit.changes.flatMap((c): Change[] => {
      if (c.do === 'device') return [{ ...c, from: anatomy[c.field] }];
      if (c.do !== 'set') return [c];
      const entry = anatomy[c.group].find((e) => e.id === c.id) as unknown as Record<string, unknown> | undefined;
      return entry ? [{ ...c, from: entry[c.field] }] : [];
    });
    get().edit(clash.edit.label, changes);
  },
}));

function turn(way: typeof undone): void {
  const { anatomy, history } = useDraft.getState();
  if (!anatomy) return;
  try {
    const step = way(anatomy, history, newId());
    if (step) made(step.edit, step.anatomy, step.history, way === undone ? 'undo' : 'redo');
  } catch (error) {
    if (!(error instanceof Clash)) throw error;
    useDraft.setState({ problem: `this cannot be taken back: ${error.message}` });
  }
}

/** What can be taken back, as it was kept, and what was done after that and not yet acknowledged. */
function laterHistory(kept: KeptDraft | undefined, rows: readonly KeptEdit[]): History {
  let history = kept?.history ?? NO_HISTORY;
  // Written by earlier versions: edits that waited then, and are in the history already.
  const known = new Set(kept?.seen);
  for (const { edit, turn } of rows) {
    if (known.has(edit.id)) continue;
    const { done, undone: after } = history;
    if (turn === 'do') history = withDone(history, edit);
    else if (turn === 'undo' && done.length > 0)
      history = { done: done.slice(0, -1), undone: [...after, done.at(-1)!] };
    else if (turn === 'redo' && after.length > 0) history = { done: [...done, edit], undone: after.slice(0, -1) };
  }
  return history;
}

/** Something was done here: it is shown, kept on this browser, and sent. */
function made(edit: Edit, anatomy: Anatomy, history: History, turn: KeptEdit['turn']): void {
  useDraft.setState((s) => ({ anatomy, history, waiting: [...s.waiting, edit], last: edit, problem: null }));
  const { id } = useDraft.getState();
  unkept.set(edit.id, hold('an edit of a drawing'));
  useDraft.setState({ unkept: unkept.size });
  const author = { session: sessionNow() ?? undefined, proof: proofNow(id!, edit) };
  authors.set(edit.id, author);
  withStore((db) => db.add('edits', { draft: id!, edit, turn, ...author })).then(
    () => isKept([edit.id]),
    () =>
      useDraft.setState({ problem: 'this browser keeps nothing more; what is drawn now lasts as long as this page' }),
  );
  clearTimeout(gathering);
  gathering = setTimeout(() => void send(), GATHER_MS);
}

/** This browser has these, or the server: whoever closes the page loses none of them. */
function isKept(edits: Iterable<string>): void {
  for (const edit of edits) {
    unkept.get(edit)?.();
    unkept.delete(edit);
  }
  useDraft.setState({ unkept: unkept.size });
}

/** Sends what waits, oldest first. What the server has missed nothing of is taken off this browser. */
async function send(): Promise<void> {
  const { id, waiting, version } = useDraft.getState();
  if (sending || id === null || waiting.length === 0) return;
  sending = true;
  // Those of one hand, up to where another's begin.
  const session = authors.get(waiting[0]!.id)?.session;
  const others = waiting.findIndex((edit) => authors.get(edit.id)?.session !== session);
  const edits = waiting.slice(0, others < 0 ? AT_ONCE : Math.min(others, AT_ONCE));
  try {
    const by = technicianNow() ?? undefined;
    const proofs = proofsOf(edits, (edit) => authors.get(edit)?.proof);
    const answer = await api<{ version: number }>(`/workshop/drafts/${id}/edits`, {
      json: { edits, proofs, ...(by ? { by } : {}), ...(session ? { session } : {}) },
      ifMatch: version,
    });
    await settled(id, edits, answer.version);
    retry.stop();
    useDraft.setState({ away: null });
  } catch (error) {
    if (useDraft.getState().id !== id) return;
    const problem = error instanceof ApiError ? error.problem : null;
    // It answered, whatever it said.
    if (error instanceof ApiError && error.status !== 0) useDraft.setState({ away: null });
    if (error instanceof ApiError && error.status === 409 && problem?.draft)
      await rebase(id, problem.draft).catch((lost: unknown) => useDraft.setState({ away: messageOf(lost) }));
    else if (error instanceof ApiError && error.status === 422 && problem?.edit) refuse(problem.edit, problem.error);
    else {
      useDraft.setState({ away: messageOf(error) });
      retry.later();
    }
  } finally {
    sending = false;
  }
  if (useDraft.getState().away === null && useDraft.getState().waiting.length > 0) void send();
}

/** The server has these: they lie beneath what waits. */
async function settled(id: string, edits: readonly Edit[], version: number): Promise<void> {
  const known = new Set(edits.map((e) => e.id));
  if (useDraft.getState().id === id && ground) {
    // What was heard of meanwhile lies beneath already.
    const { waiting } = useDraft.getState();
    const above = edits.filter((edit) => waiting.some((w) => w.id === edit.id));
    ground = above.reduce((document, edit) => applied(document, edit), ground);
    useDraft.setState((s) => ({
      version: Math.max(s.version, version),
      waiting: s.waiting.filter((e) => !known.has(e.id)),
    }));
  }
  const open = useDraft.getState().id === id && ground;
  await letGo(id, known, open ? { document: open, version: useDraft.getState().version } : undefined);
}

/**
 * Edits leave what waits on this browser, and what can be taken back of them is kept: in one stroke, so that a page that is
 * closed between the two loses neither.
 * @param document as the server has it now, where this window shows it; left out, the kept one goes on by these edits
 */
async function letGo(
  id: string,
  gone: ReadonlySet<string>,
  now?: { document: Anatomy; version: number },
): Promise<void> {
  for (const edit of gone) authors.delete(edit);
  // What the server has answered for is safe, whether this browser took it or not.
  isKept(gone);
  await withStore(async (db) => {
    const tx = db.transaction(['edits', 'drafts'], 'readwrite');
    const [kept, rows] = await Promise.all([
      tx.objectStore('drafts').get(id),
      tx.objectStore('edits').index('draft').getAll(id),
    ]);
    const leaving = rows.filter((row) => gone.has(row.edit.id));
    for (const row of leaving)
      tx.objectStore('edits')
        .delete(row.key!)
        .catch(() => {});
    const ground = now ?? kept;
    if (ground) {
      const { done, undone: after } = laterHistory(kept, leaving);
      const history = { done: done.slice(-KEPT_HISTORY), undone: after.slice(-KEPT_HISTORY) };
      tx.objectStore('drafts')
        .put({ document: ground.document, version: ground.version, history }, id)
        .catch(() => {});
    }
    await tx.done;
  }).catch(() => {});
}

/** Another window was quicker: its edits go beneath, mine on top, as far as they fit. */
async function rebase(
  id: string,
  {
    version: told,
    missed: since,
    known,
  }: { version: number; missed: { edit: Edit; version: number }[] | null; known: string[] },
): Promise<void> {
  const taken = new Set([...known, ...(since ?? []).map((m) => m.edit.id)]);
  const { version: seen } = useDraft.getState();
  // An older answer may come after a newer one: what lies beneath already is not laid again.
  const missed = since === null ? null : since.filter((m) => m.version > seen);
  let version = Math.max(told, seen);
  if (missed === null || !ground) {
    const file = await api<DraftFile>(`/workshop/drafts/${id}`);
    if (useDraft.getState().id !== id) return;
    ground = file.document;
    version = file.version;
  } else ground = missed.reduce((document, { edit }) => applied(document, edit), ground);
  const { waiting } = useDraft.getState();
  const found = merged(
    ground,
    waiting.filter((e) => !taken.has(e.id)),
  );
  useDraft.setState((s) => ({
    version,
    anatomy: found.anatomy,
    waiting: found.kept,
    clashes: [...s.clashes, ...found.clashes],
    loads: s.loads + 1,
  }));
  const gone = new Set([...taken, ...found.clashes.map((c) => c.edit.id)]);
  await letGo(id, gone, { document: ground, version });
}

async function catchUp(): Promise<void> {
  const { id, version, waiting } = useDraft.getState();
  if (id === null || ground === null) return;
  if (waiting.length > 0) {
    void send();
    return;
  }
  try {
    const told = await api<{ version: number; missed: { edit: Edit; version: number }[] | null }>(
      `/workshop/drafts/${id}/edits?after=${version}`,
    );
    if (useDraft.getState().version !== version || useDraft.getState().id !== id) return;
    useDraft.setState({ away: null });
    if (told.version > version) await rebase(id, { ...told, known: [] });
  } catch (error) {
    useDraft.setState({ away: messageOf(error) });
  }
}

/** The server does not take an edit: it is taken back here, and said. */
function refuse(edit: string, why: string): void {
  const { id, waiting } = useDraft.getState();
  if (!ground || id === null) return;
  const found = merged(
    ground,
    waiting.filter((e) => e.id !== edit),
  );
  const refused = waiting.find((e) => e.id === edit);
  useDraft.setState((s) => ({
    anatomy: found.anatomy,
    waiting: found.kept,
    clashes: [...s.clashes, ...found.clashes, ...(refused ? [{ edit: refused, why, item: null }] : [])],
    loads: s.loads + 1,
  }));
  letGo(id, new Set([edit])).catch(() => {});
}

/** A field of an entry set to another value. */
export function setOf(anatomy: Anatomy, group: Group, id: string, field: string, to: unknown): Change {
  const entry = anatomy[group].find((e) => e.id === id) as unknown as Record<string, unknown>;
  return { do: 'set', group, id, field, from: entry[field], to };
}
