import {
  BoxSelect,
  Cable,
  Circle,
  CircleDot,
  Grip as GripIcon,
  Image,
  ImagePlus,
  ListOrdered,
  MousePointer2,
  PenTool,
  Redo2,
  RectangleHorizontal,
  Spline,
  Square,
  Undo2,
} from 'lucide-react';
import { EmergencyButton } from '../Emergency.tsx';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { Anatomy, Point } from '../../../core/anatomy/index.ts';
import type { PlateInfo } from '../../../core/jobs/index.ts';
import { Button, buttonClass, Loading, ProblemNote } from '../../controls/index.tsx';
import { useDraft } from '../../state/draft.ts';
import { useLoad } from '../../state/useLoad.ts';
import * as acts from './acts.ts';
import { TOOL_WORDS, TOOLS, useBoard, type Tool } from './board.ts';
import { Caliper } from './Caliper.tsx';
import { Canvas } from './Canvas.tsx';
import { Core } from './Core.tsx';
import { DevicePanel } from './DevicePanel.tsx';
import { Files } from './Files.tsx';
import { Inspector } from './Inspector.tsx';
import { proposalKey, Proposals, useProposals } from './Proposals.tsx';
import { Publish } from './Publish.tsx';
import { ScrewTable } from './ScrewTable.tsx';
import { SmallDive } from './SmallDive.tsx';
import { StampBar } from './StampBar.tsx';
import { useMeaning } from './useMeaning.ts';

const ICONS: Record<Tool, typeof Square> = {
  select: MousePointer2,
  part: Square,
  polygon: PenTool,
  circle: Circle,
  screw: CircleDot,
  plug: Cable,
  area: BoxSelect,
  strip: Spline,
  tab: RectangleHorizontal,
  catch: GripIcon,
  mate: ListOrdered,
};

const PANELS = [
  ['item', 'Item'],
  ['device', 'Device'],
  ['screws', 'Screws'],
  ['caliper', 'Caliper'],
  ['proposals', 'Proposals'],
  ['files', 'Files'],
] as const;

/** The photograph that lies nearest to a layer, not deeper than it. */
export function plateFor(plates: readonly PlateInfo[], face: string, layer: number): PlateInfo | null {
  const here = plates.filter((p) => p.face === face);
  const above = here
    .filter((p) => p.layer <= layer)
    .sort((a, b) => b.layer - a.layer || b.createdAt.localeCompare(a.createdAt));
  return above[0] ?? here.sort((a, b) => a.layer - b.layer)[0] ?? null;
}

export default function BoardScreen() {
  const id = useParams().draft!;
  const { anatomy, problem, open, close } = useDraft();
  useEffect(() => {
    useBoard.getState().set({ selected: [], points: [], cross: null, layer: 0, tool: 'select', panel: 'item' });
    useProposals.setState({ list: [], focus: null, plate: null });
    void open(id);
    return close;
  }, [id, open, close]);
  if (!anatomy) return problem ? <ProblemNote>{problem}</ProblemNote> : <Loading what="the draft" />;
  return <Board anatomy={anatomy} photograph={`/workshop/${id}/photograph`} />;
}

/** @param photograph address of the screen where a photograph is laid beneath this draft */
function Board({ anatomy, photograph }: { anatomy: Anatomy; photograph: string }) {
  const draft = useDraft();
  const board = useBoard();
  const { face, layer, panel, plate: shown, tool } = board;
  const { data: plates } = useLoad<PlateInfo[]>(`/workshop/plates?device=${anatomy.id}`);
  const plate = plates
    ? (plates.find((p) => p.id === shown.id && p.face === face) ?? plateFor(plates, face, layer))
    : null;
  const { meaning, faulty } = useMeaning();
  const found = meaning?.found ?? [];
  const faults = found.filter((f) => f.kind === 'fault');
  const act = useMemo(
    () => (made: acts.Made | null) => {
      if (!made) return;
      const done = made.changes.length > 0 && useDraft.getState().edit(made.label, made.changes);
      if (!done) return;
      learnStamp(made);
      useBoard.getState().select(made.select);
    },
    [],
  );
  useKeys(anatomy, act);
  const tool48 =
    'grid size-12 shrink-0 place-items-center rounded-lg hover:bg-sunk aria-pressed:bg-petrol aria-pressed:text-on-petrol disabled:opacity-40';
  return (
    <div
      className="grid h-dvh grid-cols-[minmax(0,1fr)] grid-rows-[auto_auto_minmax(0,1fr)_auto] gap-1.5 p-2 max-sm:h-auto"
      data-testid="board"
    >
      <header className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <Link to="/workshop" className={buttonClass('quiet')}>
          ← Workshop
        </Link>
        <h1 className="min-w-0 truncate text-xl font-bold">
          {anatomy.maker} {anatomy.name}
        </h1>
        <Saved />
        <span className="ml-auto flex flex-wrap items-center gap-1">
          <EmergencyButton />
          <button
            type="button"
            className={tool48}
            aria-label="Take back"
            disabled={draft.history.done.length === 0}
            onClick={draft.undo}
            title={draft.history.done.at(-1)?.label}
          >
            <Undo2 />
          </button>
          <button
            type="button"
            className={tool48}
            aria-label="Do again"
            disabled={draft.history.undone.length === 0}
            onClick={draft.redo}
            title={draft.history.undone.at(-1)?.label}
          >
            <Redo2 />
          </button>
          <button
            type="button"
            className={tool48}
            aria-label="Photograph beneath"
            aria-pressed={shown.shown && plate !== null}
            disabled={!plate}
            onClick={() => board.set({ plate: { ...shown, shown: !shown.shown } })}
          >
            <Image />
          </button>
          <Link to={photograph} className={buttonClass('plain')}>
            <ImagePlus aria-hidden="true" />
            Lay a photograph
          </Link>
          <Button weight="main" onClick={() => board.set({ panel: 'publish' })}>
            Publish
          </Button>
        </span>
      </header>
      <div className="flex items-center gap-1 overflow-x-auto" role="toolbar" aria-label="Tools">
        {TOOLS.map((t) => {
          const Icon = ICONS[t];
          return (
            <button
              key={t}
              type="button"
              className={tool48}
              aria-pressed={tool === t}
              aria-label={TOOL_WORDS[t].name}
              title={`${TOOL_WORDS[t].name} (${TOOL_WORDS[t].key.toUpperCase()})`}
              onClick={() => board.set({ tool: t, points: [] })}
            >
              <Icon />
            </button>
          );
        })}
        {tool === 'screw' || panel === 'proposals' ? (
          <StampBar anatomy={anatomy} />
        ) : (
          <p className="ml-2 truncate text-sm text-quiet">{TOOL_WORDS[tool].hint}</p>
        )}
      </div>
      <div className="grid min-h-0 grid-cols-[11rem_minmax(0,1fr)_23rem] gap-2 max-lg:grid-cols-[8rem_minmax(0,1fr)] max-lg:grid-rows-[minmax(18rem,1fr)_minmax(0,22rem)] max-sm:grid-cols-1 max-sm:grid-rows-[18rem_22rem_minmax(22rem,auto)]">
        <Core anatomy={anatomy} plates={plates ?? []} act={act} />
        <div className="panel relative min-h-0 overflow-hidden">
          <Canvas anatomy={anatomy} plate={plate} faulty={faulty} act={act} />
          {plate && shown.shown && (
            <label className="absolute right-2 bottom-2 flex min-h-12 items-center gap-2 rounded-lg bg-panel/90 px-3 text-sm">
              Photograph
              <input
                type="range"
                min={0.2}
                max={1}
                step={0.05}
                value={shown.strength}
                className="w-24 accent-petrol"
                onChange={(e) => board.set({ plate: { ...shown, strength: Number(e.target.value) } })}
              />
            </label>
          )}
        </div>
        <aside className="panel grid min-h-0 grid-rows-[auto_minmax(0,1fr)_auto] gap-2 p-2 max-lg:col-span-2 max-sm:col-span-1">
          <div className="flex flex-wrap gap-0.5" role="tablist" aria-label="What is shown">
            {PANELS.map(([name, word]) => (
              <button
                key={name}
                type="button"
                role="tab"
                aria-selected={panel === name}
                className="min-h-11 rounded-lg px-1.5 text-sm aria-selected:bg-petrol aria-selected:text-on-petrol"
                onClick={() => board.set({ panel: name })}
              >
                {word}
              </button>
            ))}
          </div>
          <div className="min-h-0 overflow-auto px-1" role="tabpanel">
            {draft.problem && (
              <div
                className="mb-2 flex items-start justify-between gap-2 border-l-4 border-crimson pl-2 text-crimson"
                role="alert"
              >
                <span>{draft.problem}</span>
                <Button weight="quiet" onClick={draft.dismiss} aria-label="Seen">
                  ×
                </Button>
              </div>
            )}
            <Clashes />
            {panel === 'item' && (
              <Inspector anatomy={anatomy} relations={meaning?.relations ?? null} found={found} act={act} />
            )}
            {panel === 'device' && <DevicePanel anatomy={anatomy} act={act} />}
            {panel === 'screws' && <ScrewTable anatomy={anatomy} act={act} />}
            {panel === 'caliper' && <Caliper anatomy={anatomy} act={act} />}
            {panel === 'proposals' && <Proposals anatomy={anatomy} plate={plate} act={act} />}
            {panel === 'files' && <Files anatomy={anatomy} act={act} />}
            {panel === 'publish' && <Publish anatomy={anatomy} faults={faults.length} />}
          </div>
          <FaultList found={found} />
        </aside>
      </div>
      <SmallDive anatomy={anatomy} sound={faults.length === 0} />
    </div>
  );
}

/** The next screw is like the last one that was said something of. */
function learnStamp({ changes }: acts.Made): void {
  const { stamp, set } = useBoard.getState();
  let next = stamp;
  for (const c of changes)
    if (c.do === 'set' && c.group === 'fasteners' && c.field in stamp) next = { ...next, [c.field]: c.to };
  if (next !== stamp) set({ stamp: next });
}

/** Is what is drawn with the server, and if not, where is it? */
function Saved() {
  const { waiting, unkept, away, version } = useDraft();
  return (
    <span
      role="status"
      className={`text-sm ${away ? 'text-crimson' : 'text-quiet'}`}
      data-testid="saved"
      data-version={version}
      data-unkept={unkept}
    >
      {away
        ? `${waiting.length} ${waiting.length === 1 ? 'edit waits' : 'edits wait'} on this browser: the server does not answer`
        : waiting.length > 0
          ? 'saving…'
          : `saved, version ${version}`}
    </span>
  );
}

/** Edits of another window that stand in the way of one's own. */
function Clashes() {
  const { clashes, settle } = useDraft();
  const select = useBoard((b) => b.select);
  if (clashes.length === 0) return null;
  return (
    <ul aria-label="Clashes" className="mb-3 grid gap-2">
      {clashes.map((c) => (
        <li key={c.edit.id} className="rounded-lg border-l-4 border-crimson bg-sunk p-2">
          <p className="font-semibold">{c.edit.label} was not kept</p>
          <p className="text-sm">{c.why}</p>
          <span className="mt-1 flex flex-wrap gap-1">
            <Button onClick={() => settle(c, true)}>Mine after all</Button>
            <Button weight="quiet" onClick={() => settle(c, false)}>
              Leave it so
            </Button>
            {c.item && (
              <Button weight="quiet" onClick={() => select([c.item!])}>
                Show it
              </Button>
            )}
          </span>
        </li>
      ))}
    </ul>
  );
}

function FaultList({
  found,
}: {
  found: readonly { item: string | null; path: string; message: string; kind: string }[];
}) {
  const { select } = useBoard();
  const [open, setOpen] = useState(false);
  const faults = found.filter((f) => f.kind === 'fault').length;
  const warnings = found.length - faults;
  if (found.length === 0) return <p className="px-1 text-sm font-semibold text-moss">✓ No faults</p>;
  return (
    <details open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary
        className={`min-h-11 content-center font-semibold ${faults > 0 ? 'text-crimson' : 'text-ember'}`}
        data-testid="faults"
      >
        {faults} {faults === 1 ? 'fault' : 'faults'}, {warnings} {warnings === 1 ? 'warning' : 'warnings'}
      </summary>
      <ul className="grid max-h-48 gap-1 overflow-auto text-sm">
        {found.map((f, i) => (
          <li key={i}>
            <button
              type="button"
              className={`w-full border-l-4 py-1 pl-2 text-left ${f.kind === 'fault' ? 'border-crimson' : 'border-ember'}`}
              onClick={() => f.item && select([f.item])}
            >
              {f.item && <b>{f.item}: </b>}
              {f.message}
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}

const ARROWS: Record<string, Point> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
/** How far an arrow moves what is selected, mm; with Shift. And the cross that draws. */
const NUDGE = { plain: 0.1, shift: 1 } as const;

/** Everything of the board by keyboard. */
function useKeys(anatomy: Anatomy, act: (made: acts.Made | null) => void): void {
  const latest = useRef({ anatomy, act });
  latest.current = { anatomy, act };
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const { anatomy, act } = latest.current;
      const target = e.target as HTMLElement;
      const typing = target.closest('input:not([type=range]):not([type=checkbox]), textarea, select') !== null;
      const b = useBoard.getState();
      const draft = useDraft.getState();
      if ((e.ctrlKey || e.metaKey) && !typing) {
        const key = e.key.toLowerCase();
        if (key === 'z') (e.shiftKey ? draft.redo : draft.undo)();
        else if (key === 'y') draft.redo();
        else if (key === 'd' && b.selected.length > 0) act(acts.copy(anatomy, b.selected));
        else if (key === 'a') b.select(anatomy.fasteners.filter((f) => f.face === b.face).map((f) => f.id));
        else return;
        e.preventDefault();
        return;
      }
      // Escape leaves a field: the keys are the board's again.
      if (typing && e.key === 'Escape') target.blur();
      if (typing || e.altKey || e.ctrlKey || e.metaKey) return;
      if (proposalKey(e.key, e.shiftKey, anatomy, act)) {
        e.preventDefault();
        return;
      }
      const arrow = ARROWS[e.key];
      const step = e.shiftKey ? NUDGE.shift : NUDGE.plain;
      // Seen from the back, right is the device's left.
      const way = (p: Point): Point => [p[0] * (b.face === 'back' ? -1 : 1), p[1]];
      if (arrow) {
        const [dx, dy] = way(arrow);
        if (b.tool === 'select' && b.selected.length > 0) act(acts.move(anatomy, b.selected, dx * step, dy * step));
        else {
          const at = b.cross ?? [anatomy.body.width / 2, anatomy.body.height / 2];
          const far = e.shiftKey ? 5 : 0.5;
          b.set({ cross: [Math.round((at[0] + dx * far) * 10) / 10, Math.round((at[1] + dy * far) * 10) / 10] });
        }
      } else if (e.key === 'Escape') b.set({ points: [], selected: [], tool: 'select', cross: null });
      else if (e.key === 'Delete' || e.key === 'Backspace') {
        if (b.points.length > 0) b.set({ points: b.points.slice(0, -1) });
        else if (b.selected.length > 0) act(acts.remove(anatomy, b.selected));
      } else if (e.key === 'Enter') {
        if (target.closest('button, a, summary, [role=tab]')) return;
        enter(anatomy, act, e.shiftKey);
      } else if (e.key === '[') b.set({ layer: Math.max(0, b.layer - 1) });
      else if (e.key === ']') b.set({ layer: b.layer + 1 });
      else if (e.key === 'f') b.set({ face: b.face === 'front' ? 'back' : 'front', layer: 0 });
      else if (e.key === 'i') b.set({ plate: { ...b.plate, shown: !b.plate.shown } });
      else if (e.key === 'o') b.set({ solo: !b.solo });
      else {
        const tool = TOOLS.find((t) => TOOL_WORDS[t].key === e.key);
        if (!tool) return;
        b.set({ tool, points: [], cross: b.cross });
      }
      e.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
}

/** Enter: a point at the cross, or the end of what was begun. */
function enter(anatomy: Anatomy, act: (made: acts.Made | null) => void, ends: boolean): void {
  const b = useBoard.getState();
  const { tool, points, cross, face, layer, selected } = b;
  const part = anatomy.parts.find((p) => p.id === selected[0]);
  const finish = () => {
    if (tool === 'polygon' && points.length > 2) act(acts.addPart(anatomy, { polygon: [...points] }, face, layer));
    if (tool === 'strip' && points.length > 1 && part) act(acts.addBond(anatomy, part, { line: [...points] }));
    b.set({ points: [] });
  };
  if (tool === 'mate') {
    if (selected.length > 1) act(acts.addMating(anatomy, selected));
    return;
  }
  const many = tool === 'polygon' || tool === 'strip';
  if (many && (ends || cross === null || same(points.at(-1), cross))) {
    finish();
    return;
  }
  if (!cross) return;
  if (many) b.set({ points: [...points, cross] });
  else if (tool === 'screw') act(acts.addScrews(anatomy, [{ at: cross }], b.stamp, face, layer));
  else if (tool === 'tab') act(acts.addTab(anatomy, selected[0] ?? '', cross));
  else if (tool === 'catch') act(part ? acts.addLatch(anatomy, part, cross) : null);
  else if (points.length === 0) b.set({ points: [cross] });
  else {
    const [from] = points as [Point];
    const rect: [number, number, number, number] = [
      Math.min(from[0], cross[0]),
      Math.min(from[1], cross[1]),
      Math.abs(from[0] - cross[0]),
      Math.abs(from[1] - cross[1]),
    ];
    b.set({ points: [] });
    const wide = rect[2] > 0.2 && rect[3] > 0.2;
    if (tool === 'plug') act(acts.addPlug(anatomy, from, cross, face, layer, selected[0] ?? null));
    else if (tool === 'circle') {
      const r = Math.hypot(from[0] - cross[0], from[1] - cross[1]);
      if (r > 0.2) act(acts.addPart(anatomy, { circle: [from[0], from[1], Math.round(r * 100) / 100] }, face, layer));
    } else if (tool === 'part' && wide) act(acts.addPart(anatomy, { rect }, face, layer));
    else if (tool === 'area' && wide && part) act(acts.addBond(anatomy, part, { area: { rect } }));
  }
}

const same = (a: Point | undefined, b: Point): boolean => a !== undefined && a[0] === b[0] && a[1] === b[1];
