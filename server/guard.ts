import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import { Hono } from 'hono';
import { getCookie, setCookie } from 'hono/cookie';
import Joi from 'joi';
import type { Config } from './config.ts';
import { Problem } from './problem.ts';
import { bodyOf } from './validate.ts';

const COOKIE = 'nibrel';
/** Tries a minute before the passcode is refused unseen. Origin: own choice. */
const TRIES_A_MINUTE = 10;

/** Asks for the shop's passcode, when one is set, before anything else is answered. */
export function guard(config: Pick<Config, 'passcode'>): Hono {
  const app = new Hono();
  const { passcode } = config;
  if (passcode === null) return app;

  const secret = randomBytes(32);
  const token = createHmac('sha256', secret).update('signed in').digest('hex');
  const same = (a: string, b: string) => {
    const digest = (text: string) => createHmac('sha256', secret).update(text).digest();
    return timingSafeEqual(digest(a), digest(b));
  };
  let tries: number[] = [];

  app.post('/sign-in', async (c) => {
    const now = Date.now();
    tries = tries.filter((at) => now - at < 60_000);
    if (tries.length >= TRIES_A_MINUTE) throw new Problem(429, { error: 'too many tries; wait a minute' });
    const { passcode: given } = await bodyOf<{ passcode: string }>(
      c,
      Joi.object({ passcode: Joi.string().max(200).required() }),
    );
    if (!same(given, passcode)) {
      tries.push(now);
      throw new Problem(401, { error: 'that is not the passcode' });
    }
    setCookie(c, COOKIE, token, { httpOnly: true, sameSite: 'Strict', path: '/', maxAge: 12 * 3600 });
    return c.json({ ok: true });
  });
  app.use('*', async (c, next) => {
    if (!same(getCookie(c, COOKIE) ?? '', token)) throw new Problem(401, { error: "sign in with the shop's passcode" });
    await next();
  });
  return app;
}
