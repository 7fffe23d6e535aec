import { hmac } from '@noble/hashes/hmac.js';
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import { vouchedText } from '../../core/run/index.ts';

/**
 * What proves who made an event, or an edit of a drawing, when it is sent after somebody else has signed in at this browser: a code
 * under the key of the session it was made in, which this browser has only while that session lasts.
 * @param key of the session, in base64url
 * @param of id of the job or the draft
 */
export function proofOf(key: string, session: string, of: string, made: object): string {
  const bytes = Uint8Array.from(atob(key.replaceAll('-', '+').replaceAll('_', '/')), (c) => c.charCodeAt(0));
  return bytesToHex(hmac(sha256, bytes, utf8ToBytes(vouchedText(session, of, made))));
}

/** The codes that are sent with events or edits, by their ids; one that was made with nobody signed in has none. */
export const proofsOf = (
  made: readonly { id: string }[],
  of: (id: string) => string | undefined,
): Record<string, string> =>
  Object.fromEntries(
    made.flatMap(({ id }) => {
      const proof = of(id);
      return proof ? [[id, proof]] : [];
    }),
  );
