/** The code by which a company is founded: shown on the server's own console, for as long and as often as a rule says. */

export interface FoundingRule {
  /** Tries that it stands. */
  readonly tries: number;
  /** How long it lasts, in milliseconds. */
  readonly lastsMs: number;
}

/** No letter or figure that is read as another. */
const SIGNS = '23456789ABCDEFGHJKMNPQRSTVWXYZ';

/**
 * A code in two groups of four, from random bytes; at least eight of them. Each sign is drawn evenly: bytes beyond the last
 * whole turn of the alphabet are passed over.
 *
 * @param bytes random, 64 are more than enough
 * @example codeFrom(Uint8Array.of(0, 1, 2, 3, 4, 5, 6, 7)) // '2345-6789'
 */
export function codeFrom(bytes: Uint8Array): string {
  const most = Math.floor(256 / SIGNS.length) * SIGNS.length;
  const signs = [...bytes].filter((byte) => byte < most).map((byte) => SIGNS[byte % SIGNS.length] ?? '');
  if (signs.length < 8) throw new RangeError('a code takes more random bytes');
  return `${signs.slice(0, 4).join('')}-${signs.slice(4, 8).join('')}`;
}

/** A code as it may have been typed: small letters, without the dash, with spaces. */
export function plainCode(text: string): string {
  return text.toUpperCase().replace(/[^0-9A-Z]/g, '');
}

/** What a code is worth at a moment: good, or why not. */
export type CodeState = 'good' | 'used' | 'triedTooOften' | 'over';

/** A code that was made at a moment, with how often it was tried. Moments in milliseconds. */
export class FoundingCode {
  private failed = 0;
  private used = false;

  constructor(
    readonly code: string,
    private readonly madeAt: number,
    private readonly rule: FoundingRule,
  ) {}

  state(now: number): CodeState {
    if (this.used) return 'used';
    if (this.failed >= this.rule.tries) return 'triedTooOften';
    return now - this.madeAt > this.rule.lastsMs || now < this.madeAt ? 'over' : 'good';
  }

  /** Whether what somebody typed is it; what is not counts as a try. */
  opens(text: string, now: number): boolean {
    if (this.state(now) !== 'good') return false;
    const right = plainCode(text) === plainCode(this.code);
    if (!right) this.failed += 1;
    return right;
  }

  /** It has served. */
  end(): void {
    this.used = true;
  }

  /** Tries that are left. */
  left(): number {
    return this.rule.tries - this.failed;
  }
}
