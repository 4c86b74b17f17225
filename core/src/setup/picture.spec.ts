import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { pictureSize } from './picture';

const PNG = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13, 0x49, 0x48, 0x44, 0x52, 0, 0, 1, 44, 0, 0, 0, 90];
const JPEG = [0xff, 0xd8, 0xff, 0xe0, 0, 4, 0x4a, 0x46, 0xff, 0xc0, 0, 11, 8, 0, 90, 1, 44, 1];

describe('the size of a picture', () => {
  it('is read from its first bytes', () => {
    expect(pictureSize(Uint8Array.from(PNG))).toEqual({ type: 'png', width: 300, height: 90 });
    expect(pictureSize(Uint8Array.from(JPEG))).toEqual({ type: 'jpeg', width: 300, height: 90 });
  });

  it('is none where it is no picture, or cut short', () => {
    for (const whole of [PNG, JPEG]) {
      const shortest = whole === PNG ? 24 : 17;
      for (let length = 0; length < shortest; length += 1) expect(pictureSize(Uint8Array.from(whole.slice(0, length)))).toBeNull();
    }
    expect(pictureSize(new TextEncoder().encode('GIF89a, and more of it here'))).toBeNull();
  });

  it('never takes long and never fails, whatever comes', () => {
    fc.assert(
      fc.property(fc.constantFrom(PNG, JPEG), fc.uint8Array({ maxLength: 400 }), (head, rest) => {
        const size = pictureSize(Uint8Array.from([...head.slice(0, 4), ...rest]));
        expect(size === null || (size.width >= 0 && size.height >= 0)).toBe(true);
      }),
    );
  });
});
