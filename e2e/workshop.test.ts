import type { Browser, Locator, Page } from 'playwright-core';
import { describe, expect, test } from 'vitest';
import { boundsOf, modelOf, type Anatomy, type Outline, type Part, type Point } from '../core/anatomy/index.ts';
import { planDive, type Step } from '../core/dive/index.ts';
import { demoModel } from '../demo/models.ts';
import { photograph } from '../demo/photograph.ts';
import { seededDraw } from '../demo/synthetic.ts';
import { THOROUGH } from '../demo/thorough.ts';
import { fieldsOf, type Field } from '../web/screens/workshop/fields.ts';
import { bench } from './bench.ts';
import { openPage } from './harness.ts';

let page: Page;
let browser: Browser;
const { server } = bench((first, opened) => {
  page = first;
  browser = opened;
});

async function revise(on: Page, name: string): Promise<string> {
  await on.goto(`${server.url}/workshop`);
  await on.getByRole('listitem').filter({ hasText: name }).getByRole('button', { name: 'Go on drawing' }).click();
  await on.getByTestId('board').waitFor();
  return on.url();
}

const draftAt = async (url: string) =>
  (await (await fetch(`${server.url}/api/workshop/drafts/${url.split('/').at(-1)}`)).json()) as {
    document: Anatomy;
    version: number;
  };

/** The server has all that was drawn. */
const saved = (on: Page) =>
  on.waitForFunction(() => /^saved/.test(document.querySelector('[data-testid=saved]')?.textContent ?? ''), null, {
    timeout: 60_000,
  });

/** Where a place of the device lies on the screen. */
async function onScreen(on: Page, [x, y]: Point): Promise<Point> {
  return on.getByTestId('canvas').evaluate(
    (svg, [px, py]) => {
      const m = (svg.querySelector('g') as SVGGElement).getScreenCTM()!;
      return [m.a * px! + m.c * py! + m.e, m.b * px! + m.d * py! + m.f] as [number, number];
    },
    [x, y],
  );
}

async function pressAt(on: Page, at: Point): Promise<void> {
  await on.mouse.click(...(await onScreen(on, at)));
  // Read before it is drawn, what was pressed is still what was pressed before.
  await on.evaluate(() => new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn))));
}

async function drag(on: Page, from: Point, to: Point): Promise<void> {
  const [a, b] = [await onScreen(on, from), await onScreen(on, to)];
  await on.mouse.move(...a);
  await on.mouse.down();
  await on.mouse.move((a[0] + b[0]) / 2, (a[1] + b[1]) / 2, { steps: 2 });
  await on.mouse.move(...b, { steps: 2 });
  await on.mouse.up();
}

describe('nothing that is drawn is lost', () => {
  test('200 edits, the server killed and the page loaded again in the middle of them', async () => {
    const url = await revise(page, 'Quill 5');
    const draw = seededDraw(11);
    const before = (await draftAt(url)).document;
    const f = before.fasteners.find((g) => g.face === 'front')!;
    const choose = async () => {
      await page.getByTestId('board').waitFor();
      await page.getByRole('tab', { name: 'Screws' }).click();
      await page.getByRole('checkbox', { name: f.id, exact: true }).check();
      // The keys are the board's again.
      await page.getByTestId('canvas').evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    };
    await choose();
    let right = 0;
    let up: Promise<unknown> = Promise.resolve();
    for (let i = 0; i < 200; i++) {
      const way = draw(3) === 0 ? -1 : 1;
      right += way;
      await page.keyboard.press(way > 0 ? 'ArrowRight' : 'ArrowLeft');
      if (i === 50 || i === 130) {
        await up;
        await server.kill();
        up = new Promise((resolve) => setTimeout(resolve, 400)).then(() => server.start());
      }
      if (i === 30 || i === 90 || i === 170) {
        // What this browser has not kept yet is asked about before a page is closed; here it is waited for.
        await page.locator('[data-testid=saved][data-unkept="0"]').waitFor();
        await page.reload();
        await choose();
      }
    }
    await up;
    await saved(page);
    const after = await draftAt(url);
    expect(after.document.fasteners.find((g) => g.id === f.id)!.at[0]).toBeCloseTo(f.at[0] + right / 10, 5);
    expect(after.version).toBe(200);
    // And all of it can be taken back, over the reloads.
    for (let i = 0; i < 200; i++) await page.keyboard.press('Control+z');
    await saved(page);
    expect((await draftAt(url)).document).toEqual(before);
  });

  test('a number that is confirmed and left at once stays', async () => {
    const url = await revise(page, 'Mule 4');
    const f = (await draftAt(url)).document.fasteners[0]!;
    await page.getByRole('tab', { name: 'Screws' }).click();
    await page.getByRole('checkbox', { name: f.id, exact: true }).check();
    await page.getByRole('tab', { name: 'Item' }).click();
    const length = page.getByRole('tabpanel').getByLabel('Length', { exact: true });
    const longer = Math.round(f.length! * 100 + 10) / 100;
    await length.fill(String(longer));
    await length.evaluate(async (box: HTMLInputElement) => {
      box.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
      // The next key comes before the page has come to rest, as on a busy machine.
      await new Promise((next) => setTimeout(next, 0));
      box.blur();
    });
    await saved(page);
    const after = (await draftAt(url)).document.fasteners.find((g) => g.id === f.id)!;
    expect(after.length).toBe(longer);
    expect(await length.inputValue()).toBe(String(longer));
    // What is refused is said, and stays as it was typed.
    const id = page.getByRole('tabpanel').getByLabel('Id', { exact: true });
    await id.fill('battery');
    await id.press('Enter');
    await page.getByRole('alert').first().waitFor();
    expect(await id.inputValue()).toBe('battery');
  });

  test('by keyboard alone: what is asked once is answered, the device made a fold and one body again; a killed server forgets nothing', async () => {
    const { anatomy } = demoModel('brannoch-cairn-2');
    const bonds = anatomy.bonds.map(({ compressedBy: _, ...b }) => b);
    const made = await fetch(`${server.url}/api/workshop/drafts`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Origin: server.url },
      body: JSON.stringify({ document: { ...anatomy, id: 'cairn-asked', bonds }, by: 'Tobin Hask' }),
    });
    const { id } = (await made.json()) as { id: string };
    const url = `${server.url}/workshop/${id}`;
    await page.goto(url);
    await page.getByTestId('board').waitFor();
    /** Goes on with Tab until the focus is on what is called so, and presses it. */
    const reach = async (name: string) => {
      for (let n = 0; n < 150; n++) {
        await page.keyboard.press('Tab');
        if ((await page.evaluate(() => document.activeElement?.textContent)) === name)
          return page.keyboard.press('Enter');
      }
      throw new Error(`${name} is not reached by Tab`);
    };
    const openDevice = async () => {
      await reach('Device');
      await page.getByRole('heading', { name: 'Rails and cells' }).waitFor();
    };
    await openDevice();
    await page.getByText('back-gasket: is it pressed tight by screws').waitFor();
    await reach('Pressed by 8 screws');
    await saved(page);
    await server.kill();
    await server.start();
    await page.reload();
    await page.getByTestId('board').waitFor();
    await openDevice();
    expect(await page.getByText('back-gasket: is it pressed tight by screws').count()).toBe(0);
    expect((await draftAt(url)).document.bonds.find((b) => b.id === 'back-gasket')!.compressedBy).toHaveLength(8);
    await reach('It folds: two halves on a hinge');
    await page.locator('[data-hinge]').first().waitFor({ state: 'attached' });
    await saved(page);
    expect((await draftAt(url)).document.bodies).toHaveLength(2);
    await reach('It does not fold');
    await saved(page);
    expect((await draftAt(url)).document).not.toHaveProperty('bodies');
  });

  test('two windows: what does not clash is merged, what does is shown and not overwritten', async () => {
    const url = await revise(page, 'Nacre 2');
    const other = await openPage(browser, url);
    await other.getByTestId('board').waitFor();
    const { document } = await draftAt(url);
    const [a, b] = document.fasteners.filter((g) => g.face === 'back');
    const lengthOf = async (on: Page, id: string, mm: string) => {
      await on.getByRole('tab', { name: 'Screws' }).click();
      await on.getByRole('button', { name: 'Choose none' }).click();
      await on.getByRole('checkbox', { name: id, exact: true }).check();
      await on.getByRole('textbox', { name: 'Length of the chosen' }).fill(mm);
      await on.keyboard.press('Enter');
    };
    await page.context().setOffline(true);
    await lengthOf(page, a!.id, '1,75');
    await lengthOf(page, b!.id, '2.15');
    await lengthOf(other, a!.id, '1.95');
    await saved(other);
    await page.context().setOffline(false);
    const clash = page.getByRole('list', { name: 'Clashes' });
    await clash.waitFor();
    expect(await clash.innerText()).toContain(a!.id);
    await saved(page);
    const now = (await draftAt(url)).document;
    expect(now.fasteners.find((g) => g.id === a!.id)!.length).toBe(1.95);
    expect(now.fasteners.find((g) => g.id === b!.id)!.length).toBe(2.15);
    await clash.getByRole('button', { name: 'Mine after all' }).click();
    await saved(page);
    expect((await draftAt(url)).document.fasteners.find((g) => g.id === a!.id)!.length).toBe(1.75);
    await other.context().close();
  });
});

/** The same device with two screws of a kind, and with fewer functions: what differs from one to the next is drawn once. */
function lessOf(anatomy: Anatomy): Anatomy {
  const functions = anatomy.functions.slice(0, 5);
  const known = new Set(functions.map((f) => f.id));
  const seen = new Map<string, number>();
  const text = JSON.stringify({
    ...anatomy,
    functions,
    fasteners: anatomy.fasteners.filter((f) => {
      const kind = `${f.holds.join()} ${f.into}`;
      seen.set(kind, (seen.get(kind) ?? 0) + 1);
      return seen.get(kind)! <= 2;
    }),
  });
  return JSON.parse(text, (key, value: unknown) => {
    if (!['functions', 'carries', 'loses'].includes(key) || !Array.isArray(value) || typeof value[0] !== 'string')
      return value;
    const left = value.filter((id: string) => known.has(id));
    // A plug that carries nothing is warned of.
    return left.length > 0 || key !== 'carries' ? left : [functions[0]!.id];
  }) as Anatomy;
}

describe('a device is drawn anew', () => {
  const original = THOROUGH ? demoModel('tannbrook-field-3').anatomy : lessOf(demoModel('tannbrook-field-3').anatomy);
  let acts = 0;
  const draw = seededDraw(5);
  /** A hand is a tenth of a millimetre off. */
  const hand = ([x, y]: Point): Point => [x + (draw(21) - 10) / 100, y + (draw(21) - 10) / 100];
  const tool = async (key: string) => {
    await page.keyboard.press('Escape');
    await page.keyboard.press('Escape');
    await page.keyboard.press(key);
    acts++;
  };
  const panel = () => page.getByRole('tabpanel');

  async function typed(box: Locator, text: string): Promise<void> {
    await box.fill(text);
    await box.press('Enter');
    acts++;
  }

  /** Sets a field of what is selected, as a hand would, where it is not so already. */
  async function setField(f: Field, now: unknown, to: unknown): Promise<void> {
    if (JSON.stringify(now) === JSON.stringify(to)) return;
    const at = panel();
    if (f.as === 'text' || f.as === 'words') await typed(at.getByLabel(f.label, { exact: true }), to as string);
    else if (f.as === 'number') await typed(at.getByLabel(f.label, { exact: true }), to === null ? '' : String(to));
    else if (f.as === 'choice' || f.as === 'one') {
      await at.getByRole('combobox', { name: f.label, exact: true }).selectOption((to as string | null) ?? '');
      acts++;
    } else if (f.as === 'yes') {
      await at.getByRole('checkbox', { name: f.label, exact: true }).setChecked(Boolean(to));
      acts++;
    } else if (f.as === 'many') {
      // A screw holds something at every moment: the right one is put in before the wrong one is taken out.
      for (const id of (to as string[]).filter((id) => !(now as string[]).includes(id))) {
        await at.getByRole('combobox', { name: `${f.label}: add`, exact: true }).selectOption(id);
        acts++;
      }
      for (const gone of (now as string[]).filter((id) => !(to as string[]).includes(id))) {
        await at.getByRole('button', { name: `${f.label}: take out ${gone}`, exact: true }).click();
        acts++;
      }
    } else if (f.as === 'motion' && to) {
      const { how, from, degrees } = to as NonNullable<Part['leaves']>;
      await at.getByRole('button', { name: 'Straight; say otherwise' }).first().click();
      await at.getByRole('combobox', { name: `${f.label}: how` }).selectOption(how);
      if (from) await at.getByRole('combobox', { name: `${f.label}: from` }).selectOption(from);
      acts += 3;
      if (degrees !== null) await typed(at.getByLabel(`${f.label}: degrees`), String(degrees));
    }
  }

  /** The rest of an entry, by its fields; what was drawn by the pointer is left as the hand drew it. */
  async function fill(
    group: 'parts' | 'fasteners' | 'connectors' | 'bonds' | 'latches',
    id: string,
    wanted: { id: string },
    later: readonly string[] = [],
  ): Promise<void> {
    await page.getByRole('tab', { name: 'Item' }).click();
    if (id !== wanted.id) await typed(panel().getByLabel('Id', { exact: true }), wanted.id);
    await panel().getByLabel('Id', { exact: true }).waitFor();
    const drawn = await local();
    const entry = (drawn[group] as unknown as Record<string, unknown>[]).find((e) => e.id === wanted.id)!;
    for (const f of fieldsOf(group))
      if (!later.includes(f.field))
        await setField(f, entry[f.field], (wanted as unknown as Record<string, unknown>)[f.field]);
  }

  /** The document as this page has it. */
  const local = async (): Promise<Anatomy> => {
    await saved(page);
    return (await draftAt(page.url())).document;
  };
  const selectedId = async (): Promise<string> => panel().getByLabel('Id', { exact: true }).inputValue();
  /** The id of what an act draws: another than what was selected before, once it is shown. */
  async function made(act: () => Promise<unknown>): Promise<string> {
    const shown = () =>
      panel()
        .getByLabel('Id', { exact: true })
        .evaluateAll(([box]) => (box as HTMLInputElement)?.value);
    const before = await shown();
    await act();
    await expect.poll(shown).toSatisfy((id) => id !== undefined && id !== before);
    return selectedId();
  }

  test('from rendered photographs, by pointer and keys: it plans as the original does, within 0.3 mm', async () => {
    await page.goto(`${server.url}/workshop`);
    await page.getByRole('button', { name: 'Draw a new device' }).click();
    const form = page.getByRole('form', { name: 'A new device' });
    const { body } = original;
    await form.getByLabel('Name').fill('Meadow 3');
    await form.getByLabel('Maker').fill('Tannbrook');
    for (const [label, value] of [
      ['Width', body.width],
      ['Height', body.height],
      ['Thickness', body.thickness],
      ['Corner radius', body.cornerRadius],
    ] as const)
      await typed(form.getByRole('textbox', { name: label, exact: true }), String(value));
    await form.getByRole('button', { name: 'Begin drawing' }).click();
    await page.getByTestId('board').waitFor();
    const url = page.url();

    // Photographs of the back, three depths.
    for (const layer of THOROUGH ? [1, 2, 5] : [1, 5]) {
      const photo = await photograph({
        model: modelOf(original),
        face: 'back',
        opened: layer,
        seed: 60 + layer,
        side: 1600,
        tilt: 4,
        towards: 70 * layer,
        harshness: 0.15,
      });
      await page.getByRole('link', { name: 'Lay a photograph' }).click();
      await page
        .locator('input[type=file]')
        .first()
        .setInputFiles({ name: 'back.jpg', mimeType: 'image/jpeg', buffer: photo.jpeg });
      await page.getByTestId('photo').waitFor();
      await page.getByRole('combobox', { name: 'Face' }).selectOption('back');
      await typed(page.getByLabel('Layers off'), String(layer));
      await typed(page.getByLabel('Looked at, below the rim'), '0.4');
      // The lines are laid by the keyboard and the pointer, each end a little off.
      for (const [i, [a, b]] of photo.edges.entries())
        for (const [end, p] of [
          ['a', a],
          ['b', b],
        ] as const) {
          const handle = page.locator(`[data-handle="${i}${end}"]`);
          const t = end === 'a' ? 0.2 : 0.8;
          const target: Point = [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t];
          expect(p).toBeDefined();
          const [from, to] = await page.getByTestId('photo').evaluate(
            (svg, { key, at }) => {
              const m = (svg as unknown as SVGSVGElement).getScreenCTM()!;
              const c = svg.querySelector(`[data-handle="${key}"] circle`)!;
              const [x, y] = [Number(c.getAttribute('cx')), Number(c.getAttribute('cy'))];
              return [
                [m.a * x + m.e, m.d * y + m.f],
                [m.a * at[0]! + m.e, m.d * at[1]! + m.f],
              ] as [[number, number], [number, number]];
            },
            { key: `${i}${end}`, at: target },
          );
          await page.mouse.move(...from);
          await page.mouse.down();
          await page.mouse.move(to[0] + 0.6, to[1] - 0.6, { steps: 3 });
          await page.mouse.up();
          await handle.focus();
          await page.keyboard.press('ArrowUp');
          acts += 2;
        }
      await page.getByRole('button', { name: 'Straighten it' }).click();
      const told = await page.getByTestId('survey').innerText();
      expect(Number(/corner: ([\d.]+) mm/.exec(told)![1])).toBeLessThan(0.5);
      await page.getByRole('button', { name: 'Draw on it' }).click();
      await page.getByTestId('board').waitFor();
      acts += 6;
    }

    // Functions first: parts are said to have them.
    await page.getByRole('tab', { name: 'Device' }).click();
    for (const { id, name, test: said, afterClosing } of original.functions) {
      await page.getByRole('button', { name: 'Another function' }).click();
      const made = (await local()).functions.at(-1)!;
      const added = page.getByRole('region', { name: 'Functions' }).locator('details').last();
      if ((await added.getAttribute('open')) === null) await added.locator('summary').click();
      await typed(added.getByLabel('Name', { exact: true }), name);
      await added.getByLabel('Test', { exact: true }).fill(said);
      await added.getByLabel('Test', { exact: true }).blur();
      if (afterClosing) await added.getByRole('checkbox').check();
      functionIds.set(id, made.id);
      acts += 4;
    }
    const asDrawn = <T>(entry: T): T => {
      const text = JSON.stringify(entry);
      return JSON.parse(text, (key, value: unknown) =>
        (key === 'functions' || key === 'carries' || key === 'loses') && Array.isArray(value)
          ? value.map((v) => functionIds.get(v as string) ?? v)
          : value,
      ) as T;
    };

    const faceOf = async (face: 'front' | 'back') => {
      await page.getByRole('button', { name: face === 'front' ? 'Front' : 'Back', exact: true }).click();
      acts++;
    };
    const layerTo = async (layer: number) => {
      while (
        Number(
          await page
            .locator('[data-layer] button[aria-pressed=true]')
            .first()
            .evaluate((b) => b.closest('[data-layer]')!.getAttribute('data-layer')),
        ) < layer
      ) {
        await page.keyboard.press(']');
        acts++;
        if (!(await page.locator(`[data-layer="${layer}"]`).count())) break;
      }
    };
    // Snapping is for hands; this one draws where the photograph shows it.
    for (const part of original.parts.filter((p) => !p.fixed)) {
      await faceOf(part.face === 'front' ? 'front' : 'back');
      if (part.layer > 0 && part.layer < 5) await layerTo(Math.min(part.layer, 1));
      const wanted = asDrawn(part);
      const { outline } = part;
      const id = await made(async () => {
        if ('polygon' in outline) {
          await tool('g');
          for (const p of outline.polygon) {
            await pressAt(page, hand(p));
            acts++;
          }
          await page.keyboard.press('Enter');
        } else {
          await tool('r');
          const [x, y, w, h] = boundsOf(outline);
          await drag(page, hand([x, y]), hand([x + w, y + h]));
        }
      });
      acts++;
      await fill('parts', id, wanted, ['outline', 'swing', 'pairing', 'exits', 'pryAt']);
      if ('rect' in part.outline && part.outline.radius)
        await typed(panel().getByLabel('Radius', { exact: true }), String(part.outline.radius));
    }
    await faceOf('back');
    for (const f of original.fasteners) {
      const id = await made(async () => {
        await tool('s');
        await pressAt(page, hand(f.at));
      });
      acts++;
      await fill('fasteners', id, f, ['at']);
    }
    for (const c of original.connectors) {
      const id = await made(async () => {
        await tool('p');
        // A press on the socket, another on the part.
        await pressAt(page, hand(c.at));
        const from = original.parts.find((p) => p.id === c.from)!;
        const [x, y, w, h] = boundsOf(from.outline);
        await pressAt(page, [x + w / 2, y + h / 2]);
      });
      acts += 2;
      await fill('connectors', id, asDrawn(c), ['at', 'size', 'route', 'beneath', 'under', 'liesOver', 'after']);
      const [cw, ch] = c.size;
      await typed(panel().getByLabel('Width', { exact: true }), String(cw));
      await typed(panel().getByLabel('Height', { exact: true }), String(ch));
    }
    for (const c of original.connectors) {
      if (c.beneath.length + c.under.length === 0) continue;
      await page.keyboard.press('Escape');
      await page.keyboard.press('Escape');
      await pressAt(page, c.at);
      // What lies on top of it is passed by.
      for (let i = 0; i < 6 && (await selectedId()) !== c.id; i++) await pressAt(page, c.at);
      expect(await selectedId()).toBe(c.id);
      for (const f of fieldsOf('connectors'))
        if (f.field === 'beneath' || f.field === 'under') await setField(f, [], c[f.field]);
    }
    await faceOf('front');
    const seal = original.bonds[0]!;
    await pressAt(page, [37, 80]);
    const round = await made(() => panel().getByRole('button', { name: 'Bond round it' }).click());
    await fill('bonds', round, seal, ['at', 'tabs']);
    await faceOf('back');
    await layerTo(1);
    const tack = original.bonds[1]!;
    await pressAt(page, [66, 122]);
    for (let i = 0; i < 4 && (await selectedId()) !== 'motor'; i++) await pressAt(page, [66, 122]);
    await page.keyboard.press('a');
    const [tx, ty, tw, th] = boundsOf((tack.at as { area: Outline }).area);
    const strip = await made(() => drag(page, hand([tx, ty]), hand([tx + tw, ty + th])));
    await fill('bonds', strip, tack, ['at', 'tabs']);
    for (const l of original.latches) {
      await page.getByRole('button', { name: 'Surface' }).click();
      await page.getByRole('button', { name: 'Back cover', exact: true }).click();
      await page.keyboard.press('h');
      const near: Record<string, Point> = { left: [2, 80], right: [72.6, 80], top: [37, 2], bottom: [37, 156] };
      const id = await made(() => pressAt(page, near[l.edge]!));
      acts += 3;
      await fill('latches', id, l, ['notch']);
    }
    await page.getByRole('tab', { name: 'Device' }).click();
    for (const o of original.orders) {
      await panel().getByRole('combobox', { name: 'First' }).selectOption(o.first);
      await panel().getByRole('combobox', { name: 'Then' }).selectOption(o.then);
      await panel().getByLabel('Because').fill(o.because);
      await panel().getByRole('button', { name: 'Add the order' }).click();
      acts += 4;
    }
    // They are looked for beside the page, a moment after the last edit.
    await expect
      .poll(() => page.getByTestId('faults').evaluateAll((all) => all.map((one) => one.parentElement!.textContent)))
      .toEqual([]);

    await page.getByRole('button', { name: 'Publish', exact: true }).click();
    await page.getByRole('button', { name: 'Publish revision 1' }).click();
    await page.getByText('Published as revision 1').waitFor();
    const { document } = await draftAt(url);
    let worst = 0;
    for (const f of original.fasteners) {
      const at = document.fasteners.find((g) => g.id === f.id)!.at;
      worst = Math.max(worst, Math.hypot(at[0] - f.at[0], at[1] - f.at[1]));
    }
    for (const p of original.parts) {
      const [a, b] = [boundsOf(p.outline), boundsOf(document.parts.find((q) => q.id === p.id || p.fixed)!.outline)];
      if (!p.fixed) worst = Math.max(worst, ...a.slice(0, 2).map((v, i) => Math.abs(v - b[i]!)));
    }
    expect(worst).toBeLessThan(0.3);
    // What a gate asks for are functions, which have ids of their own here.
    const itemsOf = (s: Step) => (s.do === 'gate' ? [] : s.items);
    const steps = (anatomy: Anatomy, part: string) =>
      planDive(modelOf(anatomy), { replace: [part] }).steps.map((s) => `${s.do} ${[...itemsOf(s)].sort().join(' ')}`);
    // What is tested, and switched on for it, goes by the functions that each of them lists.
    const plain = (list: string[]) => list.filter((s) => !/^(test |confirm|power-on)/.test(s));
    for (const part of ['battery', 'main-camera'])
      expect(plain(steps(document, part))).toEqual(plain(steps(original, part)));
    process.stderr.write(`drawn anew with ${acts} acts; farthest off ${worst.toFixed(2)} mm\n`);
  }, 420_000);
  const functionIds = new Map<string, string>();
});
