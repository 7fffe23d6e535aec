import { functionIn } from '../../core/anatomy/index.ts';
import { stepItemName } from '../../core/dive/index.ts';
import { CIRCUMSTANCES, type Circumstance, type RunContext, type RunEvent } from '../../core/run/index.ts';
import { SKIPPED } from '../../core/learn/index.ts';
import { groupedImei, MARKS, REGISTER_WORDS, tellMoney, type RegisterQuestion } from '../../core/counter/index.ts';
import { CHECKS, SYMPTOMS } from '../../core/diagnosis/index.ts';
import { minutes } from '../../core/units/index.ts';
import { noteWords, tell, whyWords, spoken } from '../../words/index.ts';

export const CIRCUMSTANCE_WORDS: Record<Circumstance, string> = {
  intake: 'at intake',
  tried: 'tried',
  open: 'open, before closing',
  closed: 'closed',
};

type Of<T extends RunEvent['type']> = RunEvent & { type: T };

const lossesOf = ({ length }: readonly string[]): string => `${length} ${length === 1 ? 'loss' : 'losses'}`;

/** An event in words, as it stands in the record. Steps of an older plan are told by their work. */
export function tellEvent({ model, steps }: RunContext, e: RunEvent): string {
  const item = (id: string) => (model.items.has(id) ? model.nameOf(id) : id);
  const stepWords = (id: string) => {
    const s = steps.get(id);
    if (!s) return id.replace(/[.~].*$/, '').replaceAll('-', ' ');
    const items = s.items.slice(0, 3).map((i) => stepItemName(model, s, i));
    return `${s.n}. ${s.gate ?? spoken.verbs[s.do]} ${items.join(', ')}`;
  };
  const because = (reason: string) => (reason ? `: ${reason}` : '');
  const limitOf = (s: Of<'agreed'>) => (s.limit === null ? 'no limit' : `at most ${tellMoney(s.limit, s.currency)}`);
  const cellOf = (c: Of<'cell-measured' | 'cell-seen' | 'cell-boxed'>) =>
    `${c.of === 'new' ? 'New' : 'Old'} cell of ${item(c.cell)}`;
  const marksOf = (marks: Of<'cell-seen'>['marks']) => marks.map((m) => spoken.marks[m]).join(', ') || 'no mark';
  const half = (value: number | null) => (value ? ` ± ${value}` : '');
  const simulated = (t: Of<'leak-tested'>) => (t.simulated ? ' (simulated tester)' : '');
  const stageOf = (s: Of<'transplant-step'>) =>
    `${s.good ? 'as it must be' : 'ended'}${s.value === null ? '' : `, ${s.value}`}`;
  switch (e.type) {
    case 'step-done':
      return `Done: ${stepWords(e.step)}`;
    case 'step-left':
      return `Left for now: ${stepWords(e.step)}`;
    case 'step-undone':
      return `Taken back: ${e.item ? item(e.item) : stepWords(e.step)}`;
    case 'screw-out':
      return `${item(e.fastener)} out${e.well ? `, well ${e.well}` : ', loose'}`;
    case 'screw-in':
      return `${item(e.fastener)} in`;
    case 'connector-opened':
      return `${item(e.connector)} opened`;
    case 'connector-seated':
      return `${item(e.connector)} seated`;
    case 'deviation': {
      const value = e.value == null ? '' : ` ${e.value} ${e.kind === 'overheated' ? '°C' : 'mm'}.`;
      return `${e.item ? item(e.item) : 'Device'}: ${spoken.deviations[e.kind]}.${value} ${e.note}`;
    }
    case 'gate':
      return `Gate ${e.gate} ${e.outcome}${because(e.blocked ? tell(model, e.blocked) : e.reason)}`;
    case 'test': {
      const name = functionIn(model.anatomy, e.function).name;
      const where = CIRCUMSTANCES.includes(e.circumstance) ? `, ${CIRCUMSTANCE_WORDS[e.circumstance]}` : '';
      return `${name}: ${e.outcome}${where}${e.reason ? `, ${e.reason}` : ''}`;
    }
    case 'timer-started':
      return `Wait of ${minutes(e.seconds)} started`;
    case 'timer-ended':
      return `Wait ended by ${e.how === 'thermometer' ? 'the thermometer' : 'hand'}${because(e.reason)}`;
    case 'photo':
      return `Photograph${e.note ? `, ${e.note}` : ''}`;
    case 'note':
      return `Note: ${noteWords(model, e)}`;
    case 'act':
      return `${spoken.acts[e.act]}${e.item ? ` ${item(e.item)}` : ''}${e.note ? `: ${e.note}` : ''}`;
    case 'act-undone':
      return 'Last act taken back';
    case 'answered':
      return e.answer === SKIPPED ? 'A question was skipped' : 'A question was answered';
    case 'turned-round':
      return `Turned round${because(whyWords(model, e))}`;
    case 'tried':
      return (
        `Tried in between: ${e.worked ? 'it works' : 'it does not work'}${because(e.note)}; ` +
        `isolated again: ${e.isolated ? 'yes' : 'it never was'}`
      );
    case 'torque':
      return `${e.fastener} driven to ${e.peak} N·cm: ${e.verdict}${e.accepted ? '' : ', driven again'}`;
    case 'losses-agreed':
      return e.word
        ? `${lossesOf(e.losses)} agreed by word of ${e.word}, ${e.said.slice(0, 16).replace('T', ' ')} UTC`
        : `${lossesOf(e.losses)} agreed with the customer`;
    case 'screw-measured':
      return `${e.fastener} measured: ${e.length} mm`;
    case 'unlock-read':
      return 'The unlock code was read';
    case 'consent-withdrawn':
      return `Consent taken back: ${e.because}`;
    case 'reading':
      return `${e.heated ? `Step ${steps.get(e.heated.step)?.n ?? '?'}, ${e.heated.at}` : e.sensor}: ${e.value} ${e.unit}`;
    case 'planned':
      return `Plan changed: ${whyWords(model, e)}`;
    case 'replanned':
      return `Planned anew: ${whyWords(model, e)}`;
    case 'anatomy-edited':
      return `Corrected for this device: ${e.item ? item(e.item) : 'the anatomy'}${because(e.because)}`;
    case 'moved':
      return `Moved to revision ${e.revision} of the device${because(e.because)}${e.holds ? '; what was agreed stands' : ''}`;
    case 'looked': {
      const found = e.found ? spoken.causes[e.found] : 'sound';
      return `Looked at ${item(e.item)}: ${found}${because(e.note)}`;
    }
    case 'identified':
      return e.how === 'unreadable'
        ? 'Its identity cannot be read'
        : `Identity ${[...e.imei.map(groupedImei), ...(e.serial ? [e.serial] : [])].join(', ')}, ${e.how}`;
    case 'register-told': {
      const set = Object.entries(e.report.answers).filter(([, answer]) => answer === 'set');
      const said = set.map(([question]) => REGISTER_WORDS[question as RegisterQuestion].name).join(', ');
      return `${e.report.register}${e.report.simulated ? ' (simulated)' : ''}: ${said || 'nothing against it; not cleared'}`;
    }
    case 'condition-marked':
      return `${MARKS[e.mark.kind]} marked, ${e.mark.face}${because(e.mark.note)}`;
    case 'condition-unmarked':
      return 'A mark taken off';
    case 'complained':
      return `Complaint: ${e.symptoms.map((s) => SYMPTOMS[s]).join(', ') || 'none of the usual'}`;
    case 'checked':
      return `${CHECKS[e.check].name}: ${e.outcome ?? 'taken back'}`;
    case 'quoted':
      return `Quoted: ${tellMoney(e.quote.price.total, e.quote.currency)}, at most ${tellMoney(e.quote.price.most, e.quote.currency)}`;
    case 'agreed':
      return `Signed by the customer: ${lossesOf(e.losses)}, ${limitOf(e)}`;
    case 'donor-fitted':
      return `A donor part stands in for ${item(e.part)}`;
    case 'parked':
      return `Parked at ${e.where}: ${spoken.parked[e.why]}${e.note ? `. ${e.note}` : ''}`;
    case 'resumed':
      return 'Taken up again';
    case 'handed-on':
      return `Handed on to ${e.to}; it lies at ${e.where}${because(e.note)}`;
    case 'collected':
      return `Collected by ${e.name}${e.signature ? ', signed' : ''}`;
    case 'erased':
      return e.because === 'asked' ? 'The customer was erased, as asked' : 'The customer was erased: the time is over';
    case 'wait-started':
      return `Wait of ${minutes(e.seconds)} started: ${e.what}`;
    case 'cell-measured':
      return `${cellOf(e)}, ${spoken.cellReadings[e.measure].name}: ${e.value}${half(e.half)} ${spoken.cellReadings[e.measure].unit}`;
    case 'cell-seen':
      return `${cellOf(e)} looked at: ${marksOf(e.marks)}; ${spoken.removals[e.removal]}`;
    case 'cell-boxed':
      return `${cellOf(e)} into ${e.box}${because(e.why)}`;
    case 'fit-measured':
      return `Gap and step of ${item(e.panel)} measured at eight points`;
    case 'leak-tested':
      return `Leak ${e.leak.toFixed(3)} ± ${e.half.toFixed(3)} ml/min of at most ${e.limit}${simulated(e)}: ${e.outcome}`;
    case 'transplant-step':
      return `Moving the cell, ${e.stage.replaceAll('-', ' ')}: ${stageOf(e)}${because(e.note)}`;
    case 'incident':
      return `Cell emergency, ${e.kind}${because(e.note)}`;
    case 'signed-off':
      return `Signed off by ${e.name}`;
  }
}
