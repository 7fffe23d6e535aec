import type { Fault } from '../../core/anatomy/index.ts';
import type { Edit } from '../../core/draft/index.ts';
import { LIMITS } from '../../core/jobs/index.ts';
import type { Refusal, RunEvent } from '../../core/run/index.ts';
import { hearTime } from './clock.ts';

export interface Problem {
  error: string;
  faults?: Fault[];
  refusal?: Refusal;
  missed?: RunEvent[];
  /** What an editor of a draft has not seen, and which of its edits are taken in already. */
  draft?: { version: number; missed: { version: number; edit: Edit; by: string }[] | null; known: string[] };
  /** The edit that was refused, by its id. */
  edit?: string;
  /** Whose bundle it is, where that shop is not trusted yet. */
  stranger?: { name: string; fingerprint: string; key: string };
  /** A bundle that is older than what was taken of that shop before. */
  older?: object;
  /** The event that was refused, by its id. */
  refused?: { id: string; error: string; refusal: Refusal | null };
  /** Events that are stored although one was refused, or a number was stale. */
  events?: RunEvent[];
}

/** The server answered with a problem; `status` 0 means that it could not be reached. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem,
  ) {
    super(problem.error);
  }
}

const AWAY: Problem = {
  error: 'the server does not answer; what you enter is kept here and sent when it is back',
};

interface Init {
  method?: string;
  json?: unknown;
  body?: BodyInit;
  type?: string;
  signal?: AbortSignal;
  /** The version that a change is based on. */
  ifMatch?: number;
  /** Names what is asked for, so that asking twice does it once. */
  once?: string;
}

/** The newest change that was asked of each room of the server and is not answered yet. */
const underWay = new Map<string, { said: string; answer: Promise<unknown> }>();

/**
 * Asks the server. A second press while the same change is on its way asks for nothing more: both have the one answer. Where
 * another change was asked for in between it is no second press: on, off and on again ends with on.
 * @throws ApiError
 */
export async function api<T>(path: string, init: Init = {}): Promise<T> {
  const { json, body, signal, method, ifMatch, once } = init;
  const text = json === undefined ? undefined : JSON.stringify(json);
  // What only reads may be asked for twice; what can be broken off belongs to whoever may do so.
  if (signal || body !== undefined || (text === undefined && !method)) return ask(path, init, text);
  const said = [method, path, ifMatch, once, text].join(' ');
  const room = path.split('/')[1]!;
  const known = underWay.get(room);
  if (known?.said === said) return known.answer as Promise<T>;
  const answer = ask<T>(path, init, text).finally(() => underWay.get(room)?.answer === answer && underWay.delete(room));
  underWay.set(room, { said, answer });
  return answer;
}

/** @param text what is said, as JSON */
async function ask<T>(path: string, init: Init, text: string | undefined): Promise<T> {
  const { json: _, type, ifMatch, once, ...rest } = init;
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      ...rest,
      method: init.method ?? (text !== undefined || init.body !== undefined ? 'POST' : 'GET'),
      ...(text !== undefined ? { body: text } : {}),
      headers: {
        ...(text !== undefined ? { 'Content-Type': 'application/json' } : type ? { 'Content-Type': type } : {}),
        ...(ifMatch !== undefined ? { 'If-Match': `"${ifMatch}"` } : {}),
        ...(once !== undefined ? { 'Idempotency-Key': once } : {}),
      },
    });
  } catch (cause) {
    if (cause instanceof DOMException && cause.name === 'AbortError') throw cause;
    throw new ApiError(0, AWAY);
  }
  const time = response.headers?.get('x-nibrel-time');
  if (time) hearTime(Number(time));
  const body: unknown = await response.json().catch((cause: unknown) => {
    // An answer that breaks off, as when the page is left meanwhile, is none, whatever it began with.
    if (response.ok) throw cause instanceof DOMException && cause.name === 'AbortError' ? cause : new ApiError(0, AWAY);
    return { error: `the server answered ${response.status}` };
  });
  if (!response.ok) {
    if (response.status === 401) signedOut(path);
    throw new ApiError(response.status, body as Problem);
  }
  return body as T;
}

/**
 * The way to the door is taken once, however many requests are answered meanwhile that nobody is signed in; each would
 * end the page that the one before asked for. Milliseconds; own estimate of how long a page may take to come.
 */
const ON_THE_WAY = 5000;
let setOut = Number.NEGATIVE_INFINITY;

/** Who is not signed in any more is led to the door, but not away from work: that goes on, and is sent afterwards. */
function signedOut(path: string): void {
  const working = /\/jobs\/[^/]+/.test(window.location.pathname) && path.includes('/events');
  if (path === '/sign-in' || working || performance.now() - setOut < ON_THE_WAY) return;
  setOut = performance.now();
  const to = `${window.location.pathname}${window.location.search}`;
  window.location.assign(`/sign-in?to=${encodeURIComponent(to)}`);
}

/** Stores a photograph and gives its hash. @throws ApiError */
export async function storePhoto(file: Blob): Promise<string> {
  if (file.size > LIMITS.photo)
    throw new ApiError(413, {
      error: `the file has ${Math.round(file.size / 1024 / 1024)} MB; at most ${LIMITS.photo / 1024 / 1024} MB are taken`,
    });
  const { hash } = await api<{ hash: string }>('/photos', {
    body: file,
    type: file.type || 'application/octet-stream',
  });
  return hash;
}

export const messageOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));
