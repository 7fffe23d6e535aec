import { diagnosisBench } from './diagnosis.ts';
import { divesBench, fieldBench } from './field.ts';
import { heatBench, openingBench } from './heat.ts';
import { jobsBench, planningBench } from './planning.ts';
import { backupBench } from './backup.ts';
import { bystanderBench } from './bystander.ts';
import { durabilityBench } from './durability.ts';
import { growthBench, orderBench, solverBench } from './order.ts';
import { listenersBench } from './listeners.ts';
import { paintBench } from './paint.ts';
import { assignmentBench, trayBench } from './screws.ts';
import { type Bench, printTable } from './report.ts';
import { boardBench, proposalsBench, surveyBench } from './workshop.ts';

const BENCHES: Record<string, Bench> = {
  planning: planningBench,
  jobs: jobsBench,
  order: orderBench,
  solver: solverBench,
  growth: growthBench,
  assignment: assignmentBench,
  tray: trayBench,
  heat: heatBench,
  opening: openingBench,
  durability: durabilityBench,
  bystander: bystanderBench,
  listeners: listenersBench,
  backup: backupBench,
  paint: paintBench,
  survey: surveyBench,
  proposals: proposalsBench,
  board: boardBench,
  field: fieldBench,
  dives: divesBench,
  diagnosis: diagnosisBench,
};

const asked = process.argv.slice(2);
const unknown = asked.find((name) => !(name in BENCHES));
if (unknown) {
  process.stderr.write(`there is no benchmark "${unknown}"; there are ${Object.keys(BENCHES).join(', ')}\n`);
  process.exit(2);
}
for (const [name, bench] of Object.entries(BENCHES)) {
  if (asked.length > 0 && !asked.includes(name)) continue;
  printTable(await bench());
}
