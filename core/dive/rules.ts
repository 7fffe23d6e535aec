import Joi from 'joi';
import { faultsOfJoi, type Reading } from '../anatomy/index.ts';

/** The shop's own choices where practitioners disagree; the plan records the ones it was made under. */
export interface HouseRules {
  firstGap: 'suction-cup' | 'cup-clamp' | 'thin-blade';
  heat: 'mat' | 'gun' | 'gel-pack' | 'dryer';
  /** prop: work beside the opened display on its tether; take-off: disconnect and lift it before going on. */
  openedDisplay: 'prop' | 'take-off';
  gluedBattery: 'tabs-then-solvent' | 'solvent' | 'heat-and-pry';
  removedBattery: 'never-refit' | 'refit-if-flawless';
  screws: 'map' | 'wells' | 'magnetic-mat';
  seal: 'die-cut' | 'strips' | 'liquid-glue';
  pressing: 'by-hand' | 'clips' | 'weight';
  powerOnTest: 'before-sealing' | 'after-closing';
  /** Seconds that a change of tool costs. */
  toolChange: number;
  /** Seconds that turning the device over costs. */
  turnOver: number;
}

/**
 * Defaults. Origin: the choices are the ones most often seen at the bench (common practice); the
 * two costs are our own bench estimates for putting one tool down and finding the next, and for
 * turning an open device over without spilling anything.
 */
export const DEFAULT_RULES: HouseRules = {
  firstGap: 'suction-cup',
  heat: 'mat',
  openedDisplay: 'prop',
  gluedBattery: 'tabs-then-solvent',
  removedBattery: 'refit-if-flawless',
  screws: 'wells',
  seal: 'die-cut',
  pressing: 'clips',
  powerOnTest: 'before-sealing',
  toolChange: 8,
  turnOver: 15,
};

export const rulesSchema = Joi.object({
  firstGap: Joi.string().valid('suction-cup', 'cup-clamp', 'thin-blade').default(DEFAULT_RULES.firstGap),
  heat: Joi.string().valid('mat', 'gun', 'gel-pack', 'dryer').default(DEFAULT_RULES.heat),
  openedDisplay: Joi.string().valid('prop', 'take-off').default(DEFAULT_RULES.openedDisplay),
  gluedBattery: Joi.string().valid('tabs-then-solvent', 'solvent', 'heat-and-pry').default(DEFAULT_RULES.gluedBattery),
  removedBattery: Joi.string().valid('never-refit', 'refit-if-flawless').default(DEFAULT_RULES.removedBattery),
  screws: Joi.string().valid('map', 'wells', 'magnetic-mat').default(DEFAULT_RULES.screws),
  seal: Joi.string().valid('die-cut', 'strips', 'liquid-glue').default(DEFAULT_RULES.seal),
  pressing: Joi.string().valid('by-hand', 'clips', 'weight').default(DEFAULT_RULES.pressing),
  powerOnTest: Joi.string().valid('before-sealing', 'after-closing').default(DEFAULT_RULES.powerOnTest),
  toolChange: Joi.number().min(0).max(600).default(DEFAULT_RULES.toolChange),
  turnOver: Joi.number().min(0).max(600).default(DEFAULT_RULES.turnOver),
}).label('rules');

/** Reads house rules; what is left out takes its default. */
export function readRules(document: unknown): Reading<HouseRules> {
  const { error, value } = rulesSchema.validate(document, { abortEarly: false, convert: false });
  return error ? { ok: false, faults: faultsOfJoi(error) } : { ok: true, value: value as HouseRules };
}
