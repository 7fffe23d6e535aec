import type { ReadingMessage, RefitMessage } from '../cells/index.ts';
import type { GateId } from '../dive/index.ts';
import type { JudgeMessage } from '../judge/index.ts';
import type { Quoted } from '../message/index.ts';

/*
 * What a run says of its own: codes and what they are about. `n` is the number of a step, `left` is seconds; `thing` is an id that
 * the anatomy may not have, `kind` a kind of deviation.
 */

/** What keeps a gate shut, or a step from being begun. */
export type BlockerMessage =
  | { code: 'step-not-done'; n: number; verb: string; items: readonly string[] }
  | { code: 'wait-never-started' | 'gate-at'; n: number }
  | { code: 'wait-runs' | 'too-hot-at'; n: number; left: number }
  | { code: 'own-wait-runs'; words: string; left: number }
  | { code: 'still-in-well'; item: string; well: string }
  | { code: 'still-loose' | 'not-recorded-seated'; item: string }
  | { code: 'has-failed' | 'tested-before' | 'not-tested'; function: string }
  | { code: 'extra-unexplained' }
  | { code: 'deviation-unexplained'; item: string | null; kind: string };

/** What has to be so before a device is switched on for a trial. */
export type LackMessage =
  | { code: 'lay-in-place' | 'contact-in-place' | 'not-in-reach' | 'conducts-loose' | 'wires-bare'; item: string }
  | { code: 'solvent-wet' };

/** Why something may not be recorded. */
export type RefusalMessage =
  | Quoted
  | ReadingMessage
  | JudgeMessage
  | BlockerMessage
  | LackMessage
  | {
      code:
        | 'ask-the-server'
        | 'signed-off'
        | 'changed-by-server'
        | 'changed-elsewhere'
        | 'plan-changed-since'
        | 'no-dive'
        | 'gate-not-left'
        | 'gate-not-passed'
        | 'nothing-to-agree'
        | 'whose-word'
        | 'said-in-future'
        | 'signed-already'
        | 'nothing-agreed'
        | 'work-has-begun'
        | 'has-a-dive'
        | 'say-of-what'
        | 'way-back-stays'
        | 'asked-no-more'
        | 'nothing-to-take-back'
        | 'only-last-act'
        | 'nothing-to-sign'
        | 'last-gate-first'
        | 'no-such-mark'
        | 'came-in-closed'
        | 'not-parked'
        | 'unknown-event'
        | 'waiver-needs-reason'
        | 'say-what-failed'
        | 'not-at-intake'
        | 'not-open-yet'
        | 'battery-is-off'
        | 'not-closed-yet'
        | 'say-where-tested'
        | 'isolate-to-park'
        | 'trial-at-intake'
        | 'isolate-after-trial'
        | 'say-length'
        | 'say-peak'
        | 'say-what-differs'
        | 'say-where-looked'
        | 'wait-has-run'
        | 'thermometer-ends-heat'
        | 'say-why-it-ends'
        | 'say-what-ends'
        | 'start-wait-first'
        | 'own-wait-runs-already'
        | 'hours-after'
        | 'charge-of-cell'
        | 'no-cell-moved'
        | 'transplant-ended'
        | 'transplant-done'
        | 'cell-not-moved-yet';
    }
  | { code: 'no-such-step'; step: string }
  | { code: 'no-such-screw' | 'no-item' | 'no-function' | 'no-such-wait' | 'no-battery' | 'no-panel'; thing: string }
  | { code: 'done-already' | 'has-no-wait' | 'wait-runs-already' | 'only-last-action'; n: number }
  | { code: 'not-that-gate'; n: number; gate: GateId }
  | { code: 'fastens-not'; n: number; item: string }
  | { code: 'does-not'; n: number; verb: string; item: string }
  | { code: 'drawn-with'; item: string; length: number }
  | { code: 'agree-to'; losses: readonly string[] }
  | { code: 'not-agreed'; losses: readonly string[] }
  | { code: 'costs-more'; price: string; limit: string; currency: string }
  | { code: 'outcome-of-another'; outcome: string; outcomes: readonly string[] }
  | { code: 'collected-by'; name: string }
  | { code: 'parked-at' | 'parked-already'; where: string }
  | { code: 'wait-first'; why: BlockerMessage }
  | { code: 'gate-shut'; gate: GateId; why: BlockerMessage }
  | { code: 'gate-before'; gate: GateId; n: number }
  | { code: 'dealt-with' | 'only-last-item' | 'not-mated-for-trial' | 'in-sand-box'; item: string }
  | { code: 'kind-needs-item'; kind: string }
  | { code: 'kind-of-another'; kind: string; item: string; type: string }
  | { code: 'wait-is'; n: number; seconds: number; given: number }
  | { code: 'say-in-words'; least: number; verb: 'press' | 'cure' }
  | { code: 'still-to-do'; left: number; of: number; items: readonly string[] }
  | { code: 'wait-has-left'; left: number }
  | { code: 'goes-not-back' | 'new-cell-not-in'; item: string; why: RefitMessage }
  | { code: 'moving-was-ended' | 'first-do'; words: string }
  | { code: 'not-trained'; name: string; names: readonly string[] }
  | { code: 'not-that-outcome'; leak: number; half: number; limit: number; outcome: string };

/** Why a dive is planned, planned anew or turned round, as the program says it. */
export type ReplanReason =
  | { code: 'found-deviating'; item: string; kind: string }
  | { code: 'planned-for'; items: readonly string[] }
  | { code: 'planned-anew' | 'turned-round' | 'cell-not-movable' | 'with-new-part' | 'with-old-part' };

/** What the program notes by itself. mm, N·cm, °C; `duration` in s. */
export type NoteMessage =
  | { code: 'tray-spilt'; back: number; strangers: number }
  | { code: 'from-stock'; item: string; drive: string; thread: number | null; length: number | null }
  | { code: 'warned-of-heat'; zone: string; celsius: number; duration: number }
  | { code: 'driven-above'; item: string; torque: number; high: number };
