import type Joi from 'joi';

/** One thing that is wrong with an input: where (a path such as `fasteners[4].at`) and what to do. */
export interface Fault {
  path: string;
  message: string;
}

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
