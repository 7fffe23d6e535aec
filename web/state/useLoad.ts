import { useCallback, useEffect, useState } from 'react';
import { api, messageOf } from './api.ts';

/** Loads `path` from the server; `reload` asks again. */
export function useLoad<T>(path: string | null): { data: T | null; problem: string | null; reload: () => void } {
  const [data, setData] = useState<T | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [asked, setAsked] = useState(0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: `asked` is what asks again
  useEffect(() => {
    if (path === null) return;
    const stop = new AbortController();
    api<T>(path, { signal: stop.signal }).then(
      (value) => {
        if (!stop.signal.aborted) {
          setData(value);
          setProblem(null);
        }
      },
      (error) => {
        if (!stop.signal.aborted) setProblem(messageOf(error));
      },
    );
    return () => stop.abort();
  }, [path, asked]);
  return { data, problem, reload: useCallback(() => setAsked((n) => n + 1), []) };
}
