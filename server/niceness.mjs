import { getPriority, setPriority } from 'node:os';

/**
 * Whoever presses a key goes first; what computes gives way. A third of a usual share is enough for that, and lets what is computed
 * come to its end on a machine that is busy with something else. Origin: measured, `npm run bench`, *bystander*.
 */
const NICE = 5;

/**
 * Lets a process, or a thread of this one, give way. What gives way more already, as a server that was started so, stays as it is,
 * and so does what the system does not allow.
 * @param {number} [pid] of the process or the thread; this process
 * @param {number} [by] how much, from 0 to 19
 */
export function giveWay(pid = 0, by = NICE) {
  try {
    if (getPriority(pid) < by) setPriority(pid, by);
  } catch {
    // It computes as before.
  }
}
