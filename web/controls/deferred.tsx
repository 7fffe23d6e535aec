import { memo, useDeferredValue, type ComponentType } from 'react';

/**
 * A component that is drawn a moment after what stands around it: words and keys are there at once, a drawing that
 * takes longer holds them up in nothing.
 */
export function deferred<P extends object>(Component: ComponentType<P>): ComponentType<P> {
  const Kept = memo(Component) as unknown as ComponentType<P>;
  return function Deferred(props: P) {
    return <Kept {...useDeferredValue(props)} />;
  };
}
