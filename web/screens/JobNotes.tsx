import { format } from 'date-fns/format';
import { Camera } from 'lucide-react';
import { useState, type FormEvent } from 'react';
import { Button, FileButton, ProblemNote } from '../controls/index.tsx';
import { ApiError, messageOf, storePhoto } from '../state/api.ts';
import { NOT_SENT_YET } from '../state/outbox.ts';
import { useRunOf } from '../state/run.ts';
import { OutboxNote } from './run/OutboxNote.tsx';
import { noteWords } from '../../words/index.ts';

/** What can be recorded on a job without a dive: notes and photographs. */
export function JobNotes() {
  const { state, record } = useRunOf('state', 'record');
  const [text, setText] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  if (!state) return null;
  const note = (e: FormEvent) => {
    e.preventDefault();
    if (text.trim() !== '' && record([{ type: 'note', step: null, text: text.trim() }])) setText('');
  };
  const photograph = async (file: File | undefined) => {
    if (!file) return;
    setProblem(null);
    try {
      record([{ type: 'photo', photo: await storePhoto(file), step: null, note: '' }]);
    } catch (error) {
      if (error instanceof ApiError && error.status === 0) {
        record([{ type: 'photo', photo: NOT_SENT_YET, step: null, note: '' }], file);
      } else setProblem(messageOf(error));
    }
  };
  return (
    <section className="panel grid gap-4 p-5" aria-labelledby="notes">
      <h2 id="notes" className="text-xl font-semibold">
        Notes and photographs
      </h2>
      <OutboxNote />
      <form onSubmit={note} className="flex flex-wrap items-end gap-3">
        <label className="min-w-60 flex-1">
          <span className="label">Note</span>
          <input className="field" value={text} maxLength={2000} onChange={(e) => setText(e.target.value)} />
        </label>
        <Button type="submit" disabled={text.trim() === ''}>
          Keep the note
        </Button>
        <FileButton icon={<Camera aria-hidden="true" />} accept="image/*" onFile={(file) => void photograph(file)}>
          Add a photograph
        </FileButton>
      </form>
      {problem && <ProblemNote>{problem}</ProblemNote>}
      {state.notes.length + state.photos.length === 0 && <p className="text-quiet">Nothing yet.</p>}
      <ul className="grid gap-1">
        {state.notes.map((n, i) => (
          <li key={i}>
            <time className="num mr-3 text-sm text-quiet">{format(new Date(n.at), 'd MMM, HH:mm')}</time>
            {noteWords(state.context.model, n)} <span className="text-sm text-quiet">{n.by}</span>
          </li>
        ))}
      </ul>
      <ul className="flex flex-wrap gap-3">
        {state.photos.map((p, i) => (
          <li key={i}>
            {p.photo === NOT_SENT_YET ? (
              <span className="grid h-28 w-28 place-items-center rounded-md bg-sunk p-2 text-center text-sm">
                kept here, not sent yet
              </span>
            ) : (
              <a href={`/api/photos/${p.photo}`}>
                <img src={`/api/photos/${p.photo}/thumb`} alt={p.note || 'Photograph'} className="h-28 rounded-md" />
              </a>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
