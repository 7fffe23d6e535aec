import { createRequire } from 'node:module';
import type { OpenCv } from '../core/survey/index.ts';

/**
 * OpenCV, loaded when it is asked for: ten megabytes. It hangs itself on what becomes of this process, and is taken off
 * again.
 */
export async function openCv(): Promise<OpenCv> {
  const events = ['uncaughtException', 'unhandledRejection'] as const;
  const before = events.map((event) => process.rawListeners(event));
  // Required, not imported: what is imported passes through a promise.
  const cv = createRequire(import.meta.url)('@techstark/opencv-js') as OpenCv & { onRuntimeInitialized?: () => void };
  // It is a thing with a `then` that resolves to itself: it must never be awaited, nor given out of a promise bare.
  if (!cv.Mat)
    await new Promise<void>((resolve) => {
      cv.onRuntimeInitialized = () => resolve();
    });
  events.forEach((event, i) => {
    for (const listener of process.rawListeners(event))
      if (!before[i]!.includes(listener)) process.removeListener(event, listener as () => void);
  });
  return withoutThen(cv);
}

/** The same library, that may be handed out of a promise. */
function withoutThen(cv: OpenCv): OpenCv {
  return new Proxy(cv, { get: (of, key) => (key === 'then' ? undefined : Reflect.get(of, key)) });
}
