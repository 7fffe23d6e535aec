/** What is neither with the server nor kept on this browser, by what it is. */
const held = new Map<symbol, string>();

function ask(event: BeforeUnloadEvent): void {
  event.preventDefault();
}

/**
 * Something was done that is kept nowhere yet: whoever closes the page meanwhile is asked first.
 * @returns lets go of it; calling it again does nothing
 */
export function hold(what: string): () => void {
  const key = Symbol(what);
  if (held.size === 0) globalThis.addEventListener?.('beforeunload', ask);
  held.set(key, what);
  return () => {
    if (held.delete(key) && held.size === 0) globalThis.removeEventListener?.('beforeunload', ask);
  };
}
