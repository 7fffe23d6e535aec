import type Joi from 'joi';
import { parse, type ParseError, printParseErrorCode } from 'jsonc-parser';
import { faultsOf } from './faults.ts';
import { anatomySchema } from './schema.ts';
import type { Anatomy, Fault } from './types.ts';

export type Reading<T> = { ok: true; value: T } | { ok: false; faults: Fault[] };

/** `fasteners[4].at[0]` from Joi's path. */
function pathOf(path: readonly (string | number)[]): string {
  return (
    path.map((step, i) => (typeof step === 'number' ? `[${step}]` : i === 0 ? step : `.${step}`)).join('') ||
    '(document)'
  );
}

export function faultsOfJoi(error: Joi.ValidationError): Fault[] {
  return error.details.map((detail) => ({
    path: pathOf(detail.path),
    message:
      detail.type === 'object.unknown'
        ? `unknown field "${String(detail.path.at(-1))}"; remove it or correct its spelling`
        : detail.message.replace(/^"[^"]*" /, ''),
  }));
}

/**
 * Reads `nibrel.anatomy/1`.
 * @returns the anatomy with its defaults filled in, or every fault found, each with its path
 */
export function readAnatomy(document: unknown): Reading<Anatomy> {
  const { error, value } = anatomySchema.validate(document, { abortEarly: false, convert: false });
  if (error) return { ok: false, faults: faultsOfJoi(error) };
  const anatomy = value as Anatomy;
  const faults = faultsOf(anatomy);
  return faults.length > 0 ? { ok: false, faults } : { ok: true, value: anatomy };
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
