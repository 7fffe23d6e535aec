import { useEffect, useMemo, useRef, useState } from 'react';
import type { Point } from '../../../core/anatomy/index.ts';
import {
  isOpened,
  openDevice,
  specOf,
  warningsFor,
  type Act,
  type ActFile,
  type ActKind,
  type Mark,
  type OpenDevice,
  type Sight,
  type Thing,
  type UnknownDevice,
  type Warning,
} from '../../../core/explore/index.ts';
import type { PlateInfo } from '../../../core/jobs/index.ts';
import { SKIPPED, type Question } from '../../../core/learn/index.ts';
import { actFileOf, type DeviationKind, type RunState } from '../../../core/run/index.ts';
import { useRunOf } from '../../state/run.ts';
import { useLoad } from '../../state/useLoad.ts';
import { fieldWorker } from '../../workers/field.ts';
import type { Outlook } from '../../workers/field.worker.ts';
import { inHand, nextName, sightOf, WAY_SPECS, type Way } from './ways.ts';

/** Nothing was done for so long: a quiet moment, ms. Origin: own choice; a hand that goes on is quicker. */
const QUIET_MS = 5000;
/** A tap so near to a head or plug that was seen is on it, mm. */
const SNAP = 2.2;

export interface Field {
  open: OpenDevice;
  device: UnknownDevice | null;
  plates: PlateInfo[];
  reloadPlates: () => void;
  /** The photograph of what lies bare on the side that is worked on. */
  plate: PlateInfo | null;
  marks: Mark[];
  way: Way;
  setWay: (way: Way) => void;
  on: string | null;
  setOn: (part: string | null) => void;
  /** The thing that the newest act was done to. */
  thing: Thing | null;
  warnings: Warning[];
  outlook: Outlook | null;
  question: Question | null;
  /** Records what a tap or a ground means now. */
  place: (places: readonly Point[]) => void;
  act: (act: ActKind, item: string | null, seen: Sight, note?: string) => void;
  /** Says more of the thing in hand. */
  tell: (seen: Sight) => void;
  differs: (kind: DeviationKind, note: string) => void;
  /** What was said of the thing in hand to be different. */
  said: DeviationKind[];
  takeBack: () => void;
  answer: (value: string) => void;
}

/** A field dive as the screen needs it: what is open, what a tap means, what a colleague would say. */
export function useField(job: string, state: RunState): Field {
  const { record } = useRunOf('record');
  const { data: dives } = useLoad<{ device: UnknownDevice; earlier: ActFile[] }>(`/field/${job}/dives`);
  const { data: plates, reload } = useLoad<PlateInfo[]>(`/field/${job}/plates`);
  const { acts, answers } = state;
  const open = useMemo(() => openDevice(acts), [acts]);
  const [way, setWay] = useState<Way>('screw');
  const [chosen, setOn] = useState<string | null>(null);
  const carrier = chosen === null ? undefined : open.things.get(chosen);
  const on = carrier && carrier.stands !== 'in' ? chosen : null;
  const [warnings, setWarnings] = useState<Warning[]>([]);

  const lastPhoto = useMemo(() => acts.findLast((a) => a.act === 'photographed'), [acts]);
  const gone = useMemo(
    () => new Set([...open.things.values()].flatMap((t) => (t.stands === 'undone' && t.seen.at ? [t.seen.at] : []))),
    [open],
  );
  const marks = useMemo(
    () =>
      (lastPhoto?.seen.marks ?? []).filter(
        (m) =>
          m.face === open.up &&
          m.on === on &&
          ![...gone].some((p) => Math.hypot(p[0] - m.at[0], p[1] - m.at[1]) < SNAP),
      ),
    [lastPhoto, open.up, on, gone],
  );
  const plate = useMemo(() => {
    const here = (plates ?? []).filter((p) => p.face === open.up && p.layer <= open.bare[open.up]);
    return here.sort((a, b) => b.layer - a.layer || b.createdAt.localeCompare(a.createdAt))[0] ?? null;
  }, [plates, open]);

  const device = dives?.device ?? null;
  const file = useMemo(() => (device ? actFileOf(device, { acts, answers }) : null), [device, acts, answers]);
  const files = useMemo(() => (dives && file ? [...dives.earlier, file] : null), [dives, file]);
  const outlook = useOutlook(files, open);
  const question = useQuestion(files, open);

  const act = (kind: ActKind, item: string | null, seen: Sight, note = '') => {
    const made: Act = { id: 'now', act: kind, item, note, seen, at: new Date().toISOString() };
    const thermometer = state.readings.length > 0;
    setWarnings(device ? warningsFor(open, made, { device, thermometer, marks }) : []);
    record([{ type: 'act', act: kind, item, note, seen }]);
  };

  const last = acts.findLast((a) => a.item !== null);
  const thing = last?.item ? (open.things.get(last.item) ?? null) : null;
  const body = device ?? { width: 70, height: 140 };

  const place = (places: readonly Point[]) => {
    const snapped = places.map((p) => snap(p, way, marks));
    if (way === 'leads') {
      if (thing?.type === 'connector') act('told', thing.id, { leads: { at: snapped[0]! } });
      setWay('plug');
      return;
    }
    const { act: kind } = WAY_SPECS[way];
    const { of } = specOf(kind!);
    const face = on === null ? open.up : carrier!.seen.face === 'back' ? 'front' : 'back';
    const held = inHand(way, open);
    const seen = sightOf(way, snapped, { body, on, face }, open);
    const same = held && (way === 'off' || way === 'cut' || way === 'swing');
    act(
      kind!,
      same ? held.id : nextName(of!, open.things.keys()),
      same ? { on: held.seen.on ?? null, tool: seen.tool ?? null } : seen,
    );
    if (way === 'heat') setWay('cut');
    if (way === 'battery') setWay('plug');
  };

  return {
    open,
    device,
    plates: plates ?? [],
    reloadPlates: reload,
    plate,
    marks,
    way,
    setWay,
    on,
    setOn,
    thing,
    warnings,
    outlook,
    question,
    place,
    act,
    tell: (seen) => thing && act('told', thing.id, seen),
    differs: (kind, note) => thing && record([{ type: 'deviation', item: thing.id, kind, note }]),
    said: state.deviations.filter((d) => d.item === thing?.id).map((d) => d.kind),
    takeBack: () => {
      const newest = acts.at(-1);
      setWarnings([]);
      if (newest) record([{ type: 'act-undone', act: newest.id }]);
    },
    answer: (value) => question && record([{ type: 'answered', question: question.id, answer: value || SKIPPED }]),
  };
}

function snap(at: Point, way: Way, marks: readonly Mark[]): Point {
  const type = way === 'screw' ? 'fastener' : way === 'plug' || way === 'battery' ? 'connector' : null;
  if (type === null) return at;
  const near = marks
    .filter((m) => m.type === type)
    .map((m) => ({ m, far: Math.hypot(m.at[0] - at[0], m.at[1] - at[1]) }))
    .sort((a, b) => a.far - b.far)[0];
  return near && near.far <= SNAP ? near.m.at : at;
}

/** The way back from here, worked out beside the interface; what is overtaken is not shown. */
function useOutlook(files: ActFile[] | null, open: OpenDevice): Outlook | null {
  const [outlook, setOutlook] = useState<Outlook | null>(null);
  const newest = useRef(0);
  useEffect(() => {
    const turn = ++newest.current;
    if (!files || !isOpened(open)) {
      setOutlook(null);
      return;
    }
    const timer = setTimeout(() => {
      void fieldWorker()
        .outlook(files)
        .then((found) => turn === newest.current && setOutlook(found));
    }, 150);
    return () => clearTimeout(timer);
  }, [files, open]);
  return outlook;
}

/** The one question worth asking, once hands have been quiet for a while. */
function useQuestion(files: ActFile[] | null, open: OpenDevice): Question | null {
  const [question, setQuestion] = useState<Question | null>(null);
  const newest = useRef(0);
  useEffect(() => {
    const turn = ++newest.current;
    setQuestion(null);
    if (!files || !isOpened(open)) return;
    const timer = setTimeout(() => {
      void fieldWorker('questions')
        .question(files)
        .then((found) => turn === newest.current && setQuestion(found));
    }, QUIET_MS);
    return () => clearTimeout(timer);
  }, [files, open]);
  return question;
}
