import Joi from 'joi';

/** Clips of one make: what each presses with, how wide its foot is, and how many the shop has. */
export interface ClipKind {
  newtons: number;
  /** mm across the foot. */
  foot: number;
  count: number;
}

/** A liquid glue as its maker's sheet gives it, at 23 °C and half humidity. */
export interface GlueProduct {
  name: string;
  /** s until it has a skin, until it may be handled, and until it has cured. */
  skin: number;
  handle: number;
  cure: number;
  /** mm of the nozzle's bore. */
  bore: number;
  /** Water of the air cures it, so that dry air takes longer. */
  byMoisture: boolean;
}

/** What a shop has to bond and to press with. */
export interface ClosingBench {
  /** Widths of tape on rolls, mm. */
  rolls: number[];
  /** Sheets of tape that strips are cut from, mm. */
  sheets: [width: number, height: number][];
  /** Die-cut parts at hand, as `anatomy/bond`. */
  dieCut: string[];
  /** Weights and shot bags, kg each. */
  weights: number[];
  /** Foam frames are cut to the bond, so that a weight rests on it alone. */
  foamFrame: boolean;
  clips: ClipKind[];
  /** Bands: what one pulls with, N, and how many there are. */
  bands: { newtons: number; count: number };
  glue: GlueProduct;
  /** Relative humidity of the workshop, %. */
  humidity: number;
  /** s until threadlocker with activator holds. */
  threadlock: number;
  /** mm kept between adhesive and what has to stay free. */
  margin: number;
  /**
   * A pressure-decay tester: the air within the device, the hose and itself, ml, by how much that may be wrong (a tenth where
   * it is not said), and the most that may leak, ml/min; `null`: none.
   */
  tester: { millilitres: number; millilitresHalf?: number; limit: number } | null;
}

/**
 * What a shop has unless it says otherwise. Origin: rolls of 2, 3 and 5 mm, A5 sheets and small spring clips are what a
 * bench commonly has (common practice); forces, feet, weights and bands are own estimates of such things. The glue is an
 * own estimate of a contact glue, to be replaced by the sheet of the product in use. Anaerobic threadlocker with activator
 * is handled after about 10 min (common practice). A margin of 1 mm is what a hand keeps to with a template under the
 * sheet (own choice). The limit of the tester is an own estimate, of the order of what is let pass at a few kPa; no
 * standard is claimed, and no rating follows from it.
 */
export const CLOSING_BENCH: ClosingBench = {
  rolls: [2, 3, 5],
  sheets: [[148, 210]],
  dieCut: [],
  weights: [10, 10, 5, 5, 2, 2, 1, 1],
  foamFrame: true,
  clips: [{ newtons: 12, foot: 5, count: 24 }],
  bands: { newtons: 6, count: 6 },
  glue: { name: 'contact glue', skin: 180, handle: 1800, cure: 86_400, bore: 0.5, byMoisture: true },
  humidity: 50,
  threadlock: 600,
  margin: 1,
  tester: null,
};

/** A tester as the simulated one is. Origin: own choice. */
export const USUAL_TESTER = { millilitres: 40, limit: 0.5 } as const;

const mm = Joi.number().min(0.5).max(500);

export const closingBenchSchema = Joi.object({
  rolls: Joi.array().items(Joi.number().min(0.5).max(100)).unique().max(20).default(CLOSING_BENCH.rolls),
  sheets: Joi.array()
    .items(Joi.array().ordered(mm.required(), mm.required()).length(2))
    .max(10)
    .default(CLOSING_BENCH.sheets),
  dieCut: Joi.array().items(Joi.string().max(140)).unique().max(200).default(CLOSING_BENCH.dieCut),
  weights: Joi.array().items(Joi.number().positive().max(100)).max(40).default(CLOSING_BENCH.weights),
  foamFrame: Joi.boolean().default(CLOSING_BENCH.foamFrame),
  clips: Joi.array()
    .items(
      Joi.object({
        newtons: Joi.number().positive().max(500).required(),
        foot: Joi.number().min(1).max(60).required(),
        count: Joi.number().integer().min(0).max(200).required(),
      }),
    )
    .max(8)
    .default(CLOSING_BENCH.clips),
  bands: Joi.object({
    newtons: Joi.number().min(0).max(200).required(),
    count: Joi.number().integer().min(0).max(100).required(),
  }).default(CLOSING_BENCH.bands),
  glue: Joi.object({
    name: Joi.string().trim().min(1).max(80).required(),
    skin: Joi.number().min(0).max(86_400).required(),
    handle: Joi.number().min(1).max(604_800).required(),
    cure: Joi.number().min(1).max(604_800).required(),
    bore: Joi.number().min(0.05).max(5).required(),
    byMoisture: Joi.boolean().required(),
  }).default(CLOSING_BENCH.glue),
  humidity: Joi.number().min(5).max(95).default(CLOSING_BENCH.humidity),
  threadlock: Joi.number().min(0).max(86_400).default(CLOSING_BENCH.threadlock),
  margin: Joi.number().min(0).max(10).default(CLOSING_BENCH.margin),
  tester: Joi.object({
    millilitres: Joi.number().positive().max(10_000).required(),
    millilitresHalf: Joi.number().min(0).max(10_000),
    limit: Joi.number().positive().max(1000).required(),
  })
    .allow(null)
    .default(CLOSING_BENCH.tester),
});
