import { FileDown, FileUp } from 'lucide-react';
import { useState } from 'react';
import { anatomyFormat, modelOf, parseJson, type Anatomy, type Fault } from '../../../core/anatomy/index.ts';
import { readAs } from '../../../core/format/index.ts';
import { editBetween, workable } from '../../../core/draft/index.ts';
import { drawSvg, readSvg } from '../../../core/files/index.ts';
import { fastenersCsv, readFasteners } from '../../../core/screws/index.ts';
import { Button, FileButton, ProblemNote } from '../../controls/index.tsx';
import { newId } from '../../state/ids.ts';
import type { Made } from './acts.ts';

function save(name: string, type: string, text: string): void {
  const address = URL.createObjectURL(new Blob([text], { type }));
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(address), 10_000);
}

/** The draft as files, out and in. What comes in is one edit, and can be taken back like any other. */
export function Files({ anatomy, act }: { anatomy: Anatomy; act: (made: Made) => void }) {
  const [refused, setRefused] = useState<{ error: string; faults: Fault[] } | null>(null);
  const [told, setTold] = useState<string | null>(null);
  const take = async (file: File | undefined) => {
    if (!file) return;
    setRefused(null);
    setTold(null);
    const text = await file.text();
    const no = (error: string, faults: Fault[]) => setRefused({ error, faults });
    if (/\.svg$/i.test(file.name)) {
      const reading = readSvg(anatomy, text);
      if (!reading.ok) return no('this drawing was not taken', reading.faults);
      const { edit, strangers, missing } = reading.value;
      act({ label: `Bring in ${file.name}`, changes: [...edit.changes], select: [] });
      const left = strangers.length > 0 ? ` No items of the device: ${strangers.slice(0, 8).join(', ')}.` : '';
      const lacks = missing.length > 0 ? ` Not in it, left as they were: ${missing.slice(0, 8).join(', ')}.` : '';
      setTold(`${edit.changes.length} changes.${left}${lacks}`);
    } else if (/\.csv$/i.test(file.name)) {
      const reading = readFasteners(text);
      if (!reading.ok) return no('this list of screws was not taken', reading.faults);
      const edit = editBetween(anatomy, { ...anatomy, fasteners: reading.value }, newId(), '');
      act({ label: `Bring in ${file.name}`, changes: [...edit.changes], select: [] });
      setTold(`${edit.changes.length} changes.`);
    } else {
      const parsed = parseJson(text);
      if (!parsed.ok) return no('this file was not taken', parsed.faults);
      const read = readAs<Anatomy>(anatomyFormat, parsed.value);
      if (!read.ok) return no('this is no anatomy', read.faults);
      const edit = editBetween(anatomy, { ...read.value, id: anatomy.id }, newId(), '');
      act({ label: `Bring in ${file.name}`, changes: [...edit.changes], select: [] });
      setTold(`${edit.changes.length} changes.`);
    }
  };
  return (
    <div className="grid content-start gap-2">
      <Button onClick={() => save(`${anatomy.id}.svg`, 'image/svg+xml', drawSvg(anatomy))}>
        <FileDown aria-hidden="true" />
        Layered drawing, 1:1 (SVG)
      </Button>
      <Button onClick={() => save(`${anatomy.id}-screws.csv`, 'text/csv', fastenersCsv(modelOf(workable(anatomy))))}>
        <FileDown aria-hidden="true" />
        Screws (CSV)
      </Button>
      <Button onClick={() => save(`${anatomy.id}.json`, 'application/json', `${JSON.stringify(anatomy, null, 2)}\n`)}>
        <FileDown aria-hidden="true" />
        Anatomy (JSON)
      </Button>
      <FileButton icon={<FileUp aria-hidden="true" />} accept=".svg,.csv,.json" onFile={(file) => void take(file)}>
        Bring one of them in
      </FileButton>
      {told && <p role="status">{told}</p>}
      {refused && <ProblemNote faults={refused.faults}>{refused.error}</ProblemNote>}
    </div>
  );
}
