import { useCallback, useEffect, useLayoutEffect, useRef } from 'react';
// The one place that may move the browser: everything else goes through what is here.
import { type NavigateOptions, type To, useLocation, useNavigate, useSearchParams } from 'react-router';

/** Moves to another screen, unless this one was left meanwhile. @returns whether it did */
export type Go = (to: To, options?: NavigateOptions) => boolean;

/** Counted up each time another screen is gone to: coming back to the same one is another visit. */
let visit = 0;

/** Counts the screens that are gone to; asked for once, by what lies around all of them. */
export function useVisits(): void {
  const { pathname } = useLocation();
  // Before anything of the new screen begins.
  // biome-ignore lint/correctness/useExhaustiveDependencies: every other address is another visit
  useLayoutEffect(() => {
    visit++;
  }, [pathname]);
}

/**
 * What comes late changes nothing that was left. Ask for a `Go` when something begins, and use it when it has ended: it does
 * nothing once another screen was gone to, even where that one was left again. What of this screen is still shown does not
 * matter: its own answer may already have replaced it.
 */
export function useGo(): () => Go {
  const navigate = useNavigate();
  // Of what is shown: the address is that of the next screen already while this one can still be pressed.
  const { pathname } = useLocation();
  return useCallback(() => {
    const begun = { visit, path: pathname };
    return (to, options) => {
      if (visit !== begun.visit || window.location.pathname !== begun.path) return false;
      void navigate(to, options);
      return true;
    };
  }, [navigate, pathname]);
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
