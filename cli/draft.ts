import { readFile, writeFile } from 'node:fs/promises';
import { anatomyFormat, readAnatomyText, parseJson, faultsOf, type Anatomy } from '../core/anatomy/index.ts';
import { applied, differences } from '../core/draft/index.ts';
import { readAs } from '../core/format/index.ts';
import { drawSvg, readSvg } from '../core/files/index.ts';
import { Stop, USAGE, type Values } from './usage.ts';

async function textAt(path: string): Promise<string> {
  try {
    return await readFile(path, 'utf8');
  } catch (cause) {
    throw new Stop(2, `cannot read ${path}: ${cause instanceof Error ? cause.message : String(cause)}`);
  }
}

/** A draft may have faults; it must have the shape of an anatomy. */
async function draftAt(path: string): Promise<Anatomy> {
  const parsed = parseJson(await textAt(path));
  if (!parsed.ok) throw new Stop(1, parsed.faults.map((f) => `${path}: ${f.path}: ${f.message}`).join('\n'));
  const reading = readAs<Anatomy>(anatomyFormat, parsed.value);
  if (!reading.ok) throw new Stop(1, reading.faults.map((f) => `${path}: ${f.path}: ${f.message}`).join('\n'));
  return reading.value;
}

const writeTo = (path: string, text: string): Promise<void> =>
  writeFile(path, text).catch((cause: Error) => {
    throw new Stop(2, `cannot write ${path}: ${cause.message}`);
  });

/** `draft diff`: what changed between two anatomies, in words. */
export async function draft(what: string, [before, after, ...rest]: string[], values: Values): Promise<string> {
  if (what !== 'diff' || !before || !after || rest.length > 0)
    throw new Stop(2, `draft diff takes two anatomies, the older first\n${USAGE}`);
  const found = differences(await draftAt(before), await draftAt(after));
  if (values.json) return JSON.stringify(found, null, 2);
  return found.length === 0 ? 'nothing changed' : found.map((d) => d.text).join('\n');
}

/** `svg`: the layered drawing at 1:1. */
export async function svg(path: string, values: Values): Promise<string> {
  const reading = readAnatomyText(await textAt(path));
  if (!reading.ok) throw new Stop(1, reading.faults.map((f) => `${f.path}: ${f.message}`).join('\n'));
  const drawing = drawSvg(reading.value);
  if (!values.out) return drawing.trimEnd();
  await writeTo(values.out, drawing);
  const { width, height } = reading.value.body;
  return `${values.out}: ${width} × ${height} mm, 1:1`;
}

/** `svg-in`: what a drawing program changed, put into the anatomy. */
export async function svgIn(path: string, drawing: string | undefined, values: Values): Promise<string> {
  if (!drawing) throw new Stop(2, `svg-in needs the anatomy and the drawing\n${USAGE}`);
  const before = await draftAt(path);
  const reading = readSvg(before, await textAt(drawing));
  if (!reading.ok) throw new Stop(1, reading.faults.map((f) => `${drawing}: ${f.path}: ${f.message}`).join('\n'));
  const { edit, strangers, missing } = reading.value;
  const after = applied(before, edit);
  const faults = faultsOf(after);
  const changes = differences(before, after).map((d) => d.text);
  if (values.out) await writeTo(values.out, `${JSON.stringify(after, null, 2)}\n`);
  if (values.json) return JSON.stringify({ anatomy: after, changes, strangers, missing, faults }, null, 2);
  return [
    ...(changes.length > 0 ? changes : ['nothing changed']),
    ...(strangers.length > 0 ? [`no items of the device, left out: ${strangers.join(', ')}`] : []),
    ...(missing.length > 0 ? [`not in the drawing, left as they were: ${missing.join(', ')}`] : []),
    ...faults.map((f) => `fault: ${f.path}: ${f.message}`),
  ].join('\n');
}
