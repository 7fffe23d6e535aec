import type { Model } from '../anatomy/index.ts';
import { Checker, checkPlan as judge, needless as leftOver, type Asked, type Violation } from '../judge/index.ts';
import type { Plan } from './types.ts';

/* The judge reads documents. It is handed the one that a model was made of, and nothing else of what is reckoned with here. */

/** @param plan the dive that is judged or carried out; left out, all is asked that can be asked */
export const checkerFor = (model: Model, plan: Pick<Plan, 'losses' | 'steps'> | null = null): Checker =>
  new Checker(model.anatomy, plan);

/** @returns the first rule that a plan breaks on its device, or `null` when it is sound */
export const checkPlan = (model: Model, plan: Plan, asked: Asked = {}): Violation | null =>
  judge(model.anatomy, plan, asked);

/** @returns a part that the plan takes off or opens although it could stay, or `null` */
export const needless = (model: Model, plan: Plan, asked: Asked = {}): string | null =>
  leftOver(model.anatomy, plan, asked);
