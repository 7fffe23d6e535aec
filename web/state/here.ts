import { useCallback, useEffect, useRef } from 'react';
// The one place that may move the browser: everything else goes through what is here.
import { type NavigateOptions, type To, useNavigate, useSearchParams } from 'react-router';

/** Moves to another screen, unless this one was left meanwhile. @returns whether it did */
export type Go = (to: To, options?: NavigateOptions) => boolean;

/**
 * What comes late changes nothing that was left. Ask for a `Go` when something begins, and use it when it has ended: it does
 * nothing once its screen is gone or shows something else.
 */
export function useGo(): () => Go {
  const navigate = useNavigate();
  const there = useThere();
  return useCallback(() => {
    const begun = window.location.pathname;
    return (to, options) => {
      if (!there() || window.location.pathname !== begun) return false;
      void navigate(to, options);
      return true;
    };
  }, [navigate, there]);
}

/** Whether the component that asks is still on the screen; to be asked when an answer comes. */
export function useThere(): () => boolean {
  const there = useRef(true);
  useEffect(() => {
    there.current = true;
    return () => {
      there.current = false;
    };
  }, []);
  return useCallback(() => there.current, []);
}

/** What stands behind the question mark of the address; it is changed only while this screen is there. */
export function useQuery(): ReturnType<typeof useSearchParams> {
  const [query, set] = useSearchParams();
  const there = useThere();
  const begun = useRef(window.location.pathname);
  return [
    query,
    useCallback<typeof set>(
      (to, options) => {
        if (there() && window.location.pathname === begun.current) set(to, options);
      },
      [set, there],
    ),
  ];
}
