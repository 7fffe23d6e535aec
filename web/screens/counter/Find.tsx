import { ScanBarcode, Search } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { groupedImei } from '../../../core/counter/index.ts';
import type { Hit } from '../../../core/jobs/index.ts';
import { FileButton } from '../../controls/index.tsx';
import { api, messageOf } from '../../state/api.ts';
import { useGo } from '../../state/here.ts';

/** What a label of the shop says before the id of its job. */
const LABEL = /^nibrel:([0-9a-f-]{36})$/;

/** Jobs, customers, numbers and devices while typing, or by the code of a label. */
export function Find() {
  const leave = useGo();
  const [text, setText] = useState('');
  const [hits, setHits] = useState<Hit[] | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    if (text.trim() === '') {
      setHits(null);
      return;
    }
    const stop = new AbortController();
    api<Hit[]>(`/counter/search?q=${encodeURIComponent(text)}`, { signal: stop.signal }).then(
      (found) => {
        setHits(found);
        setProblem(null);
      },
      (error) => {
        if (!stop.signal.aborted) setProblem(messageOf(error));
      },
    );
    return () => stop.abort();
  }, [text]);
  const scan = async (file: File | undefined) => {
    const go = leave();
    if (!file) return;
    try {
      const { codes } = await api<{ codes: { text: string }[] }>('/counter/scan', { body: file, type: file.type });
      const own = codes.map((c) => LABEL.exec(c.text)?.[1]).find(Boolean);
      if (own) go(`/jobs/${own}`);
      else if (codes[0]) setText(codes[0].text);
      else setProblem('No code was found in the picture; come closer, or type.');
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <search className="grid gap-2">
      <div className="flex gap-2">
        <label className="relative flex-1">
          <span className="sr-only">Find a job, a name, a number or a device</span>
          <Search className="absolute top-3 left-3 text-quiet" aria-hidden="true" />
          <input
            className="field !pl-12 text-lg"
            type="search"
            placeholder="Find a job, a name, a number, a device"
            value={text}
            maxLength={120}
            onChange={(e) => setText(e.target.value)}
          />
        </label>
        <FileButton icon={<ScanBarcode aria-hidden="true" />} accept="image/*" onFile={(f) => void scan(f)}>
          <span className="hidden sm:inline">Read a label</span>
        </FileButton>
      </div>
      {problem && <p className="text-crimson">{problem}</p>}
      {hits && (
        <ul aria-label="Found" className="panel grid gap-1 p-2">
          {hits.length === 0 && <li className="p-3 text-quiet">Nothing is found by that.</li>}
          {hits.map((h) => (
            <li key={h.job}>
              <Link
                to={`/jobs/${h.job}`}
                className="grid min-h-12 grid-cols-[3.5rem_minmax(0,1fr)_minmax(0,1fr)] items-center gap-3 rounded-lg px-3 text-ink no-underline hover:bg-sunk"
              >
                <span className="num text-quiet">{h.number}</span>
                <span className="truncate font-semibold">
                  {h.customer} <span className="font-normal text-quiet">{h.contact}</span>
                </span>
                <span className="truncate">
                  {h.device}
                  {h.numbers.map((n) => (
                    <span key={n} className="num ml-2 text-sm text-quiet">
                      {groupedImei(n)}
                    </span>
                  ))}
                </span>
              </Link>
            </li>
          ))}
        </ul>
      )}
    </search>
  );
}
