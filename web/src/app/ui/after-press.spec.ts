import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { afterPress } from './after-press';

beforeEach(() => vi.useFakeTimers());
afterEach(() => vi.useRealTimers());

describe('what is said when a field is left', () => {
  const told: string[] = [];

  it('is said at once while nothing is pressed', () => {
    afterPress(() => told.push('at once'));
    expect(told.splice(0)).toEqual(['at once']);
  });

  it('waits until what is pressed has been let go and clicked, and is said once', () => {
    document.dispatchEvent(new Event('pointerdown'));
    afterPress(() => told.push('left'));
    vi.runAllTimers();
    expect(told).toEqual([]);
    document.dispatchEvent(new Event('pointerup'));
    told.push('clicked');
    vi.runAllTimers();
    expect(told.splice(0)).toEqual(['clicked', 'left']);
    document.dispatchEvent(new Event('pointerup'));
    vi.runAllTimers();
    expect(told).toEqual([]);
  });

  it('is said, too, where the press came to nothing', () => {
    document.dispatchEvent(new Event('pointerdown'));
    afterPress(() => told.push('left'));
    document.dispatchEvent(new Event('pointercancel'));
    vi.runAllTimers();
    expect(told.splice(0)).toEqual(['left']);
  });
});
