import type { Fault } from '../../core/anatomy/index.ts';
import { LIMITS } from '../../core/jobs/index.ts';
import type { Refusal, RunEvent } from '../../core/run/index.ts';

export interface Problem {
  error: string;
  faults?: Fault[];
  refusal?: Refusal;
  missed?: RunEvent[];
}

/** The server answered with a problem; `status` 0 means that it could not be reached. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem,
  ) {
    super(problem.error);
  }
}

/** @throws ApiError */
export async function api<T>(
  path: string,
  init: { method?: string; json?: unknown; body?: BodyInit; type?: string; signal?: AbortSignal } = {},
): Promise<T> {
  const { json, type, ...rest } = init;
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      ...rest,
      method: init.method ?? (json !== undefined || init.body !== undefined ? 'POST' : 'GET'),
      ...(json !== undefined ? { body: JSON.stringify(json), headers: { 'Content-Type': 'application/json' } } : {}),
      ...(type ? { headers: { 'Content-Type': type } } : {}),
    });
  } catch (cause) {
    if (cause instanceof DOMException && cause.name === 'AbortError') throw cause;
    throw new ApiError(0, {
      error: 'the server does not answer; what you enter is kept here and sent when it is back',
    });
  }
  const body: unknown = await response.json().catch(() => ({ error: `the server answered ${response.status}` }));
  if (!response.ok) {
    if (response.status === 401 && path !== '/sign-in')
      window.location.assign(`/sign-in?to=${encodeURIComponent(window.location.pathname)}`);
    throw new ApiError(response.status, body as Problem);
  }
  return body as T;
}

/** Stores a photograph and gives its hash. @throws ApiError */
export async function storePhoto(file: Blob): Promise<string> {
  if (file.size > LIMITS.photo)
    throw new ApiError(413, {
      error: `the file has ${Math.round(file.size / 1024 / 1024)} MB; at most ${LIMITS.photo / 1024 / 1024} MB are taken`,
    });
  const { hash } = await api<{ hash: string }>('/photos', {
    body: file,
    type: file.type || 'application/octet-stream',
  });
  return hash;
}

export const messageOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));
