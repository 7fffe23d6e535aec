import Joi from 'joi';
import { SOURCE_KINDS } from '../heat/index.ts';
import { messageSchema } from '../message/index.ts';
import { PLAIN_REASONS, RELATIONS } from './graph/reasons.ts';
import { RULES } from './ruleNames.ts';
import { CAUTIONS } from './house/cautions.ts';
import { rulesSchema } from './house/rules.ts';
import { GATES, PHASES, VERBS } from './types.ts';

const id = Joi.string().max(64);
const ids = Joi.array().items(id);
const seconds = Joi.number().min(0);
const count = Joi.number().integer().min(0);

/** What differs between the formats: what is said stood as sentences in the first, and stands as codes since. */
interface Sayings {
  schema: 'nibrel.plan/1' | 'nibrel.plan/2';
  because: Joi.Schema;
  hint: Joi.Schema;
  loss: Joi.Schema;
  remedy: Joi.Schema;
  change: Joi.Schema;
}

const reason = Joi.alternatives().try(
  Joi.object({
    why: Joi.string().valid('rule').required(),
    rule: Joi.string()
      .valid(...RULES)
      .required(),
  }),
  Joi.object({
    why: Joi.string().valid('relation').required(),
    relation: Joi.string()
      .valid(...RELATIONS)
      .required(),
    item: id.required(),
  }),
  Joi.object({
    why: Joi.string().valid('order').required(),
    first: id.required(),
    then: id.required(),
    words: Joi.string().required(),
  }),
  Joi.object({ why: Joi.string().valid('quoted').required(), words: Joi.string().required() }),
  Joi.object({
    why: Joi.string()
      .valid(...PLAIN_REASONS)
      .required(),
  }),
);

const CODES: Sayings = {
  schema: 'nibrel.plan/2',
  because: reason,
  hint: Joi.array().items(messageSchema()).required(),
  loss: messageSchema().required(),
  remedy: messageSchema().required(),
  change: messageSchema(),
};
const SENTENCES: Sayings = {
  schema: 'nibrel.plan/1',
  because: Joi.string(),
  hint: Joi.string().allow('').required(),
  loss: Joi.string().required(),
  remedy: Joi.string().allow('').required(),
  change: Joi.string(),
};

const schemaOf = (said: Sayings) =>
  Joi.object({
    schema: Joi.string().valid(said.schema).required(),
    anatomy: id.required(),
    replace: ids.required(),
    spares: ids.required(),
    look: ids,
    transplant: ids,
    rules: rulesSchema.required(),
    condition: Joi.object({
      crackedGlass: Joi.boolean().required(),
      charge: Joi.number().min(0).max(100).allow(null).default(null),
      dark: Joi.boolean().default(false),
      worked: ids,
    }).required(),
    steps: Joi.array()
      .items(
        Joi.object({
          id: Joi.string().max(160).required(),
          n: Joi.number().integer().min(1).required(),
          phase: Joi.string()
            .valid(...PHASES)
            .required(),
          do: Joi.string()
            .valid(...VERBS)
            .required(),
          items: ids.required(),
          tool: Joi.string().allow(null).required(),
          face: Joi.string().valid('front', 'back', 'edge').required(),
          pose: Joi.string().pattern(/^(flat|half|closed-.+)$/),
          seconds: seconds.required(),
          waits: seconds.required(),
          waitsFor: Joi.array().items(Joi.number().integer().min(1)).required(),
          starts: seconds.required(),
          live: Joi.boolean().required(),
          because: Joi.array().items(said.because).min(1).required(),
          cautions: Joi.array()
            .items(Joi.string().valid(...CAUTIONS))
            .required(),
          depth: count.required(),
          mirrors: Joi.number().integer().min(1).allow(null).required(),
          gate: Joi.string()
            .valid(...GATES)
            .allow(null)
            .required(),
          hint: said.hint,
          heat: Joi.object({
            source: Joi.string()
              .valid(...SOURCE_KINDS)
              .required(),
            set: Joi.number().required(),
            on: Joi.string().valid('front', 'back'),
            half: id,
            off: Joi.array().items(Joi.string()),
            softensAt: Joi.number().allow(null).required(),
            solvent: Joi.boolean().required(),
            computed: Joi.boolean().required(),
            staysSoft: seconds.required(),
            reheat: seconds.required(),
            turns: Joi.array()
              .items(
                Joi.object({ where: Joi.string().required(), seconds: seconds.required(), rest: seconds.required() }),
              )
              .required(),
          }).allow(null),
        }),
      )
      .required(),
    transfers: Joi.array()
      .items(Joi.object({ part: id.required(), from: id.required(), spare: id.allow(null).required() }))
      .required(),
    renew: ids.required(),
    losses: Joi.array()
      .items(
        Joi.object({
          function: Joi.string().required(),
          item: id,
          because: said.loss,
          remedy: said.remedy,
        }),
      )
      .required(),
    touched: ids.required(),
    totals: Joi.object({
      hands: seconds.required(),
      waits: seconds.required(),
      idle: seconds.required(),
      elapsed: seconds.required(),
      toolChanges: count.required(),
      turnOvers: count.required(),
      screws: count.required(),
      connectors: count.required(),
    }).required(),
    missingTools: ids.required(),
    changes: Joi.array().items(said.change).required(),
    absent: ids.required(),
    wells: Joi.object().pattern(id, Joi.string().max(8)),
    optimality: Joi.object({
      cost: Joi.number().required(),
      lowerBound: Joi.number().required(),
      proved: Joi.boolean().required(),
    }).required(),
  }).label('plan');

/** The shape of `nibrel.plan/2`. Times in s. */
export const planSchema = schemaOf(CODES);
/** The shape of `nibrel.plan/1`, as jobs of before keep it. */
export const planOneSchema = schemaOf(SENTENCES);
