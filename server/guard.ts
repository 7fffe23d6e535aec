import { createHash, timingSafeEqual } from 'node:crypto';
import { getConnInfo } from '@hono/node-server/conninfo';
import { type Context, Hono, type MiddlewareHandler } from 'hono';
import { deleteCookie, getCookie, setCookie } from 'hono/cookie';
import Joi from 'joi';
import type { Technician } from '../core/jobs/index.ts';
import { hostsOf, type Config } from './config.ts';
import { Problem } from './problem.ts';
import { SESSION_MS, type Sessions } from './sessions.ts';
import type { Technicians } from './technicians.ts';
import { Tries } from './tries.ts';
import { bodyOf } from './validate.ts';

/** Who asks. */
export interface Who {
  technician: Technician | null;
  /** May change the shop itself. */
  lead: boolean;
  session: string | null;
}

export type Env = { Variables: { who: Who } };

const TOKEN = 'nibrel';
const DEVICE = 'nibrel-device';

/** Types of what may be sent to change something; a page of another site can send none of them unasked. */
const SENT_AS = ['application/json', 'application/octet-stream', 'application/zip', 'image/'];

/**
 * Refuses what a page of another site could make a browser send: another origin, another host name than ours, a
 * content type that needs no asking.
 */
export function sameSite(config: Config): MiddlewareHandler {
  const hosts = hostsOf(config);
  return async (c, next) => {
    const host = c.req.header('host') ?? new URL(c.req.url).host;
    const name = host
      .replace(/:\d+$/, '')
      .replace(/^\[|\]$/g, '')
      .toLowerCase();
    if (!hosts(name)) {
      throw new Problem(403, { error: `this server does not answer to the name "${name}"; add it to NIBREL_NAMES` });
    }
    if (!['GET', 'HEAD', 'OPTIONS'].includes(c.req.method)) {
      const origin = c.req.header('origin');
      const site = c.req.header('sec-fetch-site');
      if ((origin !== undefined && hostOf(origin) !== host) || (site !== undefined && !OWN_SITES.includes(site))) {
        throw new Problem(403, { error: 'a page of another site may not change anything here' });
      }
      const type = c.req.header('content-type');
      const length = c.req.header('content-length');
      const empty = (length === undefined || length === '0') && c.req.header('transfer-encoding') === undefined;
      if (type === undefined ? !empty : !SENT_AS.some((known) => type.startsWith(known))) {
        throw new Problem(415, {
          error: 'send JSON as application/json, a picture as image/…, a backup as application/zip',
        });
      }
    }
    await next();
  };
}

const OWN_SITES = ['same-origin', 'none'];

function hostOf(origin: string): string | null {
  try {
    return new URL(origin).host;
  } catch {
    return null;
  }
}

const digest = (text: string): Buffer => createHash('sha256').update(text).digest();
const same = (a: string, b: string): boolean => timingSafeEqual(digest(a), digest(b));

/** The address that a request comes from; a request that came by no socket has none. */
export function addressOf(c: Context): string {
  try {
    return getConnInfo(c).remote.address ?? 'unknown';
  } catch {
    return 'unknown';
  }
}

const signInSchema = Joi.object({
  passcode: Joi.string().max(200),
  technician: Joi.string().max(64),
  pin: Joi.string().max(32),
});
interface SignIn {
  passcode?: string;
  technician?: string;
  pin?: string;
}

/** Counts a try at each key. @throws Problem 429 while one of them has to wait */
export function countTry(c: Context, tries: Tries, keys: readonly string[]): void {
  const wait = Math.max(...keys.map((key) => tries.take(key)));
  if (wait === 0) return;
  const seconds = Math.ceil(wait / 1000);
  c.header('Retry-After', String(seconds));
  throw new Problem(429, {
    error: `too many wrong tries; wait ${seconds < 90 ? `${seconds} s` : `${Math.ceil(seconds / 60)} min`}`,
  });
}

/** Signing in and out, and the guard before everything else under `/api`. */
export function guard(config: Config, sessions: Sessions, technicians: Technicians): Hono<Env> {
  const app = new Hono<Env>();
  const { passcode } = config;
  const tries = new Tries();

  const whoAsks = (c: Context): { who: Who; missing: 'passcode' | 'pin' | null } => {
    const session = sessions.find(getCookie(c, TOKEN), passcode);
    const pins = technicians.pinsNeeded;
    const found = session?.technician ? technicians.find(session.technician) : null;
    const technician = found?.active ? found : null;
    const missing = passcode !== null && !session?.passcode ? 'passcode' : pins && !technician ? 'pin' : null;
    const lead = missing === null && (!pins || technician?.role === 'lead');
    return { who: { technician, lead, session: session?.id ?? null }, missing };
  };

  /**
   * What a try is counted at. A browser that the technician is known to come from has a count of its own, so that nobody else's
   * tries hold it up; all that are new to the account share one, wherever they come from.
   */
  const countedAt = (c: Context, technician: string | undefined): { known: boolean; keys: string[] } => {
    const device = getCookie(c, DEVICE);
    const known = technician !== undefined && sessions.knows(device, technician);
    if (known) return { known, keys: [`device ${device} ${technician}`] };
    return {
      known,
      keys: [...(technician === undefined ? [] : [`account ${technician}`]), `address ${addressOf(c)}`],
    };
  };

  app.post('/sign-in', async (c) => {
    const given = await bodyOf<SignIn>(c, signInSchema);
    const { known, keys } = countedAt(c, given.technician);
    countTry(c, tries, keys);
    const before = sessions.find(getCookie(c, TOKEN), passcode);
    const opened = passcode === null || before?.passcode === true || same(given.passcode ?? '', passcode);
    if (!opened) throw new Problem(401, { error: 'that is not the passcode' });
    const wanted = given.technician;
    if (wanted !== undefined && !(await technicians.proves(wanted, given.pin ?? ''))) {
      throw new Problem(401, { error: 'that is not the PIN' });
    }
    for (const key of keys) {
      if (known) tries.clear(key);
      else tries.giveBack(key);
    }
    if (before) sessions.end(before.id);
    const device = getCookie(c, DEVICE) ?? null;
    const agent = c.req.header('user-agent') ?? '';
    const made = sessions.begin({ technician: wanted ?? null, passcode, device, agent });
    const options = { httpOnly: true, sameSite: 'Strict', path: '/', secure: config.tls !== null } as const;
    setCookie(c, TOKEN, made.token, { ...options, maxAge: (2 * SESSION_MS) / 1000 });
    setCookie(c, DEVICE, made.device, { ...options, maxAge: 400 * 24 * 3600 });
    return c.json({ session: made.id, needs: technicians.pinsNeeded && wanted === undefined ? 'pin' : null });
  });
  app.post('/sign-out', (c) => {
    const session = sessions.find(getCookie(c, TOKEN), passcode);
    if (session) sessions.end(session.id);
    deleteCookie(c, TOKEN, { path: '/' });
    return c.json({ ok: true });
  });
  /** What a door may show: who can come in, once the passcode was given. */
  app.get('/sign-in', (c) => {
    const { missing } = whoAsks(c);
    const names = missing === 'passcode' ? [] : technicians.active().filter((t) => t.pin);
    return c.json({ needs: missing, technicians: names.map(({ id, name }) => ({ id, name })) });
  });
  app.use('*', async (c, next) => {
    const { who, missing } = whoAsks(c);
    if (missing === 'passcode') throw new Problem(401, { error: "sign in with the shop's passcode" });
    if (missing === 'pin') throw new Problem(401, { error: 'sign in with your PIN' });
    c.set('who', who);
    await next();
  });
  return app;
}

/** @throws Problem 403 unless the one who asks is a lead */
export function leadOnly(c: Context<Env>): void {
  if (!c.get('who').lead) throw new Problem(403, { error: 'only a lead may change this' });
}

/**
 * The number of the version that a change is based on, from `If-Match`.
 * @throws Problem 428 without one, 412 when somebody changed it meanwhile
 */
export function matched(c: Context, now: number): void {
  const given = c.req.header('if-match')?.replace(/^(W\/)?"|"$/g, '');
  if (given === undefined) throw new Problem(428, { error: 'say with If-Match which version you change' });
  if (given !== String(now)) {
    throw new Problem(412, { error: 'somebody changed this meanwhile; nothing was overwritten. Load it again' });
  }
}

/** Who does something now: whoever is signed in; where nobody signs in, the sender, if that is somebody who works here. */
export function nameOf(who: Who, technicians: Technicians, claimed: { by?: string | undefined }): string {
  if (who.technician) return who.technician.name;
  const here = technicians.active();
  return here.find((t) => t.name === claimed.by)?.name ?? here[0]?.name ?? 'Technician';
}

/**
 * Who made some events. It is fixed when they are made: what was made in an earlier session of this browser is of whoever was
 * signed in then, and every one of them has to be vouched for under the key of that session.
 * @param made what is vouched for of each, with its code; asked for only where another session is named
 * @throws Problem 403 for what was made by somebody else here and is not vouched for
 */
export function authorOf(
  who: Who,
  technicians: Technicians,
  sessions: Sessions,
  claimed: { by?: string | undefined; session?: string | undefined },
  made: () => readonly { text: string; proof: string | undefined }[],
): string {
  const { technician, session } = who;
  if (!technician || !session || !claimed.session || claimed.session === session)
    return nameOf(who, technicians, claimed);
  const then = sessions.technicianOf(claimed.session, session);
  if (then === null || then === technician.id) return technician.name;
  const name = technicians.find(then)?.name;
  const earlier = claimed.session;
  if (name === undefined || !made().every(({ text, proof }) => sessions.vouches(earlier, text, proof)))
    throw new Problem(403, {
      error: `this was made here while ${name ?? 'somebody else'} was signed in, and nothing proves by whom; it is kept until ${name ?? 'they'} sign in again`,
    });
  return name;
}
