import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { bench } from './bench.ts';
import { agreeByWord, at, pdfText, runTo, stepNumber, stored } from './harness.ts';

let page: Page;
const { server, job } = bench((first) => {
  page = first;
});
const wells = () =>
  page
    .locator('[data-well]')
    .evaluateAll((all) => all.reduce((sum, w) => sum + Number((w.lastElementChild as HTMLElement).innerText || 0), 0));

describe('screws of a device', () => {
  it('are shown by class, with the look-alikes that do harm', async () => {
    await page.goto(`${server.url}/anatomies/velmora-quill-5/screws`);
    await page.getByRole('heading', { name: 'Look alike, and do harm when swapped' }).waitFor();
    expect(await page.getByRole('region', { name: 'Look alike, and do harm when swapped' }).innerText()).toMatch(
      /too long: bottoms out/,
    );
    await page.getByRole('button', { name: /^A in B:/ }).hover();
  });
  it('the map is a PDF at 1:1: the check bar measures 50 mm to 0.2 mm, and so does the device', async () => {
    const download = page.waitForEvent('download');
    await page.getByRole('link', { name: 'Map 1:1, A4' }).click();
    const pdf = await (await download).path();
    expect(pdfText(pdf)).toMatch(/Velmora Quill 5, front[\s\S]*this bar measures 50 mm/);
    const folder = join(server.data, 'map');
    execFileSync('pdftoppm', ['-r', '254', '-png', '-f', '1', '-l', '1', pdf, folder]);
    const png = [`${folder}-1.png`, `${folder}-01.png`].find((path) => {
      try {
        readFileSync(path);
        return true;
      } catch {
        return false;
      }
    })!;
    const { data, info } = await sharp(png).greyscale().raw().toBuffer({ resolveWithObject: true });
    // 254 dots an inch are 10 a millimetre. A4 is 210 × 297 mm.
    expect([info.width, info.height].map((v) => Math.round(v / 10))).toEqual([210, 297]);
    const dark = (x: number, y: number) => data[y * info.width + x]! < 140;
    const run = (y: number) => {
      let best = 0;
      let from = -1;
      let start = 0;
      for (let x = 0; x < info.width; x++) {
        if (dark(x, y)) {
          if (from < 0) from = x;
          if (x - from > best) {
            best = x - from;
            start = from;
          }
        } else from = -1;
      }
      return { best, start };
    };
    const bar = Math.max(...Array.from({ length: 20 }, (_, k) => run(260 + k).best));
    // From the middle of one end tick to the middle of the other; the ticks are 0.3 mm wide, and the run covers both.
    expect(Math.abs((bar + 1) / 10 - 0.3 - 50)).toBeLessThan(0.2);
    // The sides of the device at half its height: 70.4 mm apart from middle to middle of a line of 0.35 mm.
    const middle = Math.round((10 + 26 + 73) * 10);
    const columns = Array.from({ length: info.width }, (_, x) => x).filter((x) => dark(x, middle));
    expect(Math.abs((columns.at(-1)! - columns[0]! + 1) / 10 - 0.35 - 70.4)).toBeLessThan(0.2);
  });
  it('a CSV with a fault is refused by row and column, and changes nothing', async () => {
    await page.locator('input[type=file]').setInputFiles({
      name: 'f.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from(
        'id,drive,length,thread,head,holds,into,x,y,holeDepth\nb1,PH000,two,1.2,2,board,frame,36,44,3\n',
      ),
    });
    await page.getByText('row 2, column length').waitFor();
    await page.getByText(/revision 1/).waitFor();
  });
});

describe('wells in the run', () => {
  it('a tapped screw goes to its well, and Space takes the next', async () => {
    await page.goto(`${server.url}/jobs/${job('running', 'Display assembly')}/run`);
    await page.getByTestId('verb').waitFor();
    await runTo(page, at('Unscrew', 'Y000'));
    const before = await wells();
    await page.locator('[data-tap]').last().click();
    await page.waitForFunction(
      (n) =>
        [...document.querySelectorAll('[data-well]')].reduce(
          (sum, w) => sum + Number((w.lastElementChild as HTMLElement).innerText || 0),
          0,
        ) === n,
      before + 1,
    );
    await page.keyboard.press('Space');
    await page.waitForFunction(
      (n) =>
        [...document.querySelectorAll('[data-well]')].reduce(
          (sum, w) => sum + Number((w.lastElementChild as HTMLElement).innerText || 0),
          0,
        ) === n,
      before + 2,
    );
  });
  it('the plan shows the tray and what looks alike, before the first screw comes out', async () => {
    await page.goto(`${server.url}/jobs/${job('ready', 'Battery')}`);
    const section = page.getByRole('region', { name: 'Screws of this dive' });
    await section.waitFor();
    expect(await section.getByRole('img', { name: /^Tray 1: A1/ }).count()).toBe(1);
  });
});

describe('a spilt tray', () => {
  it('is measured by the simulated caliper, and goes back into the wells', async () => {
    await page.goto(`${server.url}/jobs/${job('running', 'Main camera module')}/spill`);
    await page.getByRole('button', { name: /Measure all/ }).click();
    await page.locator('[data-piece]').nth(5).waitFor();
    await page.getByRole('button', { name: /Measure all/ }).waitFor();
    expect(await page.locator('[data-piece]').count()).toBe(7);
  });
  it('from CSV: a harmful pair is held back until it is measured again', async () => {
    const made = (await (
      await fetch(`${server.url}/api/jobs`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({
          anatomy: 'velmora-quill-5',
          customer: 'Perrin Ash',
          complaint: '',
          by: 'Tobin Hask',
          replace: ['battery'],
        }),
      })
    ).json()) as { job: { id: string } };
    await page.goto(`${server.url}/jobs/${made.job.id}`);
    await agreeByWord(page);
    await page.getByRole('button', { name: 'Begin the dive' }).click();
    await page.getByTestId('verb').waitFor();
    await runTo(page, at('Unscrew', 'Y000'));
    await page.keyboard.press('Enter');
    await stored(page);
    await page.goto(`${server.url}/jobs/${made.job.id}/spill`);
    await page.getByRole('button', { name: /One piece by hand/ }).waitFor();
    const input = page.locator('input[type=file]');
    await input.setInputFiles({ name: 'bad.csv', mimeType: 'text/csv', buffer: Buffer.from('id,length\na,long\n') });
    await page.getByText('row 2, column length').waitFor();
    // p1 (1.3 mm) and p3 (1.5 mm) look alike; the longer bottoms out in the shorter's hole.
    await input.setInputFiles({
      name: 'spill.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from('id,length,head,drive\none,1.39,1.9,Y000\ntwo,2.71,1.9,Y000\n'),
    });
    const one = page.locator('[data-piece=one]');
    await one.waitFor();
    expect(await one.getAttribute('data-held')).toBe('true');
    expect(await one.innerText()).toMatch(/measure its length again/);
    expect(await page.getByRole('button', { name: 'Put them back into the wells' }).isDisabled()).toBe(true);
    // One more reading is not enough for a tenth of a millimetre; the mean of several is.
    for (let i = 0; i < 8 && (await one.getAttribute('data-held')) === 'true'; i++) {
      await page.getByRole('textbox', { name: 'length of one, mm' }).fill(`1.${29 + (i % 2)}`);
      await page.getByRole('textbox', { name: 'thread of one, mm' }).focus();
      await one.getByText(`mean of ${i + 2}`).waitFor();
    }
    expect(await one.getAttribute('data-held')).toBe('false');
    expect(await page.getByTestId('lost').innerText()).toMatch(/Not found yet/);
    await page.getByRole('button', { name: 'Put them back into the wells' }).click();
    await page.getByText(/Back in the wells, and noted/).waitFor();
  });
});

describe('torque and stock', () => {
  it('a screw is driven by the simulated driver, judged, and stands in the record', async () => {
    await page.goto(`${server.url}/jobs/${job('running', 'Main camera module')}/run`);
    await page.getByTestId('verb').waitFor();
    await runTo(page, at('Fasten'));
    const n = await stepNumber(page);
    await page.getByRole('checkbox', { name: 'Torque driver (simulated)' }).check();
    await page.keyboard.press('Space');
    await page.getByTestId('torque').waitFor();
    // The stand-in goes wrong now and then: then it is driven again until it is good.
    for (let tries = 0; tries < 12; tries++) {
      const gone = await page
        .getByTestId('torque')
        .waitFor({ state: 'detached', timeout: 2500 })
        .then(
          () => true,
          () => false,
        );
      if (gone) break;
      const again = page.getByRole('button', { name: 'Drive it again' });
      if (await again.isVisible()) await again.click();
    }
    expect(await stepNumber(page)).toBeGreaterThanOrEqual(n);
    await page.goto(page.url().replace('/run', '/record'));
    await page.getByRole('heading', { name: 'Torque' }).waitFor();
    await page.getByRole('img', { name: /Torque of \d+ screws/ }).waitFor();
  });
  it('a kit is added, and a piece counted down', async () => {
    await page.goto(`${server.url}/stock`);
    const rows = page.locator('[data-stock]');
    await rows.first().waitFor();
    const before = await rows.count();
    await page.getByRole('combobox', { name: 'Device' }).selectOption({ label: 'Karnhold Mule 4' });
    await page.getByRole('button', { name: 'Add one of each of its screws' }).click();
    await page.waitForFunction((n) => document.querySelectorAll('[data-stock]').length > n, before);
    const first = rows.first();
    const count = Number(await first.locator('b').innerText());
    await first.getByRole('button', { name: /less/ }).click();
    await page.waitForFunction(
      (n) => Number((document.querySelector('[data-stock] b') as HTMLElement).innerText) === n,
      count - 1,
    );
  });
  it('a stripped screw is offered what fits from the stock', async () => {
    await page.goto(`${server.url}/jobs/${job('running', 'Display assembly')}/run`);
    await page.getByTestId('verb').waitFor();
    await runTo(page, at('Unscrew'));
    await page.keyboard.press('d');
    await page.getByRole('radio', { name: 'Screw stripped' }).waitFor();
    await page.keyboard.type('Rounded.');
    await page.keyboard.press('Enter');
    const offer = page.getByTestId('replacement').last();
    await offer
      .getByRole('button', { name: /^Take / })
      .first()
      .click();
    await offer.getByText('Taken from the stock, and noted.').waitFor();
  });
});
