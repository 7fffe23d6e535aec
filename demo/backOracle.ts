import type { Anatomy, Bond } from '../core/anatomy/index.ts';
import type { Plan, Step } from '../core/dive/index.ts';

/**
 * What a practised hand does on every way back, whatever device it is: said of any plan from the document alone, in kinds of
 * steps and in spans of time. Common practice.
 */

type Said = string | null;

const isLaid = (verb: Step['do']) => verb === 'bond';
const LINED: readonly Bond['kind'][] = ['stretch-tab', 'pull-pouch'];

/** Liners come off what was laid new and has some, just before its part goes down, each in its time. */
function liners(anatomy: Anatomy, { steps, rules }: Plan): Said {
  const bonds = new Map(anatomy.bonds.map((b) => [b.id, b]));
  const lined = (b: Bond) => LINED.includes(b.kind) || (b.kind === 'tape' && rules.seal !== 'liquid-glue');
  const laid = new Set(steps.filter((s) => isLaid(s.do)).flatMap((s) => s.items));
  const taken = new Set<string>();
  for (const s of steps) {
    if (s.do === 'remove-liner') {
      const wrong = s.items.find((id) => !lined(bonds.get(id)!) || bonds.get(id)!.fate === 'keep');
      if (wrong) return `step ${s.n}: ${wrong} has no liner`;
      if (s.seconds < 8 * s.items.length) return `step ${s.n}: ${s.seconds} s for ${s.items.length} liners`;
      for (const id of s.items) taken.add(id);
    }
    if ((s.do !== 'press' && s.do !== 'cure') || s.phase === 'prove') continue;
    const forgotten = s.items.find((id) => {
      const b = bonds.get(id);
      if (b?.fate !== 'renew' || !laid.has(id) || !lined(b) || taken.has(id)) return false;
      // What is laid over a part that lies already is stuck on as it is laid.
      const at = steps.findIndex((o) => isLaid(o.do) && o.items.includes(id));
      const fits = (o: Step) => o.do === 'fit' && b.joins.some((part) => o.items.includes(part));
      return steps.some((o, i) => i > at && o.n < s.n && fits(o));
    });
    if (forgotten) return `step ${s.n}: ${forgotten} is pressed with its liner on`;
  }
  return null;
}

const hinted = ({ hint }: Step, code: string): boolean => hint.some((h) => h.code === code);

/** Is something of it no number, or missing? */
const isAmiss = (value: unknown): boolean =>
  typeof value === 'object' && value !== null
    ? Object.values(value).some(isAmiss)
    : value === undefined || (typeof value === 'number' && !Number.isFinite(value));

/** A load stands and has a tool, a hand does neither; a cure says so, and nothing else does. */
function pressed(anatomy: Anatomy, { steps }: Plan): Said {
  const bonds = new Map(anatomy.bonds.map((b) => [b.id, b]));
  for (const s of steps) {
    if (s.do !== 'press' && s.do !== 'cure') continue;
    const at = `step ${s.n}, ${s.do} ${s.items.join(' ')}`;
    if (s.waits > 0 !== (s.tool !== null)) return `${at}: waits ${s.waits} s with ${s.tool}`;
    if (s.waits > 0 && s.waits < 30) return `${at}: a load of ${s.waits} s`;
    if ((s.do === 'cure') !== hinted(s, 'let-cure')) return `${at}: ${JSON.stringify(s.hint)}`;
    const kept = s.items.every((id) => bonds.get(id)?.fate === 'keep');
    if (kept && s.waits > 0) return `${at}: what was kept is clamped`;
    if (kept !== hinted(s, 'laid-back')) return `${at}: ${JSON.stringify(s.hint)}`;
    const catches = s.items.flatMap((id) => anatomy.latches.filter((l) => l.id === id));
    if (catches.length > 0 && s.seconds < catches.reduce((n, l) => n + l.count, 0)) return `${at}: ${s.seconds} s`;
  }
  return null;
}

/** What the joint of a bond is wiped with before a new one is laid, how long that takes and dries. */
function cleaned(anatomy: Anatomy, { steps }: Plan): Said {
  const parts = new Map(anatomy.parts.map((p) => [p.id, p]));
  for (const s of steps) {
    if (s.do !== 'clean') continue;
    const at = `step ${s.n}, clean ${s.items.join(' ')}`;
    const dry = s.items.some((id) => parts.get(id)?.limits?.solvent === false);
    if ((s.tool === 'spudger') !== dry || s.cautions.includes('solvent') === dry) return `${at}: with ${s.tool}`;
    if (dry ? s.waits > 0 : s.waits < 30) return `${at}: dries ${s.waits} s`;
    if (s.seconds < 20) return `${at}: ${s.seconds} s`;
    const own = (id: string) => s.items.some((whole) => id === whole || parts.get(id)?.within === whole);
    const bonds = anatomy.bonds.filter((b) => b.joins.some(own)).map((b) => b.id);
    const forBond = steps.some((o) => o.n > s.n && isLaid(o.do) && o.items.some((id) => bonds.includes(id)));
    if (!forBond && !s.items.some((id) => parts.get(id)?.kind === 'battery')) return `${at}: for no bond`;
    // A rim of old tape or glue is not wiped off in the time of a contact.
    const rim = anatomy.bonds.find(
      (b) =>
        (b.kind === 'tape' || b.kind === 'glue') &&
        'perimeterOf' in b.at &&
        s.items.includes(b.at.perimeterOf) &&
        b.compressedBy === undefined &&
        steps.some((o) => o.n < s.n && o.do === 'cut' && o.items.includes(b.id)) &&
        steps.some((o) => isLaid(o.do) && o.phase === 'ascent' && o.items.includes(b.id)),
    );
    const whole = rim && 'perimeterOf' in rim.at ? parts.get(rim.at.perimeterOf)! : null;
    if (whole && 'rect' in whole.outline && rim && 'gaps' in rim.at && rim.at.gaps.length === 0) {
      const [, , w, h] = whole.outline.rect;
      if (s.seconds < 40 + ((w + h) / 10) * 1.2)
        return `${at}: ${s.seconds} s for a rim of ${Math.round(2 * (w + h))} mm`;
    }
  }
  return null;
}

/** A trial takes as long as switching on, looking, switching off, and every plug twice; and it says what cannot be tried. */
function tried(anatomy: Anatomy, { steps }: Plan): Said {
  const cells = new Set(anatomy.parts.filter((p) => p.kind === 'battery').map((p) => p.id));
  for (const s of steps) {
    if (s.do !== 'try') continue;
    if (!s.cautions.includes('static') || s.cautions.includes('lithium') !== cells.has(s.items[0]!))
      return `step ${s.n}: a trial with ${s.cautions.join(', ')}`;
    const plugs = s.items.length - 1;
    if (s.seconds < 60 + 8 * plugs || s.seconds > 120 + 60 * plugs) return `step ${s.n}: a trial of ${s.seconds} s`;
    const fit = steps.find((o) => o.n > s.n && o.do === 'fit' && o.items[0] === s.items[0]);
    if (fit && (hinted(fit, 'reach-later') || hinted(fit, 'contacts-meet-later')))
      return `step ${fit.n}: it was tried, and cannot be`;
  }
  return null;
}

/** Cells are looked at before they go in, kept gaskets before they are closed on, emitters are warned of. */
function lookedAt(anatomy: Anatomy, { steps }: Plan): Said {
  const parts = new Map(anatomy.parts.map((p) => [p.id, p]));
  const looked = (id: string, from: number, to: number) =>
    steps.slice(from, to).some((s) => s.do === 'inspect' && s.items.includes(id));
  for (const [i, s] of steps.entries()) {
    if (s.do !== 'fit' || s.phase !== 'ascent') continue;
    for (const id of s.items) {
      const part = parts.get(id)!;
      const off = steps.findLastIndex(
        (o, k) => k < i && ['lift', 'swing', 'ease'].includes(o.do) && o.items.includes(id),
      );
      if (part.kind === 'battery' && !looked(id, Math.max(off, 0), i)) return `step ${s.n}: nobody looked at ${id}`;
      const wiped = steps.slice(Math.max(off, 0), i).some((o) => o.do === 'clean' && o.items.includes(id));
      if (part.kind === 'battery' && !wiped) return `step ${s.n}: ${id} is laid on old glue`;
      const hooks = anatomy.latches.some((l) => l.mate === 'first' && l.joins.includes(id));
      const ownWay = part.enters !== null || part.leaves !== null;
      if (!ownWay && hooks !== hinted(s, 'hooks-first'))
        return `step ${s.n}: hooks ${hooks}, and ${JSON.stringify(s.hint)}`;
      if (part.kind === 'battery' && !s.cautions.includes('lithium')) return `step ${s.n}: no word of lithium`;
      if (part.glass && !s.cautions.includes('glass')) return `step ${s.n}: no word of glass`;
    }
  }
  const moved = new Set(steps.filter((s) => s.phase === 'descent').flatMap((s) => s.items));
  const emits = [...moved].some((id) => parts.get(id)?.kind === 'sensor');
  const on = steps.find((s) => s.do === 'power-on' && s.phase === 'ascent');
  if (on && on.cautions.includes('emitter') !== emits) return `step ${on.n}: emitters ${emits}`;
  for (const b of anatomy.bonds) {
    if (b.compressedBy === undefined || b.fate !== 'keep') continue;
    const opened = steps.findIndex(
      (s) => s.phase === 'descent' && s.do === 'lift' && b.joins.some((p) => s.items.includes(p)),
    );
    const closed = steps.findLastIndex((s) => s.do === 'fit' && b.joins.some((p) => s.items.includes(p)));
    if (opened >= 0 && closed > opened && !looked(b.id, opened, closed)) return `${b.id} is closed on unseen`;
  }
  return null;
}

/** What is bonded is laid down with care, and nothing that is said is a slip of the program. */
function laidDown(anatomy: Anatomy, { steps }: Plan): Said {
  for (const [i, s] of steps.entries()) {
    const next = steps[i + 1];
    const bonded = next?.do === 'press' && anatomy.bonds.some((b) => b.id === next.items[0]);
    if (s.do === 'fit' && s.phase === 'ascent' && bonded && s.seconds < 15)
      return `step ${s.n}: laid down in ${s.seconds} s`;
  }
  for (const s of steps)
    if ([...s.hint, ...s.because].some(isAmiss)) return `step ${s.n}: ${JSON.stringify([s.hint, s.because])}`;
  return null;
}

/** @returns what is wrong with the way back, in words; `null` when nothing can be said against it */
export const wrongBack = (anatomy: Anatomy, plan: Plan): Said =>
  liners(anatomy, plan) ??
  pressed(anatomy, plan) ??
  cleaned(anatomy, plan) ??
  tried(anatomy, plan) ??
  lookedAt(anatomy, plan) ??
  laidDown(anatomy, plan);
