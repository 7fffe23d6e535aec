export { learn, type Learnt, type LearnOptions } from './learn.ts';
export { readDives, type Dive, type Done, type Ids, type Thing, type Told } from './dives.ts';
export { RELATION_KINDS, SURE, type Evidence, type Grade, type RelationKind } from './evidence.ts';
export { Orders, keyOfDone, type Freedom, type Sequence } from './order.ts';
export { FRAME, REST, type Relations } from './relations.ts';
export { isUnseen } from './anatomy.ts';
export { sideAtFirst, stepsOfActs, targetsOf, wayBack, wayBackOf, type WayBackRequest } from './wayBack.ts';
export { answered, questionsOf, type Question } from './questions.ts';
export { FREE, NEEDED, SKIPPED } from './answers.ts';
