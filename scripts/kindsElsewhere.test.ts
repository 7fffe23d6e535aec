import { describe, expect, it } from 'vitest';
import { typedElsewhere, typedIn } from './kindsElsewhere.ts';

describe('kinds are typed in their tables and nowhere else', () => {
  it.each([
    [`const GLUED = ['tape', 'glue', 'gasket'];`, 'kinds of bond typed by hand: tape, glue, gasket'],
    [`type Kind = 'press' | 'coax' | 'contact';`, 'kinds of connector typed by hand: press, coax, contact'],
    [`if (bond.kind === 'glue') cure();`, 'asks for one kind: glue'],
    [`kind: Joi.valid('screw', 'captive', 'clip')`, 'kinds of fastener typed by hand: screw, captive, clip'],
    [`const LAWS = ['A1', 'A2', 'A3'];`, 'kinds of rule typed by hand: A1, A2, A3'],
  ])('%s is found', (code, said) => {
    expect(typedIn(code)).toContain(said);
  });
  it('what only looks like it is not', () => {
    expect(
      typedIn(`type Verb = 'press' | 'lift' | 'cut'; if (held.kind === 'press') x('tape'); // 'tape', 'glue', 'foil'`),
    ).toEqual([]);
  });
  it('there are none', () => {
    expect(typedElsewhere()).toEqual([]);
  });
});
