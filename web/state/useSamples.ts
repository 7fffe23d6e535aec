import { useEffect, useRef, useState } from 'react';

/** What a measuring device tells, sample after sample, until it ends or the screen is left. */
export function useSamples<T>(): {
  samples: readonly T[];
  running: boolean;
  /** Begins anew. @param ended is given all that came, once nothing more comes */
  listen: (address: string, ended: (samples: readonly T[]) => void) => void;
} {
  const [samples, setSamples] = useState<readonly T[]>([]);
  const [running, setRunning] = useState(false);
  const source = useRef<EventSource | null>(null);
  useEffect(() => () => source.current?.close(), []);
  const listen = (address: string, ended: (samples: readonly T[]) => void) => {
    source.current?.close();
    setSamples([]);
    setRunning(true);
    let got: readonly T[] = [];
    const stream = new EventSource(address);
    source.current = stream;
    stream.addEventListener('sample', (e) => {
      got = [...got, JSON.parse((e as MessageEvent<string>).data) as T];
      setSamples(got);
    });
    const end = () => {
      stream.close();
      setRunning(false);
      ended(got);
    };
    stream.addEventListener('end', end);
    stream.onerror = end;
  };
  return { samples, running, listen };
}
