import Joi from 'joi';

/** A weld that the shop's own machine has proved on coupons. */
export interface WeldRecord {
  machine: string;
  /** What is set, in the machine's own words. */
  setting: string;
  /** The strip that is welded, in words: nickel, its width and thickness. */
  strip: string;
  /** N at which each coupon came off. */
  coupons: number[];
  date: string;
  by: string;
}

/** What a shop that moves cells to their old protection boards has settled. No default stands for any of it. */
export interface TransplantRules {
  /** Who the lead has marked as trained for it. */
  trained: string[];
  /** N that a weld must bear when it is pulled. */
  pull: number;
  welds: WeldRecord[];
}

/** What a shop has settled about cells. */
export interface CellRules {
  /** V that devices charge one cell to, by anatomy, where the shop has read it from a label. */
  chargeVolts: Record<string, number>;
  /** Where it may be done at all; `null`: it is not offered. */
  transplant: TransplantRules | null;
}

export const CELL_RULES: CellRules = { chargeVolts: {}, transplant: null };

/** Coupons that prove a setting. Origin: own choice; one may hold by chance. */
export const FEWEST_COUPONS = 3;

export const cellRulesSchema = Joi.object({
  chargeVolts: Joi.object().pattern(Joi.string().max(64), Joi.number().min(2).max(5)).default({}),
  transplant: Joi.object({
    trained: Joi.array().items(Joi.string().trim().min(1).max(80)).unique().max(50).required(),
    pull: Joi.number().positive().max(500).required(),
    welds: Joi.array()
      .items(
        Joi.object({
          machine: Joi.string().trim().min(1).max(80).required(),
          setting: Joi.string().trim().min(1).max(200).required(),
          strip: Joi.string().trim().min(1).max(80).required(),
          coupons: Joi.array().items(Joi.number().min(0).max(1000)).max(50).required(),
          date: Joi.string()
            .pattern(/^\d{4}-\d\d-\d\d$/)
            .required(),
          by: Joi.string().trim().min(1).max(80).required(),
        }),
      )
      .max(50)
      .required(),
  })
    .allow(null)
    .default(null),
});
