import { functionIn, type Model } from '../../anatomy/index.ts';
import { readReason, writeReason, type PlainReason, type Reason, type RuleName } from '../graph/reasons.ts';
import type { Step } from '../types.ts';

const RULES: Record<RuleName, string> = {
  A1: 'what is covered cannot be reached',
  A2: 'nothing may still hold it when it is lifted',
  A3: 'nothing swung open may be strained',
  A4: 'power is isolated before other connectors are opened',
  A5: 'only non-conductive tools inside a live device',
  A6: 'made ready before opening',
  A7: 'the way back reverses the way in',
  R1: 'the battery is mated last, when everything else inside is done',
  R2: 'switched off before hands go in again',
  R3: 'only what is in place and plugged in can be tested',
  R4: 'nothing that holds a part lets go last while a flex still joins it',
  R5: 'a part whose flexes are all open is lifted off at once',
  R6: 'heat by itself: nothing hangs open beside it, and what is softened is cut at once',
  R7: 'what is kept is lifted off whole and laid back, not cut',
  R8: 'nothing lies loose when the device is turned over',
  R9: 'pressed as its bond needs it',
  R10: 'tried dry before it is bonded',
  R11: 'nothing is taken off that could stay',
  R12: 'work in one place is finished before the next',
  R13: 'the cell is drawn down from the charge that it has',
  R14: 'pried and lifted where that can be done',
  R15: 'mating is checked before it is buried',
  R16: 'every plug is seen to be seated before the battery is mated',
  R17: 'old and new are compared before anything is peeled',
  R18: 'every new seal is pressed under load for as long as it needs',
  R19: 'whoever opens a rated device is told that its rating is gone',
  R20: 'softened before it is cut, by what softens it',
  R21: 'no open face is laid on a heat mat',
  R22: 'a gasket is lifted off, looked at and pressed by its screws, never cut or cured',
  R23: 'a part is not given what it does not bear',
  R24: 'the iron goes where no cell is near: on the assembly, out on a mat of its own',
  R25: 'of a fold only the half is warmed that is softened',
  R26: 'what lies on a part is off before the part is freed',
  R27: 'of the plugs that cut the power, those of the cells are mated last',
  R28: 'a cell comes out of a device that nothing feeds any more',
  R29: 'what is laid is held by its screws before what waits for it is laid',
  G1: 'connectors are recorded seated before they are covered',
  G2: 'screws are counted before the next layer goes on',
  G3: 'clean and dry, nothing loose',
  G4: 'proved before it is sealed',
  G5: 'liners off before a bonded part goes down',
  G6: 'pressed for its full time',
  G7: 'everything accounted for before hand-over',
};

const PLAIN: Record<PlainReason, string> = {
  target: 'this is the part to replace',
  suspect: 'it may be what a failed test means',
  houseRules: 'by the house rules',
  opensFirst: 'it is opened before it is taken off',
  nextFace: 'the next step is on the other face',
  mayBeDamaged: 'may have suffered',
  doneAlready: 'it is done already',
  doneBefore: 'it was done in this order on the way in, and nothing shows that another would do',
};

/** A reason in plain words, names instead of ids. */
export function tellReason(model: Model, reason: Reason): string {
  switch (reason.why) {
    case 'rule':
      return `${RULES[reason.rule]} (${reason.rule})`;
    case 'relation': {
      const { item } = reason;
      return writeReason({ ...reason, item: model.items.has(item) ? model.nameOf(item) : item });
    }
    case 'order':
      return reason.words.replace(/\.$/, '');
    default:
      return PLAIN[reason.why];
  }
}

/** One `because` of a plan in plain words; what is in no words of the format stands as it is. */
export function explain(model: Model, because: string): string {
  const reason = readReason(because);
  return reason ? tellReason(model, reason) : because;
}

export function ruleText(rule: string): string {
  return Object.hasOwn(RULES, rule) ? RULES[rule as RuleName] : rule;
}

/** What the items of a step are called: functions for tests and the gates that ask for them, else items of the anatomy. */
export function stepItemName(model: Model, step: Pick<Step, 'do' | 'gate'>, id: string): string {
  const functions = step.do === 'test' || step.do === 'confirm-loss' || step.gate === 'G4' || step.gate === 'G7';
  if (functions) return functionIn(model.anatomy, id).name;
  return model.items.has(id) ? model.nameOf(id) : id;
}
