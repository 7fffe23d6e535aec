import { afterEach, describe, expect, it } from 'vitest';
import { ApiError } from './api.ts';
import { followFailures, useFailed } from './failed.ts';

const failing = (reason: unknown) => Object.assign(new Event('unhandledrejection'), { reason });

describe('D5 a failing call that nobody catches', () => {
  const page = new EventTarget();
  const end = followFailures(page);
  afterEach(() => useFailed.getState().dismiss());
  it('is said with its own words, and stays until somebody has seen it', () => {
    page.dispatchEvent(failing(new ApiError(409, { error: 'the dive has begun' })));
    expect(useFailed.getState().message).toBe('the dive has begun');
    useFailed.getState().dismiss();
    expect(useFailed.getState().message).toBeNull();
  });
  it('is nothing where somebody turned away, and nothing once nobody follows', () => {
    page.dispatchEvent(failing(new DOMException('left', 'AbortError')));
    end();
    page.dispatchEvent(failing(new Error('later')));
    expect(useFailed.getState().message).toBeNull();
  });
});
