import { format } from 'date-fns/format';
import { ScanBarcode } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import {
  numbersOf,
  QUESTIONS,
  readIdentity,
  REGISTER_WORDS,
  worthOf,
  type RegisterAnswer,
  type RegisterReport,
} from '../../../core/counter/index.ts';
import type { EarlierJob, IdentityAnswer } from '../../../core/jobs/index.ts';
import { Check, FileButton, ProblemNote } from '../../controls/index.tsx';
import { api, messageOf } from '../../state/api.ts';
import { identityOf, type IntakeForm } from './form.ts';

const FIELDS = [
  ['imei', 'IMEI, 15 digits: *#06# shows it'],
  ['second', 'IMEI of the second card'],
  ['serial', 'Serial number'],
] as const;

/** Who the device is: typed, read from a picture of its label, or not readable. */
export function Identity({ form, set }: { form: IntakeForm; set: (part: Partial<IntakeForm>) => void }) {
  const [problem, setProblem] = useState<string | null>(null);
  const [found, setFound] = useState<string[]>([]);
  const values = { imei: form.imei[0], second: form.imei[1], serial: form.serial };
  const put = (field: keyof typeof values, text: string, how: IntakeForm['how'] = 'typed') => {
    if (field === 'serial') set({ serial: text, how });
    else set({ imei: field === 'imei' ? [text, form.imei[1]] : [form.imei[0], text], how });
  };
  const scan = async (file: File | undefined) => {
    if (!file) return;
    setProblem(null);
    try {
      const { codes } = await api<{ codes: { text: string }[] }>('/counter/scan', {
        body: file,
        type: file.type || 'application/octet-stream',
      });
      const readings = codes.map((c) => readIdentity(c.text)).filter((r) => r.ok);
      const imeis = readings.flatMap((r) => (r.ok && r.kind === 'imei' ? [r.number] : []));
      const serials = readings.flatMap((r) => (r.ok && r.kind === 'serial' ? [r.number] : []));
      setFound(codes.map((c) => c.text));
      if (readings.length === 0) {
        setProblem('No code that is a number of a device was found; come closer, or type it.');
        return;
      }
      set({
        imei: [imeis[0] ?? form.imei[0], imeis[1] ?? form.imei[1]],
        serial: serials[0] ?? form.serial,
        how: 'scanned',
      });
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  const unreadable = form.how === 'unreadable';
  return (
    <fieldset className="grid gap-3">
      <legend className="label">Its identity</legend>
      <div className="grid gap-3 sm:grid-cols-3">
        {FIELDS.map(([field, word]) => {
          const value = values[field];
          const reading = value.trim() === '' ? null : readIdentity(value);
          const wrong =
            reading && !reading.ok
              ? reading.because
              : reading?.ok && field !== 'serial' && reading.kind !== 'imei'
                ? 'this is no IMEI'
                : null;
          return (
            <label key={field}>
              <span className="label">{word}</span>
              <input
                className="field num"
                inputMode={field === 'serial' ? 'text' : 'numeric'}
                value={unreadable ? '' : value}
                disabled={unreadable}
                maxLength={60}
                autoComplete="off"
                aria-invalid={wrong !== null}
                onChange={(e) => put(field, e.target.value)}
              />
              {wrong && <span className="block text-sm text-crimson">{wrong}</span>}
              {reading?.ok && !wrong && <span className="block text-sm text-moss">✓ well-formed</span>}
            </label>
          );
        })}
      </div>
      <div className="flex flex-wrap items-center gap-4">
        <FileButton icon={<ScanBarcode aria-hidden="true" />} accept="image/*" onFile={(f) => void scan(f)}>
          Read a label
        </FileButton>
        <Check checked={unreadable} onChange={(e) => set({ how: e.target.checked ? 'unreadable' : 'typed' })}>
          None can be read
        </Check>
        {found.length > 0 && <span className="text-sm text-quiet">read: {found.join(', ')}</span>}
      </div>
      {problem && <ProblemNote>{problem}</ProblemNote>}
      <Known form={form} />
    </fieldset>
  );
}

/** What the shop and a register know of these numbers. */
function Known({ form }: { form: IntakeForm }) {
  const identity = identityOf(form);
  const whole = identity && numbersOf(identity).every((n) => readIdentity(n).ok);
  const key = whole && identity.how !== 'unreadable' ? JSON.stringify(identity) : null;
  const [earlier, setEarlier] = useState<EarlierJob[]>([]);
  const [report, setReport] = useState<RegisterReport | null>(null);
  useEffect(() => {
    setEarlier([]);
    setReport(null);
    if (key === null) return;
    const stop = new AbortController();
    const asked = JSON.parse(key) as { imei: string[]; serial: string | null; how: string };
    const { signal } = stop;
    const ask = async () => {
      const numbers = numbersOf(asked);
      const answers = await Promise.all(
        numbers.map((text) => api<IdentityAnswer>('/counter/identity', { json: { text }, signal })),
      );
      setEarlier([...new Map(answers.flatMap((a) => a.earlier).map((j) => [j.job, j])).values()]);
      setReport(await api<RegisterReport>('/counter/register', { json: asked, signal }));
    };
    // A register that does not answer leaves everything as not asked, which is what stands there anyway.
    ask().catch(() => {});
    return () => stop.abort();
  }, [key]);
  return (
    <>
      {report && <Register report={report} />}
      {earlier.length > 0 && (
        <div className="border-l-8 border-sand pl-4">
          <p className="font-semibold">
            This device was here before: it comes back
            {earlier.length > 1 ? ` for the ${earlier.length + 1}th time` : ''}.
          </p>
          <ul>
            {earlier.map((j) => (
              <li key={j.job}>
                <Link to={`/jobs/${j.job}`}>
                  <span className="num">{j.number}</span> {j.replaced.join(', ') || 'nothing replaced'}
                </Link>
                , {j.customer}
                {j.warrantyUntil && <span className="text-quiet">, warranty until {day(j.warrantyUntil)}</span>}
              </li>
            ))}
          </ul>
        </div>
      )}
    </>
  );
}

const day = (iso: string): string => format(new Date(iso), 'd MMM yyyy');

const ANSWER_WORDS: Record<RegisterAnswer, string> = { clear: 'clear', set: 'YES', 'not-asked': 'not asked' };

/** What a register said, each question in words. A stand-in clears nothing. */
export function Register({ report }: { report: RegisterReport }) {
  const answers = worthOf(report);
  const set = QUESTIONS.filter((q) => answers[q] === 'set');
  return (
    <div role="status" className="grid gap-2">
      <dl className="flex flex-wrap gap-x-6 gap-y-1">
        {QUESTIONS.map((q) => (
          <div key={q} className="flex gap-2">
            <dt className="text-quiet">{REGISTER_WORDS[q].name}</dt>
            <dd className={answers[q] === 'set' ? 'font-bold text-crimson' : answers[q] === 'clear' ? 'text-moss' : ''}>
              {ANSWER_WORDS[answers[q]]}
            </dd>
          </div>
        ))}
      </dl>
      {report.simulated && (
        <p className="text-sm text-quiet">{report.register} is simulated: what it calls clear is shown as not asked.</p>
      )}
      {set.map((q) => (
        <p key={q} role="alert" className="border-l-8 border-crimson pl-4">
          <b className="text-crimson">{REGISTER_WORDS[q].name}.</b> {REGISTER_WORDS[q].whenSet}
        </p>
      ))}
    </div>
  );
}
