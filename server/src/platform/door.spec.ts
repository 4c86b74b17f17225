import { describe, expect, it } from 'vitest';
import { Refusal } from '@terrace/core';
import { Door } from './door';

function opened() {
  let now = 0;
  const door = new Door('a secret of the house', () => now);
  /** Seconds to wait; 0 where the try was let in, and failed. */
  const fail = (login: string, address: string, device?: string): number => {
    try {
      door.knock(login, address, device).over();
      return 0;
    } catch (error) {
      if (error instanceof Refusal) return Number(error.details['seconds']);
      throw error;
    }
  };
  return { door, fail, pass: (seconds: number) => (now += seconds * 1000) };
}

describe('the door', () => {
  it('lets five guesses with a name in, then one after each pause, which grows', () => {
    const { fail, pass } = opened();
    // Each from elsewhere: the name is what counts.
    for (let guess = 0; guess < 6; guess += 1) expect(fail('quill', `10.0.0.${guess}`)).toBe(0);
    const waits: number[] = [];
    for (let round = 0; round < 12; round += 1) {
      const wait = fail('quill', '10.1.1.1');
      waits.push(wait);
      pass(wait - 0.5);
      expect(fail('quill', '10.1.1.2')).toBe(1);
      pass(0.5);
      expect(fail('quill', `10.2.0.${round}`)).toBe(0);
    }
    expect(waits).toEqual([1, 2, 4, 8, 16, 32, 64, 128, 256, 300, 300, 300]);
  });

  it('counts many at once before any of them is known to be wrong', () => {
    const { door } = opened();
    const letIn = Array.from({ length: 40 }, () => {
      try {
        return door.knock('quill', '10.0.0.1', undefined);
      } catch (error) {
        expect(error).toBeInstanceOf(Refusal);
        return null;
      }
    });
    expect(letIn.filter((each) => each !== null)).toHaveLength(6);
  });

  it('slows an address down that tries one name after the other', () => {
    const { fail, pass } = opened();
    for (let name = 0; name < 31; name += 1) expect(fail(`name${name}`, '10.0.0.9')).toBe(0);
    expect(fail('another', '10.0.0.9')).toBe(1);
    expect(fail('another', '10.0.0.8')).toBe(0);
    pass(3601);
    expect(fail('another', '10.0.0.9')).toBe(0);
  });

  it('opens to somebody on a device of theirs, however much others guess with their name', () => {
    const { door, fail } = opened();
    const device = door.deviceOf('quill');
    for (let guess = 0; guess < 200; guess += 1) fail('quill', '10.0.0.1');
    expect(fail('quill', '10.0.0.1')).toBeGreaterThan(0);
    const knock = door.knock('quill', '10.0.0.1', device);
    knock.succeeded();
    knock.over();
    // Theirs, and nobody else's; and guessing on it is slowed down as well.
    expect(door.isDeviceOf('maren', device)).toBe(false);
    expect(fail('quill', '10.0.0.1', `${device}x`)).toBeGreaterThan(0);
    for (let guess = 0; guess < 6; guess += 1) expect(fail('quill', '10.0.0.1', device)).toBe(0);
    expect(fail('quill', '10.0.0.1', device)).toBe(1);
  });

  it('forgets a slip once the right password came', () => {
    const { door, fail } = opened();
    for (let guess = 0; guess < 5; guess += 1) fail('quill', '10.0.0.1');
    const knock = door.knock('quill', '10.0.0.1', undefined);
    knock.succeeded();
    knock.over();
    for (let guess = 0; guess < 6; guess += 1) expect(fail('quill', '10.0.0.1')).toBe(0);
  });

  it('keeps no more than a bound, whatever it is told', () => {
    const { door, fail } = opened();
    for (let name = 0; name < 60_000; name += 1) fail(`name ${name}`, `10.${name >> 16}.${(name >> 8) & 255}.${name & 255}`);
    expect((door as unknown as { tries: { size: number } }).tries.size).toBeLessThanOrEqual(20_000);
  });

  it('lets a hundred in at once and no more', () => {
    const { door } = opened();
    const knocks = Array.from({ length: 100 }, (_, at) => door.knock(`name${at}`, `10.0.1.${at}`, undefined));
    expect(() => door.knock('one-more', '10.0.2.1', undefined)).toThrow(/at this moment/);
    knocks[0]?.over();
    door.knock('one-more', '10.0.2.1', undefined);
  });
});
