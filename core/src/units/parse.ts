import { ANGLE_WORDS, LENGTH_UNITS, LENGTH_WORDS, type LengthUnit } from './units.ts';

/** A length or an angle that could not be read: says why and where in the text. */
export class UnitError extends Error {
  readonly saidToUser = true;

  constructor(
    message: string,
    /** Position in the text, from 0. */
    readonly at: number,
  ) {
    super(message);
    this.name = 'UnitError';
  }
}

type Token =
  { kind: 'number'; value: number; at: number } | { kind: 'word' | 'sign' | 'end'; text: string; at: number };

/** Longest text that is read; anything longer was pasted by mistake. */
const LONGEST = 200;

function tokens(text: string): Token[] {
  if (text.length > LONGEST) throw new UnitError(`That is longer than ${LONGEST} characters.`, LONGEST);
  const out: Token[] = [];
  let i = 0;
  while (i < text.length) {
    const rest = text.slice(i);
    const space = /^\s+/.exec(rest);
    if (space) {
      i += space[0].length;
      continue;
    }
    const number = /^(\d+([.,]\d*)?|[.,]\d+)(e[+-]?\d+)?/i.exec(rest);
    const word = /^(\p{L}+|["'″′°])/u.exec(rest);
    if (number) {
      const tail = rest.slice(number[0].length);
      if (/^[.,]\d/.test(tail))
        throw new UnitError('Two decimal signs in one number; write 1234.5 or 1234,5.', i + number[0].length);
      out.push({ kind: 'number', value: Number(number[0].replace(',', '.')), at: i });
      i += number[0].length;
    } else if (word) {
      out.push({ kind: 'word', text: word[0], at: i });
      i += word[0].length;
    } else if (/^[-+*/()×·÷−]/.test(rest)) {
      const plain: Record<string, string> = { '×': '*', '·': '*', '÷': '/', '−': '-' };
      out.push({ kind: 'sign', text: plain[rest[0]!] ?? rest[0]!, at: i });
      i++;
    } else throw new UnitError(`"${[...rest][0]}" means nothing here.`, i);
  }
  out.push({ kind: 'end', text: '', at: text.length });
  return out;
}

/** A value with or without a unit yet: `scaled` when a unit has been named. */
interface Quantity {
  value: number;
  scaled: boolean;
}

/**
 * Reads sums and products of numbers and quantities by recursive descent. A unit applies to the whole quotient or
 * product of plain numbers before it (`1/4 in`), quantities side by side add up (`3 ft 2 in`), and so do a number and a
 * fraction (`2 1/2 in`).
 */
class Reader {
  private i = 0;
  private readonly list: Token[];

  constructor(
    text: string,
    private readonly words: Record<string, number>,
    private readonly perNumber: number,
    private readonly examples: string,
  ) {
    this.list = tokens(text);
  }

  private get now(): Token {
    return this.list[this.i]!;
  }

  private get atEnd(): boolean {
    return this.now.kind === 'end';
  }

  private sign(...texts: string[]): string | null {
    const t = this.now;
    if (t.kind !== 'sign' || !texts.includes(t.text)) return null;
    this.i++;
    return t.text;
  }

  all(): number {
    if (this.atEnd) throw new UnitError(`Nothing is typed; for example ${this.examples}.`, 0);
    const q = this.sum();
    if (!this.atEnd) throw new UnitError(this.unexpected(), this.now.at);
    const value = this.settle(q);
    if (!Number.isFinite(value)) throw new UnitError('The result is not a finite number.', 0);
    return value;
  }

  private unexpected(): string {
    const t = this.now;
    if (t.kind === 'end') return 'The text ends where a number is missing.';
    if (t.kind === 'word' && !Object.keys(this.words).length)
      return `"${t.text}" is not expected here: type a plain number.`;
    if (t.kind === 'word')
      return `"${t.text}" is not a unit that is known here; known are ${Object.keys(this.words).join(' ')}.`;
    return t.kind === 'number' ? `The number ${t.value} is not expected here.` : `"${t.text}" is not expected here.`;
  }

  private settle(q: Quantity): number {
    return q.scaled ? q.value : q.value * this.perNumber;
  }

  private sum(): Quantity {
    let q = this.product();
    for (;;) {
      const s = this.sign('+', '-');
      const beside = !s && q.scaled && this.now.kind === 'number';
      if (!s && !beside) return q;
      const r = this.product();
      if (beside && !r.scaled) throw new UnitError('The last number has no unit.', this.now.at);
      const k = s === '-' ? -1 : 1;
      // Only numbers without any unit stay plain, so that (2 + 3) in works.
      q =
        q.scaled || r.scaled
          ? { value: this.settle(q) + k * this.settle(r), scaled: true }
          : { value: q.value + k * r.value, scaled: false };
    }
  }

  private product(): Quantity {
    let q = this.factor();
    for (;;) {
      q = this.unit(q);
      const at = this.now.at;
      const s = this.sign('*', '/');
      if (!s) return q;
      const r = this.factor();
      if (s === '/') {
        if (r.scaled) throw new UnitError('Dividing by a length or angle gives none; divide by a plain number.', at);
        if (r.value === 0) throw new UnitError('This divides by zero.', at);
        q = { value: q.value / r.value, scaled: q.scaled };
      } else {
        if (q.scaled && r.scaled)
          throw new UnitError('Two quantities with units are multiplied; one must be a plain number.', at);
        q = { value: q.value * r.value, scaled: q.scaled || r.scaled };
      }
    }
  }

  private unit(q: Quantity): Quantity {
    const t = this.now;
    if (t.kind !== 'word') return q;
    const per = this.words[t.text] ?? this.words[t.text.toLowerCase()];
    if (per === undefined) throw new UnitError(this.unexpected(), t.at);
    if (q.scaled) throw new UnitError(`"${t.text}" follows a quantity that has a unit already.`, t.at);
    this.i++;
    return { value: q.value * per, scaled: true };
  }

  private factor(): Quantity {
    const s = this.sign('-', '+', '(');
    if (s === '(') {
      const q = this.sum();
      if (!this.sign(')')) throw new UnitError('A closing bracket is missing.', this.now.at);
      return q;
    }
    if (s) {
      const q = this.factor();
      return s === '-' ? { value: -q.value, scaled: q.scaled } : q;
    }
    const t = this.now;
    if (t.kind !== 'number') throw new UnitError(this.unexpected(), t.at);
    this.i++;
    return { value: t.value + this.fraction(), scaled: false };
  }

  /** The `1/2` of `2 1/2`, or 0. */
  private fraction(): number {
    const [a, b, c] = this.list.slice(this.i, this.i + 3);
    if (a?.kind !== 'number' || c?.kind !== 'number' || b?.kind !== 'sign' || b.text !== '/') return 0;
    if (c.value === 0) throw new UnitError('This divides by zero.', b.at);
    this.i += 3;
    return a.value / c.value;
  }
}

/**
 * A typed length in millimetres: `40`, `2.2 m`, `1/4 in`, `3 ft 2 in`, `12,5 mm`, `120/3 + 2 mm`. Plain numbers are in
 * `unit`.
 * Throws `UnitError` with the place.
 */
export function parseLength(text: string, unit: LengthUnit = 'mm'): number {
  return new Reader(text, LENGTH_WORDS, LENGTH_UNITS[unit], '40, 2.2 m or 1/4 in').all();
}

/** A typed angle in degrees: `22.5`, `90°`, `360/7`, `0.5 rad`, `1/8 turn`. Throws `UnitError` with the place. */
export function parseAngle(text: string): number {
  return new Reader(text, ANGLE_WORDS, 1, '45, 22.5° or 360/7').all();
}

/** A typed number without a unit: `12`, `100/3`, `2 * (3 + 1)`. Throws `UnitError` with the place. */
export function parseNumber(text: string): number {
  return new Reader(text, {}, 1, '12 or 100/3').all();
}
