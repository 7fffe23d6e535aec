import { useCallback, useRef } from 'react';

/** The same function for as long as the component is there, which does what `work` did when it was last rendered. */
export function useStable<A extends unknown[], R>(work: (...args: A) => R): (...args: A) => R {
  const latest = useRef(work);
  latest.current = work;
  return useCallback((...args: A) => latest.current(...args), []);
}
