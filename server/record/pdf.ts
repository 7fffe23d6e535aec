import PDFDocument from 'pdfkit';
import { addMonths, format } from 'date-fns';
import { functionIn, ringOf } from '../../core/anatomy/index.ts';
import { tellMoney } from '../../core/counter/index.ts';
import { stepItemName, timesOf } from '../../core/dive/index.ts';
import { PAPERS, type Paper } from '../../core/paper/index.ts';
import type { Job, ShopSettings } from '../../core/jobs/index.ts';
import {
  lossesToAgree,
  priceDue,
  toProve,
  type Agreement,
  type Circumstance,
  type RunContext,
  type RunState,
} from '../../core/run/index.ts';
import { cellRows, closingRows } from './care.ts';
import { Fonts } from './fonts.ts';
import { torqueTarget } from '../../core/screws/index.ts';
import { minutes } from '../../core/units/index.ts';
import { cautionText, gateName, nameOfLoss, noteWords, tell, spoken } from '../../words/index.ts';
import { listed } from '../../core/once/index.ts';

const INK = '#1f2a2c';
const QUIET = '#59666a';
const PETROL = '#0f4c5c';
const SAND = '#c9b48a';
const MARGIN = 48;
/** Points of a millimetre (1 in = 25.4 mm = 72 pt). */
const PT = 72 / 25.4;
const PHOTOS_AT_MOST = 12;

interface Record {
  job: Job;
  context: RunContext;
  state: RunState;
  shop: Pick<ShopSettings, 'name' | 'address' | 'paper' | 'warrantyMonths' | 'disposal'> & { demo: boolean };
  /** Photographs at hand, JPEG by hash; one that is not is said to be missing. */
  photos: ReadonlyMap<string, Uint8Array>;
}

/** Where the device stood when it was tested. */
const WHERE: { [where in Circumstance]: string } = {
  intake: 'at intake',
  tried: 'tried only',
  open: 'open, before closing',
  closed: 'closed',
};

const when = (iso: string | null) => (iso ? format(new Date(iso), 'd MMM yyyy, HH:mm') : '—');

/** What the customer takes home: what was done, renewed, counted, tested and agreed. PDF bytes. */
export async function recordPdf(record: Record): Promise<Buffer> {
  const { job, shop } = record;
  const doc = new PDFDocument({
    size: [PAPERS[shop.paper].width * PT, PAPERS[shop.paper].height * PT],
    margin: MARGIN,
    bufferPages: true,
    info: { Title: `Repair record ${job.number}`, Author: shop.name, Creator: 'Nibrel' },
  });
  const chunks: Buffer[] = [];
  const ended = new Promise<Buffer>((resolve) => {
    doc.on('data', (chunk: Buffer) => chunks.push(chunk));
    doc.on('end', () => resolve(Buffer.concat(chunks)));
  });
  const sheet = new Sheet(doc, shop.paper);
  forCustomer(sheet, record);
  doc.addPage();
  title(sheet, record);
  for (const section of SECTIONS) section(sheet, record);
  feet(sheet, record);
  doc.end();
  return ended;
}

/** The sections of a record, in the order in which they are read. */
const SECTIONS = [
  device,
  renewed,
  joints,
  lengths,
  torques,
  heats,
  tests,
  closedAndCells,
  deviations,
  losses,
  times,
  gates,
  notes,
  pictures,
  closing,
];

/** Pages that are written from top to bottom. */
class Sheet {
  readonly fonts: Fonts;
  /** Points. */
  readonly page: { width: number; height: number };
  readonly width: number;

  constructor(
    readonly doc: PDFKit.PDFDocument,
    paper: Paper,
  ) {
    this.fonts = new Fonts(doc);
    this.page = { width: PAPERS[paper].width * PT, height: PAPERS[paper].height * PT };
    this.width = this.page.width - 2 * MARGIN;
  }

  room(height: number): void {
    if (this.doc.y + height > this.page.height - MARGIN - 20) this.doc.addPage();
  }

  heading(text: string): void {
    this.room(60);
    this.doc.moveDown(0.9).font('bold').fontSize(12).fillColor(PETROL).text(text, MARGIN);
    this.doc
      .moveTo(MARGIN, this.doc.y + 2)
      .lineTo(MARGIN + this.width, this.doc.y + 2)
      .lineWidth(0.6)
      .strokeColor(SAND)
      .stroke();
    this.doc.y += 7;
    this.doc.font('sans').fontSize(9.5).fillColor(INK);
  }

  row(left: string, right: string, mono = false): void {
    this.doc.font('sans').fontSize(9.5);
    const face = mono ? 'mono' : 'sans';
    const height = Math.max(
      this.fonts.heightOf(left, 'sans', this.width * 0.36),
      this.fonts.heightOf(right, face, this.width * 0.62),
    );
    this.room(height + 3);
    const { y } = this.doc;
    this.doc.fillColor(QUIET);
    this.fonts.write(left, 'sans', MARGIN, y, { width: this.width * 0.36 });
    this.doc.fillColor(INK);
    this.fonts.write(right, face, MARGIN + this.width * 0.38, y, { width: this.width * 0.62 });
    this.doc.y = y + height + 3;
    this.doc.x = MARGIN;
  }

  line(text: string): void {
    this.doc.font('sans').fontSize(9.5).fillColor(INK);
    this.room(this.fonts.heightOf(text, 'sans', this.width) + 3);
    this.fonts.write(text, 'sans', MARGIN, this.doc.y, { width: this.width });
    this.doc.y += 2;
  }
}

/** What a customer wants to know, on one page: what was done, what works, what was agreed, and what to do from now on. */
function forCustomer(sheet: Sheet, record: Record): void {
  const { doc, fonts } = sheet;
  const { job, shop, context, state } = record;
  const { model, plan } = context;
  doc.font('bold').fontSize(21).fillColor(INK);
  fonts.write(`${model.anatomy.maker} ${model.anatomy.name}`.trim(), 'bold', MARGIN, MARGIN, {
    width: sheet.width - 80,
  });
  doc.font('sans').fontSize(10.5).fillColor(QUIET);
  fonts.write(`${shop.name} · job ${job.number} · ${job.customer}`, 'sans', MARGIN, doc.y, { width: sheet.width - 80 });
  if (shop.demo) doc.fontSize(9).text('Demonstration with made-up data: shop, device and people are invented.');
  drawDevice(doc, record, sheet.page.width - MARGIN - 62, MARGIN, 62);
  doc.y = Math.max(doc.y, MARGIN + 66);
  doc.x = MARGIN;

  sheet.heading('What was done');
  sheet.row('You told us', job.complaint || '—');
  for (const id of plan.replace) sheet.row('New', model.nameOf(id));
  const seals = plan.renew.filter((id) => model.bonds.has(id));
  if (seals.length > 0) sheet.row('New adhesive and seals', seals.map((id) => model.nameOf(id)).join(', '));
  for (const look of state.looks.filter((l) => l.found !== null))
    sheet.row(
      'Found and put right',
      `${model.items.has(look.item) ? model.nameOf(look.item) : look.item}: ${spoken.causes[look.found!]}`,
    );
  const due = priceDue(state);
  const currency = state.agreed?.signed?.terms.currency ?? state.counter.quote?.quote.currency;
  if (due && currency)
    sheet.row('Price', `${tellMoney(due.sum, currency)}, tax included${due.agreed ? ', as agreed' : ''}`, true);

  beforeAndAfter(sheet, record);

  if (plan.losses.length > 0) {
    sheet.heading('What it cost in functions, as agreed');
    for (const id of new Set(plan.losses.map((l) => l.function)))
      sheet.row(nameOfLoss(model, id), tell(model, plan.losses.find((l) => l.function === id)!.remedy) || '—');
    if (state.agreed?.signed) sheet.line(`Signed on ${when(state.agreed.at)}.`);
  }

  sheet.heading('From now on');
  if (seals.length > 0)
    sheet.line('New adhesive sets for a day: keep it dry, cool and unbent, and put nothing heavy on it.');
  if (plan.losses.some((l) => l.function === 'moisture-rating')) sheet.line(cautionText('moisture'));
  if (state.signedOff && shop.warrantyMonths > 0)
    sheet.line(
      `The shop answers for this work until ${format(addMonths(new Date(state.signedOff.at), shop.warrantyMonths), 'd MMM yyyy')}. ` +
        'If something that was tested fails, bring this page.',
    );
  if (plan.replace.some((id) => model.parts.get(id)?.kind === 'battery') && shop.disposal) sheet.line(shop.disposal);
  if (state.counter.collected)
    sheet.row('Collected', `${when(state.counter.collected.at)}, by ${state.counter.collected.name}`);
  firstAndLast(sheet, record);
}

const OUTCOME_WORDS = { pass: 'works', fail: 'fails', waived: 'not tested' } as const;

/** What worked when it came in, and what works now, for everything that was tried or touched. */
function beforeAndAfter(sheet: Sheet, { context, state }: Record): void {
  const asked = toProve(context, state);
  const all = context.model.anatomy.functions.filter((f) => asked.includes(f.id) || state.before.has(f.id));
  if (all.length === 0) return;
  sheet.heading('Before and after');
  const told = all.map((f) => {
    const before = state.before.get(f.id);
    const after = state.tests.get(f.id);
    const words = [
      before ? `${OUTCOME_WORDS[before.outcome]} before` : '',
      after ? `${OUTCOME_WORDS[after.outcome]} now` : 'not tested since',
    ];
    const works = after?.outcome === 'pass' && (!before || before.outcome === 'pass');
    return { name: f.name, works, words: words.filter(Boolean).join(', ') };
  });
  // What is the same with all of them is said once; what is not stands by itself.
  const good = told.filter((t) => t.works);
  if (good.length > 0) sheet.row('Works', good.map((t) => t.name).join(', '));
  for (const t of told.filter((t) => !good.includes(t))) sheet.row(t.name, t.words);
}

/** How it came in and how it left, in a picture each. */
function firstAndLast(sheet: Sheet, { state, photos }: Record): void {
  const shown = [state.photos[0], state.photos.at(-1)].filter((p, i, all) => p && (i === 0 || p !== all[0]));
  const there = shown.flatMap((p) => (p && photos.has(p.photo) ? [photos.get(p.photo)!] : []));
  if (there.length === 0) return;
  const size = 120;
  sheet.room(size + 10);
  const { y } = sheet.doc;
  there.forEach((bytes, i) =>
    sheet.doc.image(Buffer.from(bytes), MARGIN + i * (size + 12), y + 6, { fit: [size, size] }),
  );
  sheet.doc.y = y + size + 12;
}

/** The head of the first technical page, with the device drawn small. */
function title(sheet: Sheet, record: Record): void {
  const { doc } = sheet;
  const { job, shop } = record;
  doc.font('bold').fontSize(21).fillColor(INK).text('Repair record', MARGIN, MARGIN);
  doc.font('sans').fontSize(10.5).fillColor(QUIET);
  sheet.fonts.write(`${shop.name} · job ${job.number}`, 'sans', MARGIN, doc.y);
  if (shop.address) sheet.fonts.write(shop.address, 'sans', MARGIN, doc.y);
  if (shop.demo) doc.fontSize(9).text('Demonstration with made-up data: shop, device and people are invented.');
  drawDevice(doc, record, sheet.page.width - MARGIN - 62, MARGIN, 62);
  doc.y = Math.max(doc.y, MARGIN + 62);
  doc.x = MARGIN;
}

/** What it is, whose, and when. */
function device(sheet: Sheet, record: Record): void {
  const { job, context, state } = record;
  const { model } = context;
  const { anatomy } = model;
  sheet.heading('Device');
  sheet.row('Device', `${anatomy.maker} ${anatomy.name}`);
  sheet.row('Customer', job.customer);
  sheet.row('Complaint', job.complaint || '—');
  sheet.row(
    'Outside condition',
    [job.outside, job.crackedGlass ? 'glass cracked' : ''].filter(Boolean).join('; ') || '—',
  );
  sheet.row('Taken in', when(job.createdAt));
  sheet.row('Opened', when(state.startedAt));
  sheet.row(
    'Signed off',
    state.signedOff ? `${when(state.signedOff.at)}, signed ${state.signedOff.name}` : 'not signed off yet',
  );
}

/** What was exchanged and moved. */
function renewed(sheet: Sheet, record: Record): void {
  const { context } = record;
  const { model, plan } = context;
  const { anatomy } = model;
  sheet.heading('Replaced and renewed');
  for (const id of plan.replace) {
    const spare = anatomy.spares.find((s) => plan.spares.includes(s.id) && s.replaces === id);
    sheet.row('Replaced', `${model.nameOf(id)}${spare ? ` (${spare.name})` : ''}`);
  }
  for (const id of plan.renew.filter((r) => !plan.replace.includes(r))) sheet.row('Renewed', model.nameOf(id));
  for (const t of plan.transfers) sheet.row('Moved to the spare', model.nameOf(t.part));
}

/** Screws and connectors. */
function joints(sheet: Sheet, record: Record): void {
  const { context, state } = record;
  const { model, plan } = context;
  sheet.heading('Screws and connectors');
  const absent = [...state.device.absent];
  sheet.row('Screws out', String(state.screwsOut.size), true);
  sheet.row('Screws in', String(state.screwsIn.size), true);
  if (absent.length > 0)
    sheet.row('Accounted for', absent.map((id) => (model.items.has(id) ? model.nameOf(id) : id)).join(', '));
  sheet.row(
    'Connectors opened and seated',
    `${plan.totals.connectors}${state.device.open.size > 0 ? `, ${state.device.open.size} still open` : ''}`,
    true,
  );
}

/** Screws that nobody had measured before, and what they were. */
function lengths(sheet: Sheet, { context, state }: Record): void {
  const unknown = context.model.anatomy.fasteners.filter((f) => f.length === null && state.screwsOut.has(f.id));
  if (unknown.length === 0) return;
  sheet.heading('Lengths of screws');
  for (const f of unknown) {
    const length = state.measured.get(f.id);
    sheet.row(
      f.id,
      length === undefined ? 'not known: nobody measured it' : `${length} mm, measured on this job`,
      true,
    );
  }
}

/** What the torque driver said. */
function torques(sheet: Sheet, record: Record): void {
  const { context, state } = record;
  const { model } = context;
  if (state.torques.length > 0) {
    sheet.heading('Torque');
    for (const { fastener, peak, verdict, accepted } of state.torques) {
      const screw = model.fasteners.get(fastener);
      const target = screw ? `, target ${torqueTarget(screw).target}` : '';
      sheet.row(fastener, `${peak} N·cm${target}, ${verdict}${accepted ? '' : ', driven again'}`, true);
    }
  }
}

/** What the thermometers said. */
function heats(sheet: Sheet, record: Record): void {
  const { state } = record;
  const places = listed(
    state.readings.flatMap(({ heated, value }) => {
      if (!heated) return [];
      const step = state.context.steps.get(heated.step);
      return [[`${step ? `Step ${step.n}` : 'A step of a plan of before'}, ${heated.at}`, value] as const];
    }),
  );
  if (places.size === 0) return;
  sheet.heading('Heat, by thermometer');
  for (const [place, values] of places)
    sheet.row(place, `up to ${Math.max(...values).toFixed(1)} °C, ${values.length} readings`, true);
}

/** Every function that was to be proved. */
function tests(sheet: Sheet, record: Record): void {
  const { context, state } = record;
  const { anatomy } = context.model;
  sheet.heading('Tests');
  for (const id of toProve(context, state)) {
    const f = functionIn(anatomy, id);
    const result = state.tests.get(id);
    const outcome = result ? { pass: 'passed', fail: 'FAILED', waived: 'waived' }[result.outcome] : 'not tested';
    const before = state.before.get(id);
    const told = [
      `${outcome}${result ? `, ${WHERE[result.circumstance]}` : ''}${result?.reason ? `: ${result.reason}` : ''}`,
      ...(before ? [`at intake ${before.outcome === 'pass' ? 'passed' : before.outcome}`] : []),
    ];
    sheet.row(f.name, told.join('; '));
  }
}

/** What was not as drawn. */
function deviations(sheet: Sheet, record: Record): void {
  const { context, state } = record;
  const { model } = context;
  sheet.heading('Deviations');
  if (state.deviations.length === 0) sheet.line('None: the device was as drawn.');
  for (const d of state.deviations)
    sheet.row(
      `${d.item === null ? 'Device' : model.items.has(d.item) ? model.nameOf(d.item) : d.item}: ${d.kind}`,
      d.note || '—',
    );
}

/** How it was closed, and what is known of its cells, where any of it was recorded. */
function closedAndCells(sheet: Sheet, { context, state }: Record): void {
  for (const [title, rows] of [
    ['Closing', closingRows(context, state)],
    ['Cells', cellRows(context, state)],
  ] as const) {
    if (rows.length === 0) continue;
    sheet.heading(title);
    for (const [label, words] of rows) sheet.row(label, words);
  }
}

/** Signed, or by whose word, and when. */
const agreedWords = ({ signed, spoken, at }: Agreement): string =>
  signed
    ? `Signed ${when(at)}`
    : spoken
      ? `Said by ${spoken.word}, ${when(spoken.said)},`
      : `Agreed ${when(at)}, whose word it was is not recorded,`;

/** What it cost, and who agreed. */
function losses(sheet: Sheet, record: Record): void {
  const { context, state } = record;
  const { model, plan } = context;
  sheet.heading('Losses agreed before opening');
  if (plan.losses.length === 0) sheet.line('None.');
  for (const loss of plan.losses) {
    sheet.row(nameOfLoss(model, loss.function), `${tell(model, loss.because)}. ${tell(model, loss.remedy)}`);
  }
  if (plan.losses.length > 0)
    sheet.line(
      state.agreed
        ? `${agreedWords(state.agreed)} for version ${state.agreed.version} of the plan, taken by ${state.agreed.by}.`
        : 'Not recorded as agreed.',
    );
  for (const id of lossesToAgree(state)) sheet.row('Not agreed', nameOfLoss(model, id));
}

/** Planned and taken. */
function times(sheet: Sheet, record: Record): void {
  const { context, state } = record;
  const { model, plan } = context;
  sheet.heading('Times');
  sheet.row('On the bench', minutes(state.elapsed));
  if (state.backwards > 0)
    sheet.row('Clock', `${state.backwards} times stand before the one before them; they are not counted`);
  sheet.row('Planned', `${minutes(timesOf(plan).work)} of work, ${minutes(timesOf(plan).idle)} of waiting`);
  for (const timer of state.timers.values()) {
    const step = context.steps.get(timer.step);
    if (!step) continue;
    const items = step.items.map((id) => stepItemName(model, step, id)).join(', ');
    sheet.row(
      `${step.do} ${items}`,
      timer.endedAt
        ? `${minutes(timer.seconds)} planned, ended by ` +
            `${timer.how === 'thermometer' ? 'the thermometer' : 'hand'}${timer.reason ? `: ${timer.reason}` : ''}`
        : `${minutes(timer.seconds)}, run to its end`,
    );
  }
}

/** Gates. */
function gates(sheet: Sheet, record: Record): void {
  const { context, state } = record;
  const { plan } = context;
  sheet.heading('Gates');
  for (const step of plan.steps.filter((s) => s.gate)) {
    const gate = state.gates.get(step.id);
    sheet.row(
      `${step.gate} ${gateName(step.gate!)}, step ${step.n}`,
      gate
        ? `${gate.outcome}, ${when(gate.at)}${gate.blocked ? `: ${tell(context.model, gate.blocked)}` : gate.reason ? `: ${gate.reason}` : ''}`
        : 'not reached',
    );
  }
}

/** Notes, and trials in between. */
function notes(sheet: Sheet, record: Record): void {
  const { context, state } = record;
  if (state.notes.length > 0) {
    sheet.heading('Notes');
    for (const note of state.notes)
      sheet.row(
        `${when(note.at)}${note.step && context.steps.has(note.step) ? `, step ${context.steps.get(note.step)!.n}` : ''}`,
        noteWords(context.model, note),
      );
  }
  if (state.trials.length > 0) {
    sheet.heading('Tried in between');
    for (const trial of state.trials) {
      const step = trial.standing === null ? undefined : context.steps.get(trial.standing);
      const came = trial.worked ? 'it worked' : 'it did not work';
      sheet.row(
        `${when(trial.at)}${step ? `, before step ${step.n}` : ''}`,
        [came, trial.note].filter(Boolean).join(': '),
      );
    }
  }
}

/** The photographs, small. */
function pictures(sheet: Sheet, record: Record): void {
  if (record.state.photos.length === 0) return;
  sheet.heading('Photographs');
  photographs(sheet, record);
}

/** Good to know. */
function closing(sheet: Sheet, record: Record): void {
  const { context } = record;
  const { plan } = context;
  sheet.heading('Good to know');
  if (plan.losses.some((l) => l.function === 'moisture-rating')) sheet.line(cautionText('moisture'));
  sheet.line('Keep the device dry and cool on its first day. If a tested function fails, bring this record with it.');

  const lacking = sheet.fonts.said();
  if (lacking) sheet.line(lacking);
}

/** The foot of every page, once it is known how many there are. */
function feet(sheet: Sheet, { job, shop }: Record): void {
  const { doc } = sheet;
  const pages = doc.bufferedPageRange();
  for (let i = 0; i < pages.count; i++) {
    doc.switchToPage(i);
    doc.page.margins.bottom = 0;
    doc.font('sans').fontSize(8).fillColor(QUIET);
    const foot = `${shop.name} · job ${job.number} · page ${i + 1} of ${pages.count}`;
    sheet.fonts.write(
      foot,
      'sans',
      (sheet.page.width - sheet.fonts.widthOf(foot, 'sans')) / 2,
      sheet.page.height - 34,
      {
        lineBreak: false,
      },
    );
  }
}

/** The device from the front, with what was replaced filled in. */
function drawDevice(doc: PDFKit.PDFDocument, { context }: Record, x: number, y: number, height: number): void {
  const { model, plan } = context;
  const { body } = model.anatomy;
  const k = height / body.height;
  doc.save().translate(x, y).scale(k);
  doc
    .roundedRect(0, 0, body.width, body.height, body.cornerRadius)
    .lineWidth(0.8 / k)
    .strokeColor(PETROL)
    .stroke();
  for (const id of plan.replace) {
    const ring = ringOf(model.parts.get(id)!.outline);
    doc
      .polygon(...ring.map(([px, py]) => [px, py] as [number, number]))
      .fillOpacity(0.55)
      .fill(SAND)
      .fillOpacity(1);
  }
  doc.restore();
}

function photographs(sheet: Sheet, { state, photos, context }: Record): void {
  const { doc, fonts } = sheet;
  const across = 3;
  const gap = 10;
  const size = (sheet.width - gap * (across - 1)) / across;
  const shown = state.photos.slice(0, PHOTOS_AT_MOST);
  for (let i = 0; i < shown.length; i += across) {
    sheet.room(size + 22);
    const y = doc.y;
    for (const [j, p] of shown.slice(i, i + across).entries()) {
      const x = MARGIN + j * (size + gap);
      const bytes = photos.get(p.photo);
      const n = p.step === null ? undefined : context.steps.get(p.step)?.n;
      if (bytes) doc.image(Buffer.from(bytes), x, y, { fit: [size, size - 14], align: 'center', valign: 'center' });
      else
        doc
          .fontSize(8)
          .fillColor(QUIET)
          .text('this photograph is missing', x, y + size / 2, { width: size, align: 'center' });
      doc.font('sans').fontSize(8).fillColor(QUIET);
      fonts.write(n ? `step ${n}` : p.note, 'sans', x, y + size - 10, { width: size, lineBreak: false });
    }
    doc.y = y + size + 8;
    doc.x = MARGIN;
  }
  if (state.photos.length > shown.length)
    doc.fontSize(8.5).text(`${state.photos.length - shown.length} more are kept with the job.`);
}
