/** Exact fractions of any size, for checking by. Nothing is fast here, and nothing is rounded unless asked. */
export class Fraction {
  static readonly ZERO = new Fraction(0n, 1n);
  static readonly ONE = new Fraction(1n, 1n);

  private constructor(
    private readonly over: bigint,
    private readonly under: bigint,
  ) {}

  private static of(over: bigint, under: bigint): Fraction {
    let [a, b] = [over < 0n ? -over : over, under];
    while (b !== 0n) [a, b] = [b, a % b];
    return new Fraction(over / a, under / a);
  }

  /** The value of a plain decimal, or `null` where it is none. */
  static read(text: string): Fraction | null {
    const [, sign, whole, rest = ''] = /^(-?)(\d+)(?:\.(\d+))?$/.exec(text) ?? [];
    if (whole === undefined) return null;
    const mantissa = BigInt(whole + rest);
    return Fraction.of(sign === '-' ? -mantissa : mantissa, 10n ** BigInt(rest.length));
  }

  plus(other: Fraction): Fraction {
    return Fraction.of(this.over * other.under + other.over * this.under, this.under * other.under);
  }

  minus(other: Fraction): Fraction {
    return Fraction.of(this.over * other.under - other.over * this.under, this.under * other.under);
  }

  times(other: Fraction): Fraction {
    return Fraction.of(this.over * other.over, this.under * other.under);
  }

  /** By a fraction above zero. */
  divided(other: Fraction): Fraction {
    return Fraction.of(this.over * other.under, this.under * other.over);
  }

  isBelow(other: Fraction): boolean {
    return this.over * other.under < other.over * this.under;
  }

  isAbove(other: Fraction): boolean {
    return other.isBelow(this);
  }

  least(other: Fraction): Fraction {
    return other.isBelow(this) ? other : this;
  }

  most(other: Fraction): Fraction {
    return this.isBelow(other) ? other : this;
  }

  down(decimals: number): Fraction {
    const scale = 10n ** BigInt(decimals);
    const scaled = this.over * scale;
    const whole = scaled / this.under;
    return Fraction.of(scaled % this.under < 0n ? whole - 1n : whole, scale);
  }

  up(decimals: number): Fraction {
    return Fraction.ZERO.minus(Fraction.ZERO.minus(this).down(decimals));
  }

  /** The least multiple of a step above zero that is not below this. */
  upTo(step: Fraction): Fraction {
    return this.divided(step).up(0).times(step);
  }

  /** In its shortest form; of fractions that are decimals. */
  toString(): string {
    let places = 0;
    while (10n ** BigInt(places) % this.under !== 0n) places += 1;
    const digits = String((this.over < 0n ? -this.over : this.over) * (10n ** BigInt(places) / this.under)).padStart(places + 1, '0');
    const rest = places === 0 ? '' : digits.slice(-places).replace(/0+$/, '');
    return `${this.over < 0n ? '-' : ''}${places === 0 ? digits : digits.slice(0, -places)}${rest === '' ? '' : `.${rest}`}`;
  }
}
