import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { type Context, Hono, type MiddlewareHandler } from 'hono';
import { bodyLimit } from 'hono/body-limit';
import { secureHeaders } from 'hono/secure-headers';
import { serveStatic } from '@hono/node-server/serve-static';
import { LIMITS } from '../core/jobs/index.ts';
import type { Config } from './config.ts';
import { guard, sameSite, type Env } from './guard.ts';
import { Problem, problemOf } from './problem.ts';
import { anatomyRoutes } from './routes/anatomies.ts';
import { closingRoutes } from './routes/closing.ts';
import { counterRoutes } from './routes/counter.ts';
import { fieldRoutes } from './routes/field.ts';
import { jobCounterRoutes } from './routes/jobCounter.ts';
import { jobRoutes } from './routes/jobs.ts';
import { liveRoutes } from './routes/live.ts';
import { openingRoutes } from './routes/opening.ts';
import { photoRoutes } from './routes/photos.ts';
import { ruleRoutes } from './routes/rules.ts';
import { screwRoutes } from './routes/screws.ts';
import { shopRoutes } from './routes/shop.ts';
import type { Services } from './services.ts';
import { workshopRoutes } from './routes/workshop.ts';
import { trustRoutes } from './tls.ts';

export function createApp(services: Services, config: Config): Hono<Env> {
  const app = new Hono<Env>();
  app.use('/assets/*', async (c, next) => {
    await next();
    // OpenCV compiles itself as it starts; only the worker that it runs in may do that, and nothing else.
    if (/^\/assets\/vision\.worker[\w-]*\.js$/.test(c.req.path)) c.header('Content-Security-Policy', VISION_POLICY);
  });
  app.use(
    secureHeaders({
      contentSecurityPolicy: {
        defaultSrc: ["'self'"],
        scriptSrc: ["'self'"],
        styleSrc: ["'self'", "'unsafe-inline'"],
        imgSrc: ["'self'", 'blob:', 'data:'],
        fontSrc: ["'self'"],
        connectSrc: ["'self'"],
        workerSrc: ["'self'"],
        objectSrc: ["'none'"],
        baseUri: ["'none'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
      },
      xFrameOptions: 'DENY',
      referrerPolicy: 'no-referrer',
      strictTransportSecurity: false,
    }),
  );
  app.use('/api/*', sameSite(config));
  app.use('/api/*', async (c, next) => {
    c.header('Cache-Control', 'no-store');
    await next();
    // The clock that every wait goes by.
    c.header('X-Nibrel-Time', String(services.clock.now()));
  });

  // What it takes to sign in is small; the guard reads nothing else before it knows who asks.
  app.use('/api/sign-in', tooLarge(LIMITS.signIn));
  app.route('/api', guard(config, services.sessions, services.technicians));
  for (const [path, limit] of Object.entries(LARGER)) app.use(path, tooLarge(limit));
  app.use('/api/*', async (c, next) => (c.req.path in LARGER ? next() : tooLarge(LIMITS.json)(c, next)));
  app.route('/api/shop', shopRoutes(services, config));
  app.route('/api/live', liveRoutes(services));
  app.route('/api/anatomies', anatomyRoutes(services));
  app.route('/api/workshop', workshopRoutes(services));
  app.route('/api/jobs', jobRoutes(services, config));
  app.route('/api/jobs', jobCounterRoutes(services));
  app.route('/api/counter', counterRoutes(services));
  app.route('/api/closing', closingRoutes(services));
  app.route('/api/field', fieldRoutes(services));
  app.route('/api/photos', photoRoutes(services));
  app.route('/api/rules', ruleRoutes(services));
  app.route('/api/opening', openingRoutes(services));
  app.route('/api/screws', screwRoutes(services));
  app.all('/api/*', (c) => c.json({ error: 'there is nothing at this address' }, 404));

  app.route('/trust', trustRoutes(config));
  app.use('/*', async (c, next) => {
    await next();
    // What a build names by its content never changes; everything else is asked for again.
    if (c.res.ok) {
      const lasting = c.req.path.startsWith('/assets/');
      c.header('Cache-Control', lasting ? 'public, max-age=31536000, immutable' : 'no-cache');
    }
  });
  app.use('/*', serveStatic({ root: config.web, rewriteRequestPath: (path) => path }));
  app.get('/*', async (c, next) => {
    // A file that is not there is not found; an address of a screen is the application.
    const last = c.req.path.split('/').at(-1) ?? '';
    if (c.req.path.startsWith('/assets/') || last.includes('.')) return c.text('there is no such file', 404);
    if (!existsSync(join(config.web, 'index.html'))) return c.text('the web application is not built', 404);
    return serveStatic({ root: config.web, path: 'index.html' })(c, next);
  });

  app.onError((error, c) => {
    const problem = error instanceof Problem ? error : problemOf(error);
    if (problem) return c.json(problem.body, problem.status);
    console.error(error);
    return c.json({ error: 'something went wrong on the server; nothing that was saved is lost' }, 500);
  });
  return app;
}

const VISION_POLICY = "default-src 'none'; connect-src 'self'; script-src 'self' 'wasm-unsafe-eval' 'unsafe-eval'";

/** Where more may be sent than a document. */
const LARGER: Record<string, number> = {
  '/api/photos': LIMITS.photo,
  '/api/counter/scan': LIMITS.scan,
  '/api/workshop/photographs': LIMITS.photo,
  '/api/field/photographs': LIMITS.photo,
  '/api/workshop/bundles': LIMITS.bundle,
};

/** Refuses a body that says it is too large unread, and one that does not say so as soon as it is. */
function tooLarge(limit: number): MiddlewareHandler {
  const onError = (c: Context) =>
    c.json({ error: `the file is larger than ${Math.round(limit / 1024 / 1024)} MB; nothing was stored` }, 413);
  const counted = bodyLimit({ maxSize: limit, onError });
  return async (c, next) => {
    const length = c.req.header('content-length');
    if (length === undefined || c.req.header('transfer-encoding') !== undefined) return counted(c, next);
    return Number(length) > limit ? onError(c) : next();
  };
}
