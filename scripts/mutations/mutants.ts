import { parseAst } from 'vite';

/** One small change of a source file. */
export interface Mutant {
  file: string;
  /** From 1. */
  line: number;
  /** What is put in the place of what. */
  what: string;
  source: string;
}

interface Node {
  type: string;
  start: number;
  end: number;
  [field: string]: unknown;
}

/* Comparisons are turned round: of lengths and times one that only moves its bound is the same for all that is drawn by lot. */
const SWAPS: Record<string, string> = {
  '<': '>=',
  '<=': '>',
  '>': '<=',
  '>=': '<',
  '===': '!==',
  '!==': '===',
  '&&': '||',
  '||': '&&',
  '+': '-',
  '-': '+',
  '*': '/',
  '/': '*',
};
const CALLS: Record<string, string> = { some: 'every', every: 'some', min: 'max', max: 'min' };

const isNode = (value: unknown): value is Node =>
  typeof value === 'object' && value !== null && typeof (value as Node).type === 'string';

const isWords = (node: Node): boolean =>
  node.type === 'TemplateLiteral' || (node.type === 'Literal' && typeof node.value === 'string');

/** Every mutant of a file: operators applied to every place where they fit. Words and types are left alone. */
export function mutantsOf(file: string, text: string): Mutant[] {
  const mutants: Mutant[] = [];
  const textOf = ({ start, end }: Node) => text.slice(start, end);
  const put = (from: number, to: number, instead: string, what: string) =>
    mutants.push({
      file,
      line: text.slice(0, from).split('\n').length,
      what: what.replace(/\s+/g, ' ').slice(0, 110),
      source: text.slice(0, from) + instead + text.slice(to),
    });
  const negate = (node: Node) => put(node.start, node.end, `!(${textOf(node)})`, `not ${textOf(node)}`);
  const change = (node: Node): void => {
    switch (node.type) {
      case 'BinaryExpression':
      case 'LogicalExpression': {
        const [left, right] = [node.left as Node, node.right as Node];
        const swap = SWAPS[node.operator as string];
        if (!swap || (node.operator === '+' && (isWords(left) || isWords(right)))) return;
        const at = text.indexOf(node.operator as string, left.end);
        put(at, at + (node.operator as string).length, swap, `${textOf(node)}: ${swap}`);
        return;
      }
      case 'UnaryExpression':
        if (node.operator === '!')
          put(node.start, node.end, textOf(node.argument as Node), `without ! ${textOf(node)}`);
        return;
      case 'Literal': {
        if (typeof node.value === 'boolean') put(node.start, node.end, String(!node.value), `${!node.value}`);
        if (typeof node.value !== 'number') return;
        const other = node.value === 0 ? '1' : node.value === 1 ? '0' : `(10 * ${textOf(node)})`;
        put(node.start, node.end, other, `${textOf(node)}: ${other}`);
        return;
      }
      case 'IfStatement':
      case 'ConditionalExpression':
        negate(node.test as Node);
        return;
      case 'CallExpression': {
        const callee = node.callee as Node;
        const name = callee.type === 'MemberExpression' ? (callee.property as Node) : null;
        const swap = name && CALLS[textOf(name)];
        if (name && swap) put(name.start, name.end, swap, `${textOf(name)}: ${swap}`);
        return;
      }
      case 'ExpressionStatement':
        if ((node.expression as Node).type === 'CallExpression' && !textOf(node).startsWith('super'))
          put(node.start, node.end, ';', `without ${textOf(node)}`);
    }
  };
  const visit = (node: Node): void => {
    if (node.type === 'ImportDeclaration' || (node.type.startsWith('TS') && !('expression' in node))) return;
    change(node);
    for (const [field, value] of Object.entries(node)) {
      if (
        field === 'typeAnnotation' ||
        field === 'returnType' ||
        field === 'typeArguments' ||
        field === 'typeParameters'
      )
        continue;
      for (const child of Array.isArray(value) ? value : [value]) if (isNode(child)) visit(child);
    }
  };
  visit(parseAst(text, { lang: 'ts' }) as unknown as Node);
  return mutants;
}
