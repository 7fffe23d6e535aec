import { useEffect, useState } from 'react';

/** The time now, ms, renewed every `every` ms while `running`. */
export function useNow(running: boolean, every = 250): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    if (!running) return;
    const tick = setInterval(() => setNow(Date.now()), every);
    return () => clearInterval(tick);
  }, [running, every]);
  return running ? now : Date.now();
}
