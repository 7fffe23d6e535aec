import type { Model } from '../anatomy/index.ts';
import { checkBar, PAPERS, pathMark, wordsMark, type Mark, type Paper, type Sheet } from '../paper/index.ts';
import type { CutPlan } from './cutPlan.ts';

/** Own choices, mm: the white rim of the paper, and a pick of the usual triangular make. */
const MARGIN = 12;
const PICK = { side: 30, round: 2.5, apart: 16 } as const;

/** A pick, tip down at the origin, with rounded corners: an equilateral triangle of `PICK.side`. */
function pickPath(): string {
  const { side, round: r } = PICK;
  const height = (side * Math.sqrt(3)) / 2;
  // Where the straight sides meet the rounded tip: the tip itself is the lowest point of its circle, at the origin.
  const [sin, cos] = [Math.sin(Math.PI / 3), Math.cos(Math.PI / 3)];
  const tip = { x: r * sin, y: -r + r * cos };
  const top = tip.y - height + 2 * r;
  const half = tip.x + ((tip.y - top) * cos) / sin;
  const n = (v: number) => Number(v.toFixed(3));
  return (
    `M${n(-tip.x)} ${n(tip.y)}A${r} ${r} 0 0 0 ${n(tip.x)} ${n(tip.y)}L${n(half)} ${n(top)}Q${n(half + r / 2)} ` +
    `${n(top - r)} ${n(half - r)} ${n(top - r)}L${n(-half + r)} ${n(top - r)}Q${n(-half - r / 2)} ${n(top - r)} ${n(-half)} ${n(top)}Z`
  );
}

/**
 * A sheet at 1:1 to mark picks by: one pick for each depth, its mark as a line across it so far from the tip, and a bar
 * to check the print.
 * @returns one page; the tip of each pick stands on the base line
 */
export function pickTemplate(model: Model, plan: CutPlan, paper: Paper = 'A4'): Sheet {
  const page = PAPERS[paper];
  const name = `${model.anatomy.maker} ${model.anatomy.name}, ${model.nameOf(plan.bond)}`;
  const top = MARGIN + 62;
  const marks: Mark[] = [
    wordsMark(MARGIN, MARGIN + 5, 4.4, name, 'start', true),
    wordsMark(
      MARGIN,
      MARGIN + 10.5,
      3,
      `Depth marks at 1:1, ${plan.margin} mm kept clear. Print at 100 %. Tip on the base line, draw the line across the pick.`,
    ),
    ...checkBar(MARGIN, MARGIN + 18, 3),
    pathMark(`M0 0H${page.width - 2 * MARGIN}`, MARGIN, top, 0.15),
  ];
  if (plan.marks.length === 0)
    marks.push(wordsMark(MARGIN, top - 8, 3.4, 'No stretch of this seam can be cut: nothing to mark.'));
  plan.marks.forEach((depth, i) => {
    const x = MARGIN + PICK.side / 2 + i * (PICK.side + PICK.apart);
    marks.push(
      pathMark(pickPath(), x, top, 0.3),
      pathMark(`M-14 0H14`, x, top - depth, 0.35),
      wordsMark(x + 15, top - depth + 1, 3, `${depth} mm`, 'start', true),
    );
    const where = plan.runs.filter((r) => r.mark === i + 1);
    const length = where.reduce((sum, r) => sum + r.length, 0);
    marks.push(
      wordsMark(x, top + 6, 3.6, `Mark ${i + 1}: ${depth} mm`, 'middle', true),
      wordsMark(x, top + 10.5, 2.8, `${Math.round(length)} mm of seam`, 'middle'),
      wordsMark(x, top + 14.5, 2.8, [...new Set(where.map((r) => r.edge))].join(', '), 'middle'),
    );
  });
  marks.push(
    wordsMark(MARGIN, top + 20, 2.8, 'Computed from the anatomy; no depth is a promise. Stop at any resistance.'),
  );
  let y = top + 27;
  for (const run of plan.runs) {
    const what =
      run.n === null
        ? plan.hooked.includes(run.edge)
          ? 'not cut: slid out of its hooks'
          : 'left: heat and lift'
        : `mark ${run.mark}, ${run.depth} mm deep${run.pick ? '; leave the second pick at its end' : ''}`;
    const behind = run.behind.map((id) => model.nameOf(id));
    marks.push(
      wordsMark(
        MARGIN,
        y,
        3,
        `${run.n === null ? '–' : `${run.n}.`} ${run.edge} edge, ${Math.round(run.length)} ` +
          `mm: ${what}${behind.length > 0 ? `; behind it ${behind.join(', ')}` : ''}`,
      ),
    );
    y += 5;
    if (y > page.height - MARGIN) break;
  }
  return { paper: page, pages: [{ title: `Pick template, ${name}`, marks }] };
}
