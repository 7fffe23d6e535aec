import { Hono } from 'hono';
import { bodyLimit } from 'hono/body-limit';
import { secureHeaders } from 'hono/secure-headers';
import { serveStatic } from '@hono/node-server/serve-static';
import { LIMITS } from '../core/jobs/index.ts';
import { isLoopback, type Config } from './config.ts';
import { guard } from './guard.ts';
import { Problem } from './problem.ts';
import { anatomyRoutes } from './routes/anatomies.ts';
import { jobRoutes } from './routes/jobs.ts';
import { openingRoutes } from './routes/opening.ts';
import { photoRoutes } from './routes/photos.ts';
import { ruleRoutes } from './routes/rules.ts';
import { screwRoutes } from './routes/screws.ts';
import { shopOf, type Services } from './services.ts';

export function createApp(services: Services, config: Config): Hono {
  const app = new Hono();
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
  app.use('/api/*', async (c, next) => {
    // A page of another name that resolves to this machine must not read the shop's data.
    const host = (c.req.header('host') ?? '').replace(/:\d+$/, '').replace(/^\[|\]$/g, '');
    if (isLoopback(config.host) && !isLoopback(host))
      throw new Problem(403, { error: 'this server answers to 127.0.0.1 only' });
    c.header('Cache-Control', 'no-store');
    await next();
  });
  const tooLarge = (limit: number) =>
    bodyLimit({
      maxSize: limit,
      onError: (c) =>
        c.json({ error: `the file is larger than ${Math.round(limit / 1024 / 1024)} MB; nothing was stored` }, 413),
    });
  app.use('/api/photos', tooLarge(LIMITS.photo));
  app.use('/api/*', async (c, next) => (c.req.path === '/api/photos' ? next() : tooLarge(LIMITS.json)(c, next)));

  app.route('/api', guard(config));
  app.get('/api/shop', (c) => c.json(shopOf(services.db, config)));
  app.route('/api/anatomies', anatomyRoutes(services));
  app.route('/api/jobs', jobRoutes(services, config));
  app.route('/api/photos', photoRoutes(services));
  app.route('/api/rules', ruleRoutes(services));
  app.route('/api/opening', openingRoutes(services));
  app.route('/api/screws', screwRoutes(services));
  app.all('/api/*', (c) => c.json({ error: 'there is nothing at this address' }, 404));

  app.use('/assets/*', async (c, next) => {
    await next();
    if (c.res.ok) c.header('Cache-Control', 'public, max-age=31536000, immutable');
  });
  app.use('/*', serveStatic({ root: config.web, rewriteRequestPath: (path) => path }));
  app.get('/*', serveStatic({ root: config.web, path: 'index.html' }));

  app.onError((error, c) => {
    if (error instanceof Problem) return c.json(error.body, error.status);
    console.error(error);
    return c.json({ error: 'something went wrong on the server; nothing that was saved is lost' }, 500);
  });
  return app;
}
