import type { Model } from '../../core/anatomy/index.ts';

/** What is wrong with what the items of a device are called, or `null`: each is told from every other like it, in plain words. */
export function namesAmiss(model: Model): string | null {
  const { anatomy } = model;
  const nameless = [...anatomy.bonds, ...anatomy.latches];
  const called = new Map<string, string>();
  for (const { id } of nameless) {
    const name = model.nameOf(id);
    if (called.has(name)) return `${id} and ${called.get(name)} are both called ${name}`;
    called.set(name, id);
  }
  // An id is said only where it has to be.
  const bare = (name: string) => name.replace(/ \([^()]*\)$/, '');
  for (const [name, id] of called) {
    const alike = [...called.keys()].filter((other) => bare(other) === bare(name)).length;
    if (name.endsWith(`(${id})`) !== alike > 1) return `${name}: ${alike} alike`;
  }
  for (const l of anatomy.latches) {
    const name = model.nameOf(l.id);
    if (!name.includes(l.edge) || /\b1 catches|\b[02-9]\d* catch,/.test(name)) return name;
  }
  for (const f of anatomy.fasteners) {
    const name = model.nameOf(f.id);
    const what = f.drive === 'none' ? f.kind : f.drive;
    if (!name.includes(f.id) || !name.includes(` ${what} `)) return `${f.id}, ${what}: ${name}`;
    if (f.length !== null && !name.includes(String(f.length))) return `${f.length} mm: ${name}`;
  }
  for (const b of anatomy.bonds) {
    const joins = b.joins.filter((id) => model.nameOf(b.id).includes(model.parts.get(id)!.name));
    if (joins.length === 0) return `${model.nameOf(b.id)}: of what?`;
  }
  for (const { id, name } of [...anatomy.parts, ...anatomy.connectors])
    if (model.nameOf(id) !== name) return `${id}: ${name}`;
  return null;
}
