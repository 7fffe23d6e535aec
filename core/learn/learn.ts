import type { Anatomy } from '../anatomy/index.ts';
import type { ActFile } from '../explore/index.ts';
import { draw } from './anatomy.ts';
import { readDives, type Ids, type Told } from './dives.ts';
import type { Evidence } from './evidence.ts';
import { answersOf } from './answers.ts';
import { Orders } from './order.ts';
import { relationsOf, type Relations } from './relations.ts';

/** What dives into one model tell of it. */
export interface Learnt {
  anatomy: Anatomy;
  evidence: Evidence[];
  told: Told;
  orders: Orders;
  relations: Relations;
}

export interface LearnOptions {
  ids?: Ids;
}

/**
 * Learns the anatomy of a device from field dives into it, oldest first. The same dives give the same anatomy; labels
 * are not looked at.
 */
export function learn(files: readonly ActFile[], options: LearnOptions = {}): Learnt {
  const told = readDives(files, options.ids);
  const answers = answersOf(files, told);
  const orders = new Orders(told, answers.free);
  const relations = relationsOf(told, orders, answers);
  const { anatomy, evidence } = draw(told, files.at(-1)!.device, relations, orders);
  return { anatomy, evidence, told, orders, relations };
}
