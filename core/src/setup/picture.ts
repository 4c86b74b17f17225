/** How large a picture is, read from its first bytes without unpacking it. */

export interface PictureSize {
  readonly type: 'png' | 'jpeg';
  /** In pixels. */
  readonly width: number;
  readonly height: number;
}

const PNG = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a];
const MARKER = 0xff;
/** Frames of a JPEG that say its size: all of C0 to CF but tables and such. */
const isFrame = (marker: number): boolean => marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker);

/**
 * The size of a PNG or JPEG picture; `null` for anything else, and for one that is cut short.
 *
 * @source PNG (ISO/IEC 15948) 11.2.2; JPEG (ISO/IEC 10918-1) B.2.2.
 */
export function pictureSize(content: Uint8Array): PictureSize | null {
  const view = new DataView(content.buffer, content.byteOffset, content.byteLength);
  if (PNG.every((byte, index) => content[index] === byte))
    return content.length < 24 ? null : { type: 'png', width: view.getUint32(16), height: view.getUint32(20) };
  if (content[0] !== MARKER || content[1] !== 0xd8) return null;
  let at = 2;
  while (at + 9 <= content.length && content[at] === MARKER) {
    const marker = content[at + 1] ?? 0;
    if (isFrame(marker)) return { type: 'jpeg', height: view.getUint16(at + 5), width: view.getUint16(at + 7) };
    const length = view.getUint16(at + 2);
    if (length < 2) return null;
    at += 2 + length;
  }
  return null;
}
