import { useEffect, useState } from 'react';
import { serverNow } from './clock.ts';

/** The time by the one clock, ms, renewed every `every` ms while `running`. */
export function useNow(running: boolean, every = 250): number {
  const [now, setNow] = useState(() => serverNow());
  useEffect(() => {
    if (!running) return;
    const tick = setInterval(() => setNow(serverNow()), every);
    return () => clearInterval(tick);
  }, [running, every]);
  return running ? now : serverNow();
}
