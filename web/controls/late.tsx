import { useEffect, useState, type ComponentType, type ReactNode } from 'react';

/** How long until what did not come is asked for again, ms. Origin: own choice. */
const AGAIN_MS = 3000;

/**
 * A component whose code comes when it is first shown. Until it is there, and while the server that has it is away, something
 * simpler stands in its place: no screen stumbles over a part of it that could not be fetched.
 */
export function late<P extends object>(
  load: () => Promise<{ default: ComponentType<P> }>,
  Meanwhile: (props: P) => ReactNode,
): ComponentType<P> {
  let there: ComponentType<P> | null = null;
  return function Late(props: P) {
    const [Loaded, setLoaded] = useState<ComponentType<P> | null>(() => there);
    useEffect(() => {
      if (Loaded) return;
      let timer: ReturnType<typeof setTimeout> | undefined;
      let left = false;
      const ask = () => {
        load().then(
          (module) => {
            there = module.default;
            if (!left) setLoaded(() => module.default);
          },
          () => {
            if (!left) timer = setTimeout(ask, AGAIN_MS);
          },
        );
      };
      ask();
      return () => {
        left = true;
        clearTimeout(timer);
      };
    }, [Loaded]);
    return Loaded ? <Loaded {...props} /> : Meanwhile(props);
  };
}
