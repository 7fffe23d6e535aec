import PDFDocument from 'pdfkit';
import { format } from 'date-fns';
import { ringOf } from '../../core/anatomy/index.ts';
import { CAUTIONS, stepItemName } from '../../core/dive/index.ts';
import type { Job, ShopSettings } from '../../core/jobs/index.ts';
import { GATE_NAMES, lossesToAgree, type Circumstance, type RunContext, type RunState } from '../../core/run/index.ts';
import { Fonts } from './fonts.ts';
import { torqueTarget } from '../../core/screws/index.ts';
import { minutes } from '../../core/units/index.ts';

const INK = '#1f2a2c';
const QUIET = '#59666a';
const PETROL = '#0f4c5c';
const SAND = '#c9b48a';
const MARGIN = 48;
/** A4 in points (ISO 216: 210 × 297 mm). */
const PAGE = { width: 595.28, height: 841.89 };
const PHOTOS_AT_MOST = 12;

interface Record {
  job: Job;
  context: RunContext;
  state: RunState;
  shop: Pick<ShopSettings, 'name' | 'address'> & { demo: boolean };
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
  const { job, context, state, shop } = record;
  const { model, plan } = context;
  const { anatomy } = model;
  const doc = new PDFDocument({
    size: 'A4',
    margin: MARGIN,
    bufferPages: true,
    info: { Title: `Repair record ${job.number}`, Author: shop.name, Creator: 'Nibrel' },
  });
  const chunks: Buffer[] = [];
  const ended = new Promise<Buffer>((resolve) => {
    doc.on('data', (chunk: Buffer) => chunks.push(chunk));
    doc.on('end', () => resolve(Buffer.concat(chunks)));
  });
  const fonts = new Fonts(doc);
  const width = PAGE.width - 2 * MARGIN;

  const room = (height: number) => {
    if (doc.y + height > PAGE.height - MARGIN - 20) doc.addPage();
  };
  const heading = (text: string) => {
    room(60);
    doc.moveDown(0.9).font('bold').fontSize(12).fillColor(PETROL).text(text, MARGIN);
    doc
      .moveTo(MARGIN, doc.y + 2)
      .lineTo(MARGIN + width, doc.y + 2)
      .lineWidth(0.6)
      .strokeColor(SAND)
      .stroke();
    doc.y += 7;
    doc.font('sans').fontSize(9.5).fillColor(INK);
  };
  const row = (left: string, right: string, mono = false) => {
    doc.font('sans').fontSize(9.5);
    const face = mono ? 'mono' : 'sans';
    const height = Math.max(fonts.heightOf(left, 'sans', width * 0.36), fonts.heightOf(right, face, width * 0.62));
    room(height + 3);
    const { y } = doc;
    doc.fillColor(QUIET);
    fonts.write(left, 'sans', MARGIN, y, { width: width * 0.36 });
    doc.fillColor(INK);
    fonts.write(right, face, MARGIN + width * 0.38, y, { width: width * 0.62 });
    doc.y = y + height + 3;
    doc.x = MARGIN;
  };
  const line = (text: string) => {
    doc.font('sans').fontSize(9.5).fillColor(INK);
    room(fonts.heightOf(text, 'sans', width) + 3);
    fonts.write(text, 'sans', MARGIN, doc.y, { width });
    doc.y += 2;
  };

  doc.font('bold').fontSize(21).fillColor(INK).text('Repair record', MARGIN, MARGIN);
  doc.font('sans').fontSize(10.5).fillColor(QUIET);
  fonts.write(`${shop.name} · job ${job.number}`, 'sans', MARGIN, doc.y);
  if (shop.address) fonts.write(shop.address, 'sans', MARGIN, doc.y);
  if (shop.demo) doc.fontSize(9).text('Demonstration with made-up data: shop, device and people are invented.');
  drawDevice(doc, record, PAGE.width - MARGIN - 62, MARGIN, 62);
  doc.y = Math.max(doc.y, MARGIN + 62);
  doc.x = MARGIN;

  heading('Device');
  row('Device', `${anatomy.maker} ${anatomy.name}`);
  row('Customer', job.customer);
  row('Complaint', job.complaint || '—');
  row('Outside condition', [job.outside, job.crackedGlass ? 'glass cracked' : ''].filter(Boolean).join('; ') || '—');
  row('Taken in', when(job.createdAt));
  row('Opened', when(state.startedAt));
  row(
    'Handed over',
    state.signedOff ? `${when(state.signedOff.at)}, signed ${state.signedOff.name}` : 'not signed off yet',
  );

  heading('Replaced and renewed');
  for (const id of plan.replace) {
    const spare = anatomy.spares.find((s) => plan.spares.includes(s.id) && s.replaces === id);
    row('Replaced', `${model.nameOf(id)}${spare ? ` (${spare.name})` : ''}`);
  }
  for (const id of plan.renew.filter((r) => !plan.replace.includes(r))) row('Renewed', model.nameOf(id));
  for (const t of plan.transfers) row('Moved to the spare', model.nameOf(t.part));

  heading('Screws and connectors');
  const absent = [...state.device.absent];
  row('Screws out', String(state.screwsOut.size), true);
  row('Screws in', String(state.screwsIn.size), true);
  if (absent.length > 0)
    row('Accounted for', absent.map((id) => (model.items.has(id) ? model.nameOf(id) : id)).join(', '));
  row(
    'Connectors opened and seated',
    `${plan.totals.connectors}${state.device.open.size > 0 ? `, ${state.device.open.size} still open` : ''}`,
    true,
  );

  if (state.torques.length > 0) {
    heading('Torque');
    for (const { fastener, peak, verdict, accepted } of state.torques) {
      const screw = model.fasteners.get(fastener);
      const target = screw ? `, target ${torqueTarget(screw).target}` : '';
      row(fastener, `${peak} N·cm${target}, ${verdict}${accepted ? '' : ', driven again'}`, true);
    }
  }

  const heats = state.readings.filter((r) => r.sensor.startsWith('heat step '));
  if (heats.length > 0) {
    heading('Heat, by thermometer');
    for (const sensor of new Set(heats.map((r) => r.sensor))) {
      const values = heats.filter((r) => r.sensor === sensor).map((r) => r.value);
      row(
        sensor.replace('heat step', 'Step'),
        `up to ${Math.max(...values).toFixed(1)} °C, ${values.length} readings`,
        true,
      );
    }
  }

  heading('Tests');
  for (const id of plan.touched) {
    const f = anatomy.functions.find((x) => x.id === id)!;
    const result = state.tests.get(id);
    const outcome = result ? { pass: 'passed', fail: 'FAILED', waived: 'waived' }[result.outcome] : 'not tested';
    const before = state.before.get(id);
    const told = [
      `${outcome}${result ? `, ${WHERE[result.circumstance]}` : ''}${result?.reason ? `: ${result.reason}` : ''}`,
      ...(before ? [`at intake ${before.outcome === 'pass' ? 'passed' : before.outcome}`] : []),
    ];
    row(f.name, told.join('; '));
  }

  heading('Deviations');
  if (state.deviations.length === 0) line('None: the device was as drawn.');
  for (const d of state.deviations)
    row(
      `${d.item === null ? 'Device' : model.items.has(d.item) ? model.nameOf(d.item) : d.item}: ${d.kind}`,
      d.note || '—',
    );

  heading('Losses agreed before opening');
  if (plan.losses.length === 0) line('None.');
  for (const loss of plan.losses) {
    const name =
      anatomy.functions.find((f) => f.id === loss.function)?.name ??
      { 'moisture-rating': 'Moisture rating', data: 'Data' }[loss.function] ??
      loss.function;
    row(name, `${loss.because}. ${loss.remedy}`);
  }
  if (plan.losses.length > 0)
    line(
      state.agreed
        ? `Agreed ${when(state.agreed.at)} for version ${state.agreed.version} of the plan, taken by ${state.agreed.by}.`
        : 'Not recorded as agreed.',
    );
  for (const id of lossesToAgree(state)) row('Not agreed', id);

  heading('Times');
  row('On the bench', minutes(state.elapsed));
  if (state.backwards > 0)
    row('Clock', `${state.backwards} times stand before the one before them; they are not counted`);
  row('Planned', `${minutes(plan.totals.hands)} of work, ${minutes(plan.totals.idle)} of waiting`);
  for (const timer of state.timers.values()) {
    const step = context.steps.get(timer.step);
    if (!step) continue;
    const items = step.items.map((id) => stepItemName(model, step, id)).join(', ');
    row(
      `${step.do} ${items}`,
      timer.endedAt
        ? `${minutes(timer.seconds)} planned, ended by ` +
            `${timer.how === 'thermometer' ? 'the thermometer' : 'hand'}${timer.reason ? `: ${timer.reason}` : ''}`
        : `${minutes(timer.seconds)}, run to its end`,
    );
  }

  heading('Gates');
  for (const step of plan.steps.filter((s) => s.gate)) {
    const gate = state.gates.get(step.id);
    row(
      `${step.gate} ${GATE_NAMES[step.gate!]}, step ${step.n}`,
      gate ? `${gate.outcome}, ${when(gate.at)}${gate.reason ? `: ${gate.reason}` : ''}` : 'not reached',
    );
  }

  if (state.notes.length > 0) {
    heading('Notes');
    for (const note of state.notes)
      row(
        `${when(note.at)}${note.step && context.steps.has(note.step) ? `, step ${context.steps.get(note.step)!.n}` : ''}`,
        note.text,
      );
  }
  if (state.photos.length > 0) {
    heading('Photographs');
    photographs(doc, record, room, fonts);
  }
  heading('Good to know');
  if (plan.losses.some((l) => l.function === 'moisture-rating')) line(CAUTIONS.moisture);
  line('Keep the device dry and cool on its first day. If a tested function fails, bring this record with it.');

  const lacking = fonts.said();
  if (lacking) line(lacking);

  const pages = doc.bufferedPageRange();
  for (let i = 0; i < pages.count; i++) {
    doc.switchToPage(i);
    doc.page.margins.bottom = 0;
    doc.font('sans').fontSize(8).fillColor(QUIET);
    const foot = `${shop.name} · job ${job.number} · page ${i + 1} of ${pages.count}`;
    fonts.write(foot, 'sans', (PAGE.width - fonts.widthOf(foot, 'sans')) / 2, PAGE.height - 34, { lineBreak: false });
  }
  doc.end();
  return ended;
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

function photographs(
  doc: PDFKit.PDFDocument,
  { state, photos, context }: Record,
  room: (height: number) => void,
  fonts: Fonts,
): void {
  const across = 3;
  const gap = 10;
  const size = (PAGE.width - 2 * MARGIN - gap * (across - 1)) / across;
  const shown = state.photos.slice(0, PHOTOS_AT_MOST);
  for (let i = 0; i < shown.length; i += across) {
    room(size + 22);
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
