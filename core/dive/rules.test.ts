import { describe, expect, it } from 'vitest';
import { modelOf, type Anatomy } from '../anatomy/index.ts';
import { tinyBond, tinyConnector, tinyDevice, tinyLatch, tinyPart, tinyScrew } from '../../demo/tiny.ts';
import { closedDevice } from '../judge/index.ts';
import { checkerFor, checkPlan } from './judged.ts';
import { planDive } from './plan.ts';
import type { Plan, Step, Verb } from './types.ts';

function dive(replace: string, change: (a: Anatomy) => void = () => {}, request = {}): Plan {
  const model = modelOf(tinyDevice(change));
  const plan = planDive(model, { replace: [replace], ...request });
  expect(checkPlan(model, plan)).toBeNull();
  return plan;
}
const down = (plan: Plan): string[] =>
  plan.steps.filter((s) => s.phase === 'descent').flatMap((s) => s.items.map((id) => `${s.do} ${id}`));
const up = (plan: Plan): string[] =>
  plan.steps
    .filter((s) => s.phase === 'ascent')
    .flatMap((s) => (s.items.length ? s.items.map((id) => `${s.gate ?? s.do} ${id}`) : [s.do]));
const find = (plan: Plan, verb: Verb, item: string): Step => {
  const step = plan.steps.find((s) => s.do === verb && s.items.includes(item));
  if (!step) throw new Error(`no step ${verb} ${item}`);
  return step;
};
const before = (list: string[], first: string, then: string) => {
  expect(list).toContain(first);
  expect(list).toContain(then);
  expect(list.indexOf(first)).toBeLessThan(list.indexOf(then));
};

describe('A1 cover', () => {
  it('what lies under the cover waits until the cover is off', () => {
    before(down(dive('camera')), 'lift cover', 'disconnect camera-flex');
  });
  it('a bracket beside the way stays where it is', () => {
    const plan = dive('bracket');
    expect(down(plan)).not.toContain('lift camera');
  });
  it('the parts a screw holds never cover it', () => {
    expect(down(dive('bracket'))).toContain('unscrew k1');
  });
  it('a part on the other face covers nothing here, and the device is turned over', () => {
    const plan = dive('camera', (a) => {
      a.parts.push(tinyPart('back', 0, [0, 0, 40, 80], { face: 'back' }));
    });
    expect(down(plan)).not.toContain('lift back');
    const both = dive('camera', (a) => {
      a.parts.push(tinyPart('back', 0, [0, 0, 40, 80], { face: 'back' }));
      a.orders = [{ first: 'back', then: 'camera', because: 'The plug is reached from behind.' }];
    });
    expect(both.totals.turnOvers).toBeGreaterThanOrEqual(2);
  });
  it('a plug on the underside of the board is reached only while the board is tilted', () => {
    const plan = dive('camera', (a) => {
      a.parts.find((p) => p.id === 'board')!.swing = { hinge: 'right', degrees: 30, tether: ['plug'], gap: null };
      a.connectors.push(
        tinyConnector('plug', 'camera', 'board', [30, 40], {
          kind: 'coax',
          reachedBy: { swing: 'board' },
          carries: ['camera'],
        }),
      );
    });
    before(down(plan), 'swing board', 'disconnect plug');
    before(up(plan), 'connect plug', 'fit board');
  });
});

describe('A2 lift', () => {
  it('asks for every screw that holds the part, captive ones only loosened and in no well', () => {
    const plan = dive('camera', (a) => {
      a.fasteners[0]!.kind = 'captive';
    });
    before(down(plan), 'unscrew c1', 'lift cover');
    before(down(plan), 'unscrew c2', 'lift cover');
  });
  it('asks for latches and glue, and renews the glue', () => {
    const plan = dive('camera', (a) => {
      a.latches = [tinyLatch('hooks', 'cover', { release: 'last', mate: 'first' })];
      a.bonds = [tinyBond('seal', 'tape', ['cover', 'frame'])];
    });
    const steps = down(plan);
    before(steps, 'heat seal', 'cut seal');
    before(steps, 'cut seal', 'release hooks');
    before(steps, 'release hooks', 'lift cover');
    expect(plan.renew).toContain('seal');
    before(up(plan), 'bond seal', 'fit cover');
    before(up(plan), 'fit cover', 'press seal');
  });
  it('a part that lies on a flex comes out before the flex can leave', () => {
    before(
      down(
        dive('camera', (a) => {
          a.connectors[1]!.under = ['battery'];
        }),
      ),
      'lift battery',
      'lift camera',
    );
  });
  it('keeps a printed order of parts, and its reverse on the way back', () => {
    const plan = dive('camera', (a) => {
      a.orders = [{ first: 'bracket', then: 'camera', because: 'It hooks in.' }];
    });
    before(down(plan), 'lift bracket', 'lift camera');
    before(up(plan), 'fit camera', 'fit bracket');
  });
  it('what locks a hinged part goes home when that part is closed, not while it stands open', () => {
    const hinged = (a: Anatomy) => {
      const bracket = a.parts.find((p) => p.id === 'bracket')!;
      bracket.swing = { hinge: 'right', degrees: 120, tether: ['camera-flex'], gap: null };
      a.orders = [{ first: 'camera', then: 'bracket', because: 'The camera locks it.' }];
      a.connectors[1]!.from = 'bracket';
    };
    const plan = dive('battery', hinged);
    before(down(plan), 'lift camera', 'swing bracket');
    before(up(plan), 'fit bracket', 'fit camera');
    const model = modelOf(tinyDevice(hinged));
    const checker = checkerFor(model, plan);
    const place = plan.steps.findIndex((s) => s.phase === 'ascent' && s.do === 'fit' && s.items[0] === 'bracket');
    const open = plan.steps.slice(0, place).reduce((device, step) => checker.advance(device, step), closedDevice());
    const back = plan.steps.find((s) => s.do === 'fit' && s.items[0] === 'camera')!;
    expect(open.swung.has('bracket')).toBe(true);
    expect(checker.violation(open, back)).toMatchObject({ rule: 'A7', item: 'bracket' });
    expect(checker.violation(checker.advance(open, plan.steps[place]!), back)).toBeNull();
  });
  it('a screw driven into a standoff comes out before the standoff', () => {
    const plan = dive('board', (a) => {
      a.fasteners.push(
        tinyScrew('post', 'board', [30, 40], { kind: 'standoff', drive: 'H1.3' }),
        tinyScrew('top', 'bracket', [30, 27], { into: 'post', at: [30, 26] }),
      );
      a.fasteners.find((f) => f.id === 'post')!.at = [30, 26];
    });
    before(down(plan), 'unscrew top', 'unscrew post');
    before(up(plan), 'fasten post', 'fasten top');
  });
  it('spring contacts part with their part, and need no step of their own', () => {
    const plan = dive('camera', (a) => {
      a.connectors[1]!.kind = 'contact';
    });
    expect(plan.steps.some((s) => s.do === 'disconnect' && s.items.includes('camera-flex'))).toBe(false);
    expect(plan.touched).toContain('camera');
  });
  it('takes off nothing that may stay', () => {
    expect(down(dive('camera')).filter((s) => s.startsWith('lift'))).toEqual([
      'lift cover',
      'lift bracket',
      'lift camera',
    ]);
  });
});

describe('A3 swing', () => {
  const swinging = (a: Anatomy) => {
    a.parts[1]!.swing = { hinge: 'left', degrees: 90, tether: ['cover-flex'], gap: null };
    a.connectors.push(tinyConnector('cover-flex', 'cover', 'board', [30, 40], { carries: ['power'] }));
  };
  it('a cover with a tether is opened like a book and stays connected', () => {
    const plan = dive('camera', swinging);
    expect(down(plan)).toContain('swing cover');
    expect(down(plan)).not.toContain('disconnect cover-flex');
    expect(find(plan, 'swing', 'cover').because).toContainEqual(expect.objectContaining({ relation: 'covers' }));
  });
  it('when it is the target it is opened first, disconnected, then taken off', () => {
    const steps = down(dive('cover', swinging));
    before(steps, 'swing cover', 'disconnect cover-flex');
    before(steps, 'disconnect cover-flex', 'lift cover');
  });
  it('the house may want it off', () => {
    const model = modelOf(
      tinyDevice((a) => {
        swinging(a);
        a.parts[1]!.kind = 'display';
      }),
    );
    const { rules } = planDive(model, { replace: ['camera'] });
    const plan = planDive(model, { replace: ['camera'] }, { ...rules, openedDisplay: 'take-off' });
    expect(checkPlan(model, plan)).toBeNull();
    expect(down(plan)).toContain('lift cover');
  });
  it('the device is not turned over while something is swung open', () => {
    const plan = dive('camera', (a) => {
      swinging(a);
      a.parts.push(tinyPart('back', 0, [0, 0, 40, 80], { face: 'back' }));
      a.orders = [{ first: 'back', then: 'camera', because: 'It locks it.' }];
    });
    let open = 0;
    for (const s of plan.steps) {
      if (s.do === 'swing') open++;
      if (s.do === 'lift' && s.items.includes('cover')) open = 0;
      if (s.do === 'turn-over') expect(open).toBe(0);
      if (s.do === 'fit' && s.items.includes('cover')) open = 0;
    }
  });
  it('a child on the inner side is worked on the swung assembly', () => {
    const plan = dive('sensor', (a) => {
      swinging(a);
      a.parts.push(tinyPart('sensor', 0, [4, 60, 8, 8], { within: 'cover', face: 'back', kind: 'sensor' }));
      a.fasteners.push(tinyScrew('x1', 'sensor', [8, 64], { into: 'cover', face: 'back' }));
    });
    before(down(plan), 'swing cover', 'unscrew x1');
    expect(down(plan)).not.toContain('lift cover');
  });
});

describe('A4 power', () => {
  it('isolation comes before every other connector', () => {
    const steps = down(dive('camera'));
    before(steps, 'disconnect battery-flex', 'disconnect camera-flex');
    before(steps, 'disconnect battery-flex', 'bend-aside battery-flex');
  });
  it('a connector on the way to isolation is opened live, and marked so', () => {
    const plan = dive('battery', (a) => {
      a.connectors[0]!.beneath = ['camera-flex'];
    });
    before(down(plan), 'disconnect camera-flex', 'disconnect battery-flex');
    expect(find(plan, 'disconnect', 'camera-flex').live).toBe(true);
    before(up(plan), 'connect battery-flex', 'connect camera-flex');
  });
  it('a battery lifted by hand isolates by its contacts', () => {
    const plan = dive('camera', (a) => {
      a.connectors[0]!.kind = 'contact';
    });
    before(down(plan), 'lift battery', 'disconnect camera-flex');
  });
  it('a soldered joint is never worked live', () => {
    const plan = dive('camera', (a) => {
      a.connectors[1]!.kind = 'solder';
    });
    expect(find(plan, 'desolder', 'camera-flex').live).toBe(false);
    expect(() =>
      dive('battery', (a) => {
        a.connectors[1]!.kind = 'solder';
        a.connectors[0]!.beneath = ['camera-flex'];
      }),
    ).toThrow(/soldered-before-isolation/);
  });
});

describe('A5 tools', () => {
  it('before isolation nothing that conducts but the driver goes inside', () => {
    for (const s of dive('battery', (a) => {
      a.bonds = [tinyBond('glue', 'glue', ['battery', 'frame'], { solvent: true })];
    }).steps) {
      if (s.live && s.phase === 'descent')
        expect(s.tool === null || s.tool.startsWith('driver-') || s.tool === 'spudger').toBe(true);
    }
  });
});

describe('A6 before opening', () => {
  it('checks the charge before a cell is pried, takes the card tray out, and powers off before anything is opened', () => {
    const plan = dive('battery', (a) => {
      a.parts.push(tinyPart('tray', 0, [36, 60, 4, 10], { face: 'edge', kind: 'tray' }));
      a.bonds = [tinyBond('glue', 'glue', ['battery', 'frame'], { solvent: true })];
    });
    expect(plan.steps.filter((s) => s.phase === 'prepare').map((s) => s.do)).toEqual([
      'discharge',
      'eject',
      'power-off',
    ]);
    expect(plan.steps.find((s) => s.do === 'power-off')!.waitsFor).toEqual([1]);
  });
  it('tapes cracked glass, and puts film on whole glass', () => {
    const glass = (a: Anatomy) => {
      a.parts[1]!.glass = true;
    };
    expect(dive('camera', glass, { condition: { crackedGlass: true } }).steps.some((s) => s.do === 'tape-glass')).toBe(
      true,
    );
    expect(dive('camera', glass).steps.some((s) => s.do === 'film')).toBe(true);
  });
});

describe('A7 mating', () => {
  it('keeps the mating order of the maker', () => {
    const plan = dive('board', (a) => {
      a.connectors.push(tinyConnector('second', 'camera', 'board', [30, 10], { carries: ['camera'] }));
      a.mateOrder = [['second', 'camera-flex']];
    });
    before(up(plan), 'connect second', 'connect camera-flex');
  });
  it('what hides another connector is opened first and closed last', () => {
    const plan = dive('board', (a) => {
      a.connectors.push(tinyConnector('top', 'camera', 'board', [22, 10], { carries: ['camera'] }));
      a.connectors[1]!.beneath = ['top'];
    });
    before(down(plan), 'disconnect top', 'disconnect camera-flex');
    before(up(plan), 'connect camera-flex', 'connect top');
  });
  it('closes isolation last among the connectors', () => {
    const connects = up(dive('board')).filter((s) => s.startsWith('connect'));
    expect(connects.at(-1)).toBe('connect battery-flex');
  });
  it('passes every gate that applies, before the part it guards', () => {
    const plan = dive('camera', (a) => {
      a.bonds = [tinyBond('seal', 'tape', ['cover', 'frame'])];
    });
    const gates = plan.steps.filter((s) => s.gate).map((s) => s.gate);
    for (const g of ['G1', 'G2', 'G3', 'G4', 'G5', 'G6', 'G7']) expect(gates).toContain(g);
    const sealed = find(plan, 'fit', 'cover').n;
    expect(plan.steps.find((s) => s.gate === 'G4')!.n).toBeLessThan(sealed);
  });
  it('a mating order against the geometry is refused with its reason', () => {
    expect(() =>
      dive('board', (a) => {
        a.connectors.push(tinyConnector('top', 'camera', 'board', [22, 10]));
        a.connectors[1]!.beneath = ['top'];
        a.mateOrder = [['top', 'camera-flex']];
      }),
    ).toThrow(/no-mating-order/);
  });
});

describe('the plan', () => {
  it('tells what cannot be reached and why', () => {
    expect(() =>
      dive('camera', (a) => {
        a.connectors[1]!.after = ['board'];
      }),
    ).toThrow(/waits-for-itself/);
    expect(() => dive('nothing')).toThrow(/no-such-part.*nothing/);
    expect(() => dive('frame')).toThrow(/never-comes-off/);
  });
  it('gives every step a reason', () => {
    for (const s of dive('camera').steps) expect(s.because.length, `${s.n} ${s.do}`).toBeGreaterThan(0);
  });
  it('is level: what comes off at one depth goes back at the same', () => {
    for (const s of dive('camera').steps) {
      if (s.mirrors && (s.do === 'lift' || s.do === 'swing'))
        expect(dive('camera').steps[s.mirrors - 1]!.depth).toBe(s.depth);
    }
  });
  it('moves across what a bare spare comes without, and renews what is single use', () => {
    const plan = dive('camera', (a) => {
      a.parts.push(tinyPart('ring', 0, [6, 6, 4, 4], { within: 'camera', face: 'back' }));
      a.parts[2]!.fate = 'renew';
      a.spares = [{ id: 'bare', name: 'Bare', replaces: 'camera', includes: ['camera'], brings: [] }];
    });
    expect(plan.transfers).toEqual([{ part: 'ring', from: 'camera', spare: 'bare' }]);
    expect(plan.steps.some((s) => s.do === 'transfer' && s.items.includes('ring') && s.phase === 'turn')).toBe(true);
    expect(plan.renew).toContain('bracket');
  });
  it('names what pairing costs', () => {
    const plan = dive('camera', (a) => {
      a.parts[3]!.pairing = [{ with: 'board', loses: ['camera'], remedy: 'Calibrate.' }];
    });
    expect(plan.losses).toEqual([
      {
        function: 'camera',
        because: { code: 'paired', part: 'camera', item: 'board' },
        remedy: { code: 'quoted', words: 'Calibrate.' },
      },
    ]);
  });
});
