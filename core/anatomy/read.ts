import { parse, type ParseError, printParseErrorCode } from 'jsonc-parser';
import { faultsOf } from './faults.ts';
import { readAs, type Reading } from '../format/index.ts';
import { anatomyFormat, type Anatomy } from './format.ts';

/**
 * Reads `nibrel.anatomy/1`.
 * @returns the anatomy with its defaults filled in, or every fault found, each with its path
 */
export function readAnatomy(document: unknown): Reading<Anatomy> {
  const reading = readAs<Anatomy>(anatomyFormat, document);
  if (!reading.ok) return reading;
  const faults = faultsOf(reading.value);
  return faults.length > 0 ? { ok: false, faults } : reading;
}

/** As `readAnatomy`, from text; a syntax error is a fault with its line and column. */
export function readAnatomyText(text: string): Reading<Anatomy> {
  const parsed = parseJson(text);
  return parsed.ok ? readAnatomy(parsed.value) : parsed;
}

export function parseJson(text: string): Reading<unknown> {
  try {
    return { ok: true, value: JSON.parse(text) };
  } catch (cause) {
    const errors: ParseError[] = [];
    parse(text, errors, { disallowComments: true });
    const first = errors[0];
    if (!first)
      return {
        ok: false,
        faults: [
          {
            path: '(document)',
            message: `this is not JSON: ${cause instanceof Error ? cause.message : String(cause)}`,
          },
        ],
      };
    const before = text.slice(0, first.offset);
    const found = printParseErrorCode(first.error)
      .replace(/([a-z])([A-Z])/g, '$1 $2')
      .toLowerCase();
    return {
      ok: false,
      faults: [
        {
          path: `line ${before.split('\n').length}, column ${before.length - before.lastIndexOf('\n')}`,
          message: `this is not JSON: ${found}`,
        },
      ],
    };
  }
}
