import { LARGEST_COORDINATE } from './limits.ts';

const [TAB, NEWLINE, RETURN, SPACE, HASH, BACKSLASH] = [9, 10, 13, 32, 35, 92];
/** Powers of ten that a double holds exactly. */
const TENS = Array.from({ length: 23 }, (_, k) => 10 ** k);
/** A mantissa below this, 2^53, is exact. */
const EXACT = 9007199254740992;
/** Bytes that are read to find the encoding of a text. */
const SAMPLE = 512;

/**
 * The bytes of a text as UTF-8 without a byte order mark. UTF-16 is recognised by its mark, or by every other byte
 * being 0 at its beginning; all else is taken as UTF-8 or one of the encodings that have ASCII in them.
 */
export function asUtf8(bytes: Uint8Array): Uint8Array {
  if (bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf) return bytes.subarray(3);
  const order = utf16Order(bytes);
  return order ? new TextEncoder().encode(new TextDecoder(order).decode(bytes)) : bytes;
}

function utf16Order(bytes: Uint8Array): 'utf-16le' | 'utf-16be' | null {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  const n = Math.min(SAMPLE, bytes.length) & ~1;
  let [even, odd] = [0, 0];
  for (let i = 0; i < n; i += 2) {
    if (bytes[i] === 0) even++;
    if (bytes[i + 1] === 0) odd++;
  }
  // Nearly all letters of such a file are ASCII.
  if (n >= 8 && odd > 0.45 * n && !even) return 'utf-16le';
  return n >= 8 && even > 0.45 * n && !odd ? 'utf-16be' : null;
}

/**
 * Reads the words and numbers of a text from its bytes, without making a string of each. A word ends at white space;
 * lines end with \n, \r or both; a backslash at the end of a line joins it with the next.
 */
export class Words {
  at = 0;

  constructor(
    readonly bytes: Uint8Array,
    /** Whether `#` begins a comment up to the end of its line. */
    private readonly comments: boolean,
  ) {}

  /** Goes on to the next word of this line; whether there is one. */
  word(): boolean {
    const { bytes: b } = this;
    for (;;) {
      const c = b[this.at];
      if (c === SPACE || c === TAB || c === 11 || c === 12) this.at++;
      else if (c === BACKSLASH && (b[this.at + 1] === NEWLINE || b[this.at + 1] === RETURN)) {
        this.at++;
        this.newline();
      } else if (c === HASH && this.comments) {
        this.restOfLine();
        return false;
      } else return c !== undefined && c !== NEWLINE && c !== RETURN;
    }
  }

  /** Goes on to the next word, over lines; whether there is one. */
  wordBeyond(): boolean {
    while (!this.word()) if (!this.newline()) return false;
    return true;
  }

  /** Goes over what is left of this line and its end; whether there is another line. */
  nextLine(): boolean {
    this.restOfLine();
    return this.newline();
  }

  private restOfLine(): void {
    const { bytes: b } = this;
    while (this.at < b.length) {
      const c = b[this.at]!;
      if (c === NEWLINE || c === RETURN) return;
      if (c === BACKSLASH && (b[this.at + 1] === NEWLINE || b[this.at + 1] === RETURN)) {
        this.at++;
        this.newline();
      } else this.at++;
    }
  }

  private newline(): boolean {
    const { bytes: b } = this;
    if (b[this.at] === RETURN) {
      this.at++;
      if (b[this.at] === NEWLINE) this.at++;
    } else if (b[this.at] === NEWLINE) this.at++;
    else return false;
    return this.at < b.length;
  }

  /** The end of the word that begins here. */
  private end(): number {
    const { bytes: b } = this;
    let i = this.at;
    while (i < b.length && !ends(b[i]!) && !(b[i] === HASH && this.comments)) i++;
    // A backslash that joins lines is not part of the word.
    return b[i - 1] === BACKSLASH && (b[i] === NEWLINE || b[i] === RETURN) ? i - 1 : i;
  }

  /** The word that begins here, as text; goes over it. */
  text(): string {
    const end = this.end();
    const out = new TextDecoder().decode(this.bytes.subarray(this.at, end));
    this.at = end;
    return out;
  }

  /** All that is left of this line, as text without white space around it. */
  rest(): string {
    const from = this.at;
    this.restOfLine();
    const text = new TextDecoder().decode(this.bytes.subarray(from, this.at));
    return (this.comments ? text.split('#', 1)[0]! : text).replace(/\\(\r\n|\n|\r)/g, ' ').trim();
  }

  /** Whether the word that begins here is this one, small letters; goes over it then. */
  is(word: string): boolean {
    const { bytes: b } = this;
    for (let i = 0; i < word.length; i++) {
      const c = b[this.at + i];
      if (c !== word.charCodeAt(i) && c !== word.charCodeAt(i) - 32) return false;
    }
    const after = b[this.at + word.length];
    if (after !== undefined && !ends(after)) return false;
    this.at += word.length;
    return true;
  }

  /**
   * The number that begins here, NaN where there is none; goes over it. Exact as `Number` reads it: few digits directly
   * (Clinger, "How to Read Floating Point Numbers Accurately", 1990), others by it.
   */
  number(): number {
    const { bytes: b } = this;
    const from = this.at;
    let i = from;
    const negative = b[i] === 45;
    if (negative || b[i] === 43) i++;
    let [m, digits, scale] = [0, 0, 0];
    for (; digit(b[i]); i++, digits++) m = m * 10 + b[i]! - 48;
    if (b[i] === 46) {
      i++;
      for (; digit(b[i]); i++, digits++, scale--) m = m * 10 + b[i]! - 48;
    }
    if (digits && (b[i] === 101 || b[i] === 69)) {
      let j = i + 1;
      const down = b[j] === 45;
      if (down || b[j] === 43) j++;
      let e = 0;
      const first = j;
      for (; digit(b[j]); j++) e = Math.min(e * 10 + b[j]! - 48, 9999);
      if (j > first) {
        scale += down ? -e : e;
        i = j;
      }
    }
    const whole = i >= b.length || ends(b[i]!) || (b[i] === HASH && this.comments) || b[i] === BACKSLASH;
    if (whole && digits && digits < 19 && m < EXACT && scale >= -22 && scale <= 22) {
      this.at = i;
      const x = scale < 0 ? m / TENS[-scale]! : m * TENS[scale]!;
      return negative ? -x : x;
    }
    const end = this.end();
    this.at = end;
    return end > from ? Number(String.fromCharCode(...b.subarray(from, Math.min(end, from + 64)))) : NaN;
  }

  /** The whole number that begins here, NaN where none does; goes over it. */
  integer(): number {
    const { bytes: b } = this;
    let i = this.at;
    const negative = b[i] === 45;
    if (negative || b[i] === 43) i++;
    const first = i;
    let n = 0;
    for (; digit(b[i]); i++) n = n * 10 + b[i]! - 48;
    if (i === first) return NaN;
    this.at = i;
    return negative ? -n : n;
  }

  /** Whether a slash is here; goes over it. */
  slash(): boolean {
    const is = this.bytes[this.at] === 47;
    if (is) this.at++;
    return is;
  }

  /** Goes over what is left of this word; how much that was. */
  restOfWord(): number {
    const from = this.at;
    this.at = this.end();
    return this.at - from;
  }

  /** A coordinate; NaN where it is no usable number. */
  coordinate(): number {
    const x = this.word() ? this.number() : NaN;
    // + 0 turns −0 into 0, which is the same place.
    return Math.abs(x) <= LARGEST_COORDINATE ? x + 0 : NaN;
  }

  /** The number of the line that a byte is in, from 1. */
  line(at = this.at): number {
    let n = 1;
    for (let i = 0; i < at && i < this.bytes.length; i++) {
      const c = this.bytes[i];
      if (c === NEWLINE || (c === RETURN && this.bytes[i + 1] !== NEWLINE)) n++;
    }
    return n;
  }
}

const digit = (c: number | undefined): boolean => c !== undefined && c >= 48 && c <= 57;
const ends = (c: number): boolean => c <= SPACE && (c === SPACE || (c >= TAB && c <= RETURN));
