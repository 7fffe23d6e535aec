import { rmSync } from 'node:fs';
import { Server } from './harness.ts';

/**
 * Makes the demo shop once for all files of browser tests: every server begins with a copy of its own, which takes a moment
 * where planning its jobs takes many seconds.
 */
export default async function seedOnce(): Promise<() => void> {
  const server = await new Server().start();
  await server.stop();
  process.env.NIBREL_SEEDED = server.data;
  return () => rmSync(server.data, { recursive: true, force: true });
}
