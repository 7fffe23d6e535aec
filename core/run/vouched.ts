/** What changes of an event on its way to the server, and is fixed there: its place, its time, the plan it met. */
const ON_THE_WAY: ReadonlySet<string> = new Set(['seq', 'at', 'by', 'version', 'skew', 'job']);

/**
 * What the author of an event vouches for, as one text: the session it was made in, the job, and all that does not change on
 * its way. A photograph that was taken without the server gets its name only when it is stored, so that name is left out.
 * @param event as it is sent, or as it was made
 */
export function vouchedText(session: string, job: string, event: object): string {
  const kept = Object.entries(event).filter(
    ([field]) => !ON_THE_WAY.has(field) && !(field === 'photo' && (event as { type?: unknown }).type === 'photo'),
  );
  return `${session}\n${job}\n${sorted(Object.fromEntries(kept))}`;
}

/** JSON with the fields of every object in order, so that the same content is the same text. */
function sorted(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map((entry) => sorted(entry === undefined ? null : entry)).join(',')}]`;
  if (typeof value !== 'object' || value === null) return JSON.stringify(value);
  const fields = Object.entries(value)
    .filter(([, entry]) => entry !== undefined)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([field, entry]) => `${JSON.stringify(field)}:${sorted(entry)}`);
  return `{${fields.join(',')}}`;
}
