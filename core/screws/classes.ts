import type { Fastener, Model } from '../anatomy/index.ts';
import { FASTENERS } from '../kinds/index.ts';

/** What makes two fasteners interchangeable. */
export type ScrewShape = Pick<Fastener, 'kind' | 'drive' | 'length' | 'thread' | 'head' | 'magnetic' | 'colour'>;

/** Fasteners that may change places: same kind, drive, length, thread, head, stuff and colour. */
export interface ScrewClass {
  /** `A`, `B` ... `Z`, `AA`: told apart without colour, the most frequent first. */
  letter: string;
  shape: ScrewShape;
  fasteners: string[];
}

export function screwClass(f: ScrewShape): string {
  return (
    `${f.kind} ${f.drive} ${f.thread}×${f.length ?? '?'} head ` +
    `${f.head}${f.magnetic ? '' : ' not magnetic'}${f.colour === 'bright' ? '' : ` ${f.colour}`}`
  );
}

function letterOf(index: number): string {
  const last = String.fromCharCode(65 + (index % 26));
  return index < 26 ? last : letterOf(Math.floor(index / 26) - 1) + last;
}

/** The classes of a device, or of some of its fasteners; letters are those of the whole device. */
export function classesOf(model: Model, only?: ReadonlySet<string>): ScrewClass[] {
  const groups = new Map<string, Fastener[]>();
  // Screws that nobody has measured are not known to be alike: each is kept by its own place.
  const key = (f: Fastener) => (f.length === null ? `${screwClass(f)} ${f.id}` : screwClass(f));
  for (const f of model.anatomy.fasteners) groups.set(key(f), [...(groups.get(key(f)) ?? []), f]);
  const sorted = [...groups.values()].sort(
    (a, b) => b.length - a.length || screwClass(a[0]!).localeCompare(screwClass(b[0]!)),
  );
  return sorted
    .map((list, i): ScrewClass => {
      const { kind, drive, length, thread, head, magnetic, colour } = list[0]!;
      return {
        letter: letterOf(i),
        shape: { kind, drive, length, thread, head, magnetic, colour },
        fasteners: list.map((f) => f.id).filter((id) => !only || only.has(id)),
      };
    })
    .filter((c) => c.fasteners.length > 0);
}

/** What is out of the ordinary about a screw, to be called out when it is handled. */
export function calledOut(model: Model, id: string): string[] {
  const f = model.fasteners.get(id)!;
  const tags: string[] = [];
  if (!f.magnetic && !FASTENERS.of(f.kind).sprung) tags.push('not magnetic');
  if (f.colour !== 'bright') tags.push(f.colour);
  if (FASTENERS.of(f.kind).stays) tags.push('captive: loosen only');
  if (FASTENERS.of(f.kind).seat) tags.push('standoff');
  if (FASTENERS.of(f.kind).sprung) tags.push(f.kind);
  if (f.fate === 'renew' || f.threadlock) tags.push(f.threadlock ? 'threadlocked: a new one goes back' : 'single use');
  // The one that is missed: alone of its class among the screws of the same part.
  const beside = model.anatomy.fasteners.filter(
    (other) => other.id !== id && other.holds.some((part) => f.holds.includes(part)) && other.face === f.face,
  );
  if (
    beside.length >= 2 &&
    !beside.some((other) => screwClass(other) === screwClass(f)) &&
    new Set(beside.map(screwClass)).size < beside.length
  )
    tags.push('the odd one');
  return tags;
}
