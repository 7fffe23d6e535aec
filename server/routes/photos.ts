import { Hono, type Context } from 'hono';
import type { Env } from '../guard.ts';
import type { Services } from '../services.ts';

export function photoRoutes({ photos }: Services): Hono<Env> {
  const app = new Hono<Env>();
  app.post('/', async (c) => c.json(await photos.add(new Uint8Array(await c.req.arrayBuffer())), 201));
  const send = (size: 'full' | 'thumb') => async (c: Context<Env>) => {
    const data = await photos.read(c.req.param('hash')!, size);
    return c.body(new Uint8Array(data), 200, {
      'Content-Type': 'image/jpeg',
      'Cache-Control': 'private, max-age=31536000, immutable',
    });
  };
  app.get('/:hash', send('full'));
  app.get('/:hash/thumb', send('thumb'));
  return app;
}
