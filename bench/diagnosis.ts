import { mkdirSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { chanceOf } from '../core/explore/index.ts';
import { minutesToFind, shopDives, tallyOf } from '../demo/faultyDives.ts';
import { demoModel, DEVICES } from '../demo/models.ts';
import { shareChart } from './chart.ts';
import type { Table } from './report.ts';

const DIVES = 5000;
const SEARCHES = 900;

/** The diagnosis over a made-up shop whose dives go wrong; draws the reliability of its odds. */
export async function diagnosisBench(): Promise<Table> {
  const dives = shopDives(DEVICES.map(demoModel), 6);
  const tally = tallyOf(dives, DIVES, chanceOf(5000), 2);
  const minutes = minutesToFind(dives, SEARCHES, chanceOf(900));
  const points = tally.reliability
    .filter((b) => b.count > 0)
    .map(({ told, guilty, count }) => ({ x: told, y: guilty, count }));
  const folder = fileURLToPath(new URL('../docs/charts/', import.meta.url));
  mkdirSync(folder, { recursive: true });
  const title = 'How often a suspect is guilty, by the odds that were told';
  writeFileSync(
    `${folder}diagnosis-reliability.svg`,
    shareChart({ title, xLabel: 'odds told, %', yLabel: 'guilty, % (with how many)', points }),
  );
  const percent = (share: number) => `${(100 * share).toFixed(1)} %`;
  const back = minutes['order of the way back'];
  return {
    title: 'Diagnosis',
    note:
      `${DIVES} dives that went wrong; ${SEARCHES} searched. Aims: 90 % among the first three; 35 % fewer minutes; of each ` +
      "kind 97 % of the most that can be reached: Bayes' rule under the shop's own truth, summed over all faults and pairs.",
    columns: ['what', 'is', 'against the way back'],
    rows: [
      ['true item among the first three', percent(tally.firstThree), ''],
      ...Object.entries(tally.byDevice).map(([id, share]) => [`  ${id}`, percent(share), '']),
      ...Object.entries(tally.byKind).map(([kind, { count, three }]) => [
        `${kind} among the first three, of ${count}`,
        percent(three.ours / count),
        `${percent(three.most / count)} at most`,
      ]),
      ...Object.entries(minutes).map(([how, m]) => [`minutes, ${how}`, m.toFixed(1), percent(m / back)]),
    ],
  };
}
