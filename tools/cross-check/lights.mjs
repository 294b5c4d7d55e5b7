// lights.mjs - pins that are watched for what they light, as bench/chipsim/lights.c has them.
const LATCH = 280_000, STEADY = 20_000_000, BETWEEN = 550; // nanoseconds

export class Light {
  constructor() {
    Object.assign(this, { high: false, since: 0, rose: 0, lit: 0, period: 0 });
    Object.assign(this, { bits: [], shown: [], frames: 0, zero: [], one: [], rest: [] });
  }

  set(now, high) {
    const lasted = now - this.since;
    if (high === this.high) return;
    if (!high) {
      const one = lasted >= BETWEEN;
      widen(one ? this.one : this.zero, lasted);
      this.bits.push(one);
      this.lit = lasted;
    } else {
      if (lasted < LATCH && this.bits.length > 0) widen(this.rest, lasted);
      this.latch(lasted);
      this.period = now - this.rose;
      this.rose = now;
    }
    this.high = high;
    this.since = now;
  }

  // After a rest that is long enough the lamps show what has come.
  latch(low) {
    if (low < LATCH) return;
    if (this.bits.length > 0) {
      this.shown = bytesOf(this.bits);
      this.frames++;
    }
    this.bits = [];
  }

  // Thousandths of the time that it is high.
  share(now) {
    const steady = now - this.since >= STEADY || this.period === 0 || this.period >= STEADY;
    return steady ? 1000 * this.high : Math.round(1000 * this.lit / this.period);
  }

  strip(now) {
    if (!this.high) this.latch(now - this.since);
    const ranges = [this.zero, this.one, this.rest].flatMap(([least = 0, most = 0]) => [least, most]);
    return `${this.frames} ${ranges.map(Math.round).join(' ')} ${Buffer.from(this.shown).toString('hex')}`;
  }
}

function widen(range, value) {
  range[0] = Math.min(range[0] ?? value, value);
  range[1] = Math.max(range[1] ?? value, value);
}

function bytesOf(bits) {
  const bytes = [];
  for (let at = 0; at + 8 <= bits.length; at += 8) {
    bytes.push(bits.slice(at, at + 8).reduce((byte, bit) => byte << 1 | bit, 0));
  }
  return bytes;
}
